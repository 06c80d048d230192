// Puts the command line and all it needs into few files, which start in a fraction of the time that hundreds take.
import { build } from 'esbuild'
import { rmSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const outdir = `${root}dist/command`
rmSync(outdir, { recursive: true, force: true })
await build({
  entryPoints: [`${root}src/cli/main.ts`, `${root}src/cli/io.ts`],
  outdir,
  bundle: true,
  splitting: true,
  format: 'esm',
  platform: 'node',
  target: 'node20',
  // What brings files of its own, or is installed only where it is wanted.
  external: ['playwright-core', '@resvg/resvg-js', '@cwasm/webp', '@expo-google-fonts/*'],
  // Packages in the older format ask for Node's own modules by name, and for their own place.
  banner: {
    js: [
      "import { createRequire as __createRequire } from 'node:module'",
      "import { fileURLToPath as __toPath } from 'node:url'",
      'const require = __createRequire(import.meta.url)',
      'const __filename = __toPath(import.meta.url)',
      "const __dirname = __toPath(new URL('.', import.meta.url))",
    ].join(';'),
  },
  legalComments: 'none',
  logLevel: 'warning',
})

// Puts the observer into one script that runs in any page: dist/observe/script.js.
import { build } from 'esbuild'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
await build({
  entryPoints: [`${root}src/observe/global.ts`],
  outfile: `${root}dist/observe/script.js`,
  bundle: true,
  minify: true,
  format: 'iife',
  target: 'es2022',
  legalComments: 'none',
  logLevel: 'warning',
})

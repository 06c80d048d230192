// Bundles the tests for a run of all: each worker then loads a few scripts instead of transforming a thousand modules,
// and what is tested is the package as it was built. One file alone runs from its source: `test/alone.mocharc.json`.
import { build } from 'esbuild'
import { readFileSync, rmSync } from 'node:fs'
import { dirname, extname, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { globSync } from 'tinyglobby'

const OUT = '.cache/tests'

/** What is built already is loaded from its place, so that there is one copy of it. */
const builtStays = {
  name: 'built-stays',
  setup: ({ onResolve }) => {
    onResolve({ filter: /^\.\.?\/(.*\/)?dist\// }, ({ importer, path }) => ({
      path: pathToFileURL(resolve(dirname(importer), path)).href,
      external: true,
    }))
  },
}

/** A module goes on knowing its own address. */
const keepsAddress = {
  name: 'keeps-address',
  setup: ({ onLoad }) => {
    onLoad({ filter: /\.[jt]s$/ }, ({ path }) => ({
      // On the line of what follows, so that lines stay the same.
      contents: `const __address = ${JSON.stringify(pathToFileURL(path).href)};${readFileSync(path, 'utf8')}`,
      loader: extname(path).slice(1),
    }))
  },
}

process.chdir(resolve(import.meta.dirname, '..'))
rmSync(OUT, { recursive: true, force: true })
await build({
  entryPoints: globSync(['test/**/*.test.ts', 'test/support/temporary-folder.ts'], { expandDirectories: false }),
  ...{ outbase: '.', outdir: OUT, bundle: true, splitting: true, packages: 'external', logLevel: 'warning' },
  ...{ format: 'esm', platform: 'node', target: 'node20', sourcemap: 'linked', sourcesContent: false },
  // Without the paths of `tsconfig.json`: `wembra` is the package.
  tsconfigRaw: { compilerOptions: { target: 'ES2023', verbatimModuleSyntax: true } },
  define: { 'import.meta.url': '__address' },
  plugins: [builtStays, keepsAddress],
})

// What the library weighs in a bundle, minified and gzipped, by what of it is used; and what of it weighs most.
import { build } from 'esbuild'
import { gzipSync } from 'node:zlib'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))

export const USES = {
  'read and resolve': "import { readSite, resolveSite } from './dist/index.js'; globalThis.w = [readSite, resolveSite]",
  'with measure and inspect':
    "import { readSite, resolveSite, measurePage, inspect } from './dist/index.js'; globalThis.w = [readSite, resolveSite, measurePage, inspect]",
  'all of wembra': "import * as all from './dist/index.js'; globalThis.w = all",
  'wembra/report': "import * as all from './dist/draw/index.js'; globalThis.w = all",
  'wembra/reality': "import * as all from './dist/reality/index.js'; globalThis.w = all",
}

/** Bytes of a bundle, minified and gzipped, with the packages in it, heaviest first (minified bytes). */
export async function sizeOf(contents) {
  const { outputFiles, metafile } = await build({
    stdin: { contents, resolveDir: root },
    ...{ bundle: true, minify: true, format: 'esm', platform: 'browser', write: false, metafile: true },
    ...{ legalComments: 'none', logLevel: 'error', treeShaking: true },
  })
  const packages = new Map()
  for (const { inputs } of Object.values(metafile.outputs))
    for (const [file, { bytesInOutput }] of Object.entries(inputs)) {
      const name = /node_modules\/((?:@[^/]+\/)?[^/]+)/.exec(file)?.[1] ?? 'wembra'
      packages.set(name, (packages.get(name) ?? 0) + bytesInOutput)
    }
  return {
    bytes: gzipSync(outputFiles[0].contents, { level: 9 }).length,
    packages: [...packages].sort((a, b) => b[1] - a[1]),
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url))
  for (const [use, contents] of Object.entries(USES)) {
    const { bytes, packages } = await sizeOf(contents)
    const most = packages.slice(0, 12).map(([name, size]) => `${name} ${Math.round(size / 1024)}`)
    console.log(`${use}: ${Math.round(bytes / 1024)} KB gzipped (minified KB: ${most.join(', ')})`)
  }

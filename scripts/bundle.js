// Puts together what is packed: the command line in one file, `wembra/node` and
// `wembra/fonts` with the packages that nothing else needs, what is loaded with the first font or picture, and the type
// of drawings.
import { build } from 'esbuild'
import { copyFileSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, relative, resolve, sep } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const require = createRequire(import.meta.url)
const { dependencies } = JSON.parse(readFileSync(`${root}package.json`, 'utf8'))

/** What brings files of its own, or is installed only where it is wanted. */
const NATIVE = ['playwright-core', '@resvg/resvg-js', '@cwasm/webp']
const COMMON = {
  ...{ bundle: true, format: 'esm', target: 'node20', legalComments: 'none', logLevel: 'warning' },
  // Names stay, so that a stack trace says something.
  ...{ minifyWhitespace: true, minifySyntax: true },
}

/** Packages in the older format ask for Node's own modules by name, and for their own place. */
const OLD_FORMAT = {
  js: [
    "import { createRequire as __createRequire } from 'node:module'",
    "import { fileURLToPath as __toPath } from 'node:url'",
    'const require = __createRequire(import.meta.url)',
    'const __filename = __toPath(import.meta.url)',
    "const __dirname = __toPath(new URL('.', import.meta.url))",
  ].join(';'),
}

/** Leaves the core where it is, so that its errors are the same classes for whoever imports both. */
const coreStaysApart = {
  name: 'core-stays-apart',
  setup: ({ onResolve }) => {
    onResolve({ filter: /^\.\.?\// }, ({ importer, path }) => {
      if (!importer.startsWith(`${root}src${sep}`)) return undefined
      const target = relative(`${root}src`, resolve(dirname(importer), path))
      return /^(node|fonts)[/\\]/.test(target)
        ? undefined
        : { path: `../${target.split(sep).join('/')}`, external: true }
    })
  },
}

/** Tables that the font library unpacks when it is loaded, though few fonts need them: unpacked when one does. */
const UNPACKED_ON_DEMAND = {
  'brotli/decompress.js':
    "module.exports = (...packed) => require('brotli/dec/decode.js').BrotliDecompressBuffer(...packed)",
  'unicode-trie': `
    const Trie = require('unicode-trie/index.js')
    module.exports = class {
      constructor(packed) { this.packed = packed }
      get(point) { return (this.trie ??= new Trie(this.packed)).get(point) }
    }`,
}
/** Another inflate: the font library's own never ends on a truncated file. */
const inflating = (inflate) => `
  const inflate = ${inflate}
  module.exports = (packed, out) => {
    const bytes = inflate(packed, out)
    if (bytes.buffer !== out.buffer) out.set(bytes)
    return bytes.length < out.length ? out.slice(0, bytes.length) : out
  }`
const BROWSER_REPLACEMENTS = {
  ...UNPACKED_ON_DEMAND,
  'tiny-inflate': inflating("(packed, out) => require('inflating').inflateSync(packed, { out })"),
  // A module of its own, so that only this function is bundled: `require` takes a whole package.
  inflating: "export { inflateSync } from 'fflate'",
}
/** Node has its own decoders. */
const NODE_REPLACEMENTS = {
  ...UNPACKED_ON_DEMAND,
  'brotli/decompress.js': "module.exports = (packed) => require('node:zlib').brotliDecompressSync(packed)",
  'tiny-inflate': inflating(
    "(packed, out) => require('node:zlib').inflateRawSync(packed, { maxOutputLength: out.length })",
  ),
}
/** Bundles other sources in place of some modules, given by name. */
const replaceModules = (modules) => ({
  name: 'replaced',
  setup: ({ onLoad, onResolve }) => {
    onResolve({ filter: /^[a-z]/ }, ({ path }) =>
      Object.hasOwn(modules, path) ? { path, namespace: 'replaced' } : undefined,
    )
    onLoad({ filter: /./, namespace: 'replaced' }, ({ path }) => ({ contents: modules[path], resolveDir: root }))
  },
})

for (const folder of ['command', 'packaged', 'vendor', 'type'])
  rmSync(`${root}dist/${folder}`, { recursive: true, force: true })

// Loaded with the first font or picture of a kind: in the older format, which can be loaded at any moment.
for (const name of ['fontkit', 'fast-png', 'jpeg-js'])
  await build({
    ...COMMON,
    stdin: { contents: `module.exports = require('${name}')`, resolveDir: root },
    outfile: `${root}dist/vendor/${name}.cjs`,
    format: 'cjs',
    platform: 'node',
    minify: true,
    plugins: [replaceModules(NODE_REPLACEMENTS)],
  })

// Its own entry for Node is in a format that bundlers do not follow.
await build({
  ...COMMON,
  entryPoints: { 'jsonc-parser': 'jsonc-parser' },
  outdir: `${root}dist/vendor`,
  platform: 'browser',
  mainFields: ['module'],
  minify: true,
})

// Of the schema library only what is used, in both of its forms.
await build({
  ...COMMON,
  entryPoints: Object.fromEntries(['zod', 'zod-mini', 'json-schema'].map((name) => [name, `${root}types/${name}.ts`])),
  outdir: `${root}dist/vendor`,
  platform: 'browser',
  minify: true,
})

/** What is loaded by name with the first font or picture is in the file too; it is run when it is asked for. */
const vendorIsInside = {
  name: 'vendor-is-inside',
  setup: ({ onLoad }) => {
    onLoad({ filter: /[/\\]src[/\\]node[/\\]\w+\.ts$/ }, ({ path }) => ({
      contents: readFileSync(path, 'utf8').replace(/^const require = createRequire.*$/m, ''),
      loader: 'ts',
    }))
  },
}

const {
  outputFiles: [command],
} = await build({
  ...COMMON,
  write: false,
  stdin: {
    contents: ["export { main } from './src/cli/main.js'", "export { processIo } from './src/cli/io.js'"].join('\n'),
    resolveDir: root,
    sourcefile: 'wembra',
  },
  outdir: `${root}dist/command`,
  entryNames: 'wembra',
  outExtension: { '.js': '.cjs' },
  format: 'cjs',
  platform: 'node',
  external: NATIVE,
  // What is asked for by name later comes in the older format too.
  supported: { 'dynamic-import': false },
  define: { 'import.meta.url': '__address' },
  banner: { js: "const __address = require('node:url').pathToFileURL(__filename).href" },
  plugins: [vendorIsInside],
  logOverride: { 'duplicate-object-key': 'silent' },
})
// As ASCII it takes half the memory and is read faster; what is left of others stands in regular expressions.
const toAscii = (text) => text.replace(/[^\0-\x7f]/g, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`)
mkdirSync(dirname(command.path), { recursive: true })
writeFileSync(command.path, toAscii(command.text))
await build({
  ...COMMON,
  entryPoints: { node: `${root}src/node/index.ts` },
  outdir: `${root}dist/packaged`,
  splitting: true,
  platform: 'node',
  external: [...NATIVE, ...Object.keys(dependencies)],
  plugins: [coreStaysApart],
  banner: OLD_FORMAT,
})
await build({
  ...COMMON,
  entryPoints: { fonts: `${root}src/fonts/index.ts` },
  outdir: `${root}dist/packaged`,
  platform: 'browser',
  target: 'es2022',
  plugins: [coreStaysApart, replaceModules(BROWSER_REPLACEMENTS)],
})
const TYPE = { 400: '400Regular', 600: '600SemiBold', 700: '700Bold' }
mkdirSync(`${root}dist/type`, { recursive: true })
for (const [weight, name] of Object.entries(TYPE))
  copyFileSync(
    require.resolve(`@expo-google-fonts/source-sans-3/${name}/SourceSans3_${name}.ttf`),
    `${root}dist/type/${weight}.ttf`,
  )

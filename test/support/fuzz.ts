import fc from 'fast-check'
import { readFileSync, readdirSync } from 'node:fs'
import { gunzipSync } from 'node:zlib'
import {
  aboutPage,
  inspect,
  measurePage,
  memoryFiles,
  packTemplates,
  parseSelector,
  readPack,
  readSnapshot,
  readSite,
  resolveSite,
  rewriteSite,
  takeSnapshot,
  diffSnapshots,
  unpackInto,
  WembraError,
  type Json,
  type Patch,
  type ResolvedSite,
} from 'wembra'
import { fontMeasurer } from 'wembra/fonts'
import {
  completionsAt,
  hoverAt,
  markFindings,
  markProblems,
  referencesAt,
  renamableAt,
  renameAt,
  SiteProject,
  symbolsIn,
} from 'wembra/language'
import { observeMarkup } from 'wembra/node'
import { findDrift, importSite, readMapping, readObservation } from 'wembra/reality'
import { drawWireframe, renderHtml } from 'wembra/report'
import { brokenBytes, hostile, variantOf, variantOfSite } from './mutate.js'
import { NOW } from './site.js'
import { fetched } from './servers.js'

/** What an editor asks about a text that is being written, at some of its places. */
function takeWritten(text: string): void {
  let written = SITES[2] ?? ''
  const files = { ...memoryFiles({}), read: (path: string) => (path === 'fuzz.site.yaml' ? written : undefined) }
  const project = new SiteProject('fuzz.site.yaml', files)
  if (project.site) inspect(project.site, { now: NOW })
  written = text
  project.change(['fuzz.site.yaml'])
  const lines = project.lines('fuzz.site.yaml')
  for (let n = 0; n < 5; n++) {
    const place = lines.place(Math.floor((text.length * n) / 4))
    hoverAt(project, 'fuzz.site.yaml', place)
    completionsAt(project, 'fuzz.site.yaml', place)
    referencesAt(project, 'fuzz.site.yaml', place)
    if (renamableAt(project, 'fuzz.site.yaml', place)) renameAt(project, 'fuzz.site.yaml', place, `another-${n}`)
  }
  symbolsIn(project, 'fuzz.site.yaml')
  const marks = project.site ? markFindings(project, inspect(project.site, { now: NOW })) : []
  for (const { span } of [...marks, ...markProblems(project, project.problems)])
    if (!(span.from.line >= 1)) throw new TypeError('a mark without its place')
}

/** An input of one kind that may be anything, and what takes it in; it may throw nothing but errors of ours. */
export interface Target<T = unknown> {
  readonly name: string
  readonly input: fc.Arbitrary<T>
  readonly take: (input: T) => void
  /** Inputs with which nothing is wrong, that the others are made of. */
  readonly right: readonly T[]
}

const HEAD = 'wembra: 1\nsite: { name: Tarn }\n'
const SITES = [
  `${HEAD}theme: {}\npages: { a: { path: /a, title: A } }\n`,
  `${HEAD}surrounds: { top: { as: header, height: 96px, rows: [ { id: bar, padding: 8px, items: [ { menu: m }, { logo: l } ] } ] } }
menus: { m: [ { label: A, page: a }, { label: Out, url: "https://tarn.example/" } ] }
assets: { l: { width: 90, height: 30, file: l.svg } }
theme: { layout: { header: { use: top, position: fixed, clearance: auto }, width: { max: 900px }, spacing: { before: 20px, after: 10px } } }
pages: { a: { path: /a, title: A, body: [ { section: s, band: full, padding: 5% 10px, columns: [ { share: 2, items: [ { heading: 1, text: A } ] }, { items: [ { text: words, width: 50% } ] } ] } ] } }
`,
  `${HEAD}viewports: { wide: { width: 1200, height: 700 }, small: { width: 400, height: 700 } }
kinds: { event: { layout: { title: hidden } } }
templates: { t: { for: [ event ], layout: { spacing: { wide: 10px, else: 0 }, lock: [ spacing ] }, arrange: [ title, { gap: 20px }, content ] }, u: { base: t } }
assign: [ { template: t, where: { kind: event, tag: old } }, { layout: { footer: absent }, where: [ { path: "/a*" }, { under: a } ] } ]
builders: { b: { layout: { header: absent } } }
theme: { template: u }
pages: { a: { path: /a, title: A, kind: event, tags: [ old ], built: { with: b } }, b: { path: /b, title: B, parent: a, status: draft, access: members } }
`,
  `${HEAD}tokens: tokens.json
locators: { header: "#top" }
styles: [ { css: "#top { height: 80px; position: fixed } @media (max-width: 600px) { #top { display: none } }" } ]
inserts: [ { id: n, at: after-header, where: {}, items: [ { text: Now } ] } ]
policies: [ { name: P, where: { kind: page }, require: { title: shown, header.position: [ flow, sticky ] } } ]
allow: [ { rule: title-missing, reason: so } ]
severity: { year-stale: none }
theme: { layout: { width: { gutter: "{space.edge}" } } }
pages: { a: { path: /a, title: A } }
`,
]
const CSS = [
  '#top { height: 80px; position: fixed !important; background: rgb(0 0 0 / 50%) }',
  '@media (min-width: 600px) and (max-width: 60rem) { main > .title { display: none } }',
  '@layer a, b; @layer b { #top { margin: calc(1px + 2vw) auto } } @supports (display: grid) { .x { width: min(10px, 5%) } }',
]
const SELECTORS = ['page=a', 'kind=event', 'tag=old, under=a', 'path=/a*', 'template=none']
const MARKUP = [
  '<!doctype html><title>Tarn</title><header><nav><a href=/>Home</a></nav></header><main><h1>Tarn</h1><p>Words</p></main><footer>x</footer>',
  '<div id=top class="bar sticky"><img src=a.png alt=""></div><article><h2>B</h2><aside>c</aside></article>',
]
const OBSERVATIONS = gunzipSync(readFileSync('test/reality/recorded/quillmere.ndjson.gz'))
  .toString()
  .split('\n')
  .slice(0, 2)
const MAPPINGS = [
  `mapping: 1
give: { theme: {} }
records:
  - { from: { file: "*.json", at: "$.settings[*]" }, where: { key: name }, to: /site/name, value: value }
  - { to: "/pages/{id}", from: { at: "$.pages[*]" }, fields: { path: path, title: title, tags: { at: tags, split: "|" }, "...": { at: look, parse: json } } }
`,
]
const EXPORTS = [
  '{"settings":[{"key":"name","value":"Tarn"}],"pages":[{"id":"a","path":"/a","title":"A","tags":"x|y","look":"{\\"spacing\\":0}"}]}',
]
const TOKENS = '{ "space": { "edge": { "$type": "dimension", "$value": "24px" } } }'

/** The whole way of a site: read, resolved, measured, inspected, drawn. Errors of reading have their places. */
function takeSite(text: string): ResolvedSite | undefined {
  const files = memoryFiles(
    { 'l.svg': '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="3"/>', 'tokens.json': TOKENS },
    fontMeasurer,
  )
  const resolved = resolveSite(readSite(text, { file: 'fuzz.site.yaml', files }))
  inspect(resolved, { now: NOW, fixes: 'first', max: 2 })
  for (const page of resolved.pages()) {
    if (page.dormant) continue
    const measures = resolved.site.viewports.map(({ name }) => measurePage(page, name))
    for (const { boxes } of measures)
      for (const { id, x, y, width, height } of boxes)
        if (![x, y, width, height].every(Number.isFinite)) throw new Error(`${page.id}: the box ${id} is not finite`)
    aboutPage(resolved, page.id)
    drawWireframe(measures)
    if (measures[0]) renderHtml(measures[0])
  }
  return resolved
}

let tarn: ResolvedSite | undefined
const site = (): ResolvedSite => (tarn ??= resolveSite(readSite(SITES[1] ?? '')))

const pointer = fc
  .array(
    fc.oneof(fc.constantFrom('pages', 'a', 'theme', 'layout', 'header', 'body', '0', '-', 'rows', 'items'), hostile),
    {
      maxLength: 6,
    },
  )
  .map((keys) => keys.map((key) => `/${key}`).join(''))
const operation = fc.record(
  {
    op: fc.constantFrom('add', 'remove', 'replace', 'move', 'copy', 'test', 'put'),
    path: pointer,
    from: pointer,
    value: fc.jsonValue({ maxDepth: 2 }),
  },
  { requiredKeys: ['op', 'path'] },
)

const PATCHES: readonly Json[] = [
  [{ op: 'add', path: '/pages/a/layout', value: { title: 'hidden' } }],
  [
    { op: 'replace', path: '/surrounds/top/height', value: '80px' },
    { op: 'remove', path: '/pages/a/body/0' },
  ],
]
/** Patches of operations that may be anything. */
const changedPatches = (right: readonly Json[]): fc.Arbitrary<Json> =>
  fc.oneof(
    fc.constantFrom(...right),
    fc.array(operation, { minLength: 1, maxLength: 3 }) as fc.Arbitrary<unknown>,
  ) as fc.Arbitrary<Json>

const quillmere = 'examples/quillmere/'
const fonts = [new Uint8Array(readFileSync(`${quillmere}fonts/text.ttf`))]
const pictures = readdirSync(`${quillmere}pictures`).map(
  (name) => new Uint8Array(readFileSync(`${quillmere}pictures/${name}`)),
)

const target = <T>(
  name: string,
  right: readonly T[],
  input: (right: readonly T[]) => fc.Arbitrary<T>,
  take: (input: T) => void,
): Target => ({ name, right, input: input(right), take }) as unknown as Target

/** Everything that takes in what others wrote. */
export const TARGETS: readonly Target[] = [
  target('site', SITES, variantOfSite, (text) => void takeSite(text)),
  target(
    'style sheet',
    CSS,
    variantOf,
    (css) => void takeSite(`${SITES[1]}styles: [ { css: ${JSON.stringify(css)} } ]\n`),
  ),
  target('editor', SITES, variantOfSite, takeWritten),
  target('selector', SELECTORS, variantOf, (text) => void parseSelector(text)),
  target('patch', PATCHES, changedPatches, (patch) => {
    inspect(site().with(patch as unknown as Patch), { now: NOW })
    rewriteSite(site().site, patch as unknown as Patch)
  }),
  target('pack', [JSON.stringify(packTemplates(readSite(SITES[2] ?? ''), ['t']))], variantOf, (text) => {
    unpackInto(site(), readPack(text, 'fuzz.pack.json'))
  }),
  target('snapshot', [JSON.stringify(takeSnapshot(site(), { now: NOW }))], variantOf, (text) => {
    diffSnapshots(readSnapshot(text, 'fuzz.snapshot.json'), takeSnapshot(site(), { now: NOW }))
  }),
  target('observation', OBSERVATIONS, variantOf, (line) => {
    findDrift(site(), [readObservation(line, 'fuzz.ndjson')], { now: NOW })
  }),
  target('mapping', MAPPINGS, variantOf, (text) => takeExport(text, EXPORTS[0] ?? '')),
  target('export', EXPORTS, variantOf, (text) => takeExport(MAPPINGS[0] ?? '', text)),
  target('page', MARKUP, variantOf, (text) => void observeMarkup(fetched(text), {})),
  target('font', fonts, brokenBytes, (bytes) => {
    const files = memoryFiles({ 'f.ttf': bytes }, fontMeasurer)
    measurePage(resolveSite(readSite(`${SITES[0]}typography: { file: f.ttf }\n`, { files })).page('a'), 'desk')
  }),
  target('picture', pictures, brokenBytes, (bytes) => {
    const read = readSite(SITES[1] ?? '', { files: memoryFiles({ 'l.svg': bytes }) })
    measurePage(resolveSite(read).page('a'), 'desk')
  }),
]

function takeExport(mapping: string, text: string): void {
  let value: Json
  try {
    value = JSON.parse(text) as Json
  } catch {
    return // a file that is no JSON does not get this far
  }
  importSite(readMapping(mapping, 'fuzz.map.yaml'), [{ name: 'a.json', value }], 'fuzz.map.yaml')
}

/** Where inputs are kept that broke something once. */
export const CASES = 'test/fuzz/cases'

/** How long an answer may take for an input of up to 100 KB; ms of the processor, whatever else the machine does. */
export const SLOWEST = 2000

/** Takes an input in; what is thrown is ours, and with its place where it is about a text. Returns the ms of the processor that it took. */
export function takeIn({ take }: Target, input: unknown): number {
  const start = process.cpuUsage()
  try {
    take(input)
  } catch (error) {
    if (!(error instanceof WembraError)) throw error
    if (error.message.trim() === '') throw new Error('an error without words', { cause: error })
    if ('problems' in error)
      for (const { line, column } of error.problems as readonly { line: number; column: number }[])
        if (!(line >= 1 && column >= 1)) throw new Error('a problem without a place', { cause: error })
  }
  if (Object.keys(Object.prototype).length > 0) throw new Error('what every object has was added to')
  const { user, system } = process.cpuUsage(start)
  return (user + system) / 1000
}

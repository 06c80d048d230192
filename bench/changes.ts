// What changes in memory cost, findings included, and edits written into files: as ratios of one run.
import {
  diffSites,
  inspect,
  memoryFiles,
  readSite,
  resolveSite,
  rewriteSite,
  type Patch,
  type ResolvedSite,
} from 'wembra'
import { makeSite } from './make-site.js'

const pages = Number(process.argv[2] ?? 10_000)
const EDITS = Number(process.argv[3] ?? 20_000)
const timed = <T>(work: () => T): readonly [ms: number, result: T] => {
  const start = performance.now()
  const result = work()
  return [performance.now() - start, result]
}
const ms = (n: number): string => (n < 100 ? n.toFixed(1) : n.toFixed(0))
const memory = (): number => {
  globalThis.gc?.()
  return process.memoryUsage().heapUsed / 1e6
}

const json = makeSite(pages)
const [parse] = timed(() => JSON.parse(json) as unknown)
const site = resolveSite(readSite(json, { file: 'bench.site.json' }))
const [check] = timed(() => inspect(site))
console.log(`${pages} pages: JSON.parse ${ms(parse)} ms, every finding ${ms(check)} ms`)

const setting = (page: number, value: string): Patch => [
  { op: 'add', path: `/pages/p${page}/layout`, value: { spacing: { before: value } } },
]
const whatIf = (name: string, patch: Patch): void => {
  // The first warms up what the others use.
  const runs = [0, 1, 2, 3, 4].map(() => timed(() => diffSites(site, site.with(patch)))[0])
  const [took = 0] = runs
    .slice(1)
    .sort((a, b) => a - b)
    .slice(1)
  console.log(`what if, with findings, ${name}: ${ms(took)} ms, ${(took / check).toFixed(4)} of every finding`)
}
whatIf('one page', setting(77, '71px'))
const counts = new Map<string, number>()
for (const page of site.pages()) {
  const id = page.choice.template?.id
  if (id !== undefined) counts.set(id, (counts.get(id) ?? 0) + 1)
}
const [template = 't0', reached] = [...counts].sort((a, b) => Math.abs(a[1] - 1000) - Math.abs(b[1] - 1000))[0] ?? []
whatIf(`a template of ${reached} pages`, [
  { op: 'add', path: `/templates/${template}/layout/spacing`, value: { before: '71px' } },
])

let current: ResolvedSite = site
const edit = (n: number): void => {
  current = current.with(setting(n % pages, `${n % 90}px`))
  current
    .page(`p${n % pages}`)
    .at('phone')
    .value('spacing.before')
}
const part = EDITS / 10
const took: number[] = []
const held: number[] = [memory()]
for (let tenth = 0; tenth < 10; tenth++) {
  took.push(
    timed(() => {
      for (let n = 0; n < part; n++) edit(tenth * part + n)
    })[0] / part,
  )
  held.push(memory())
}
console.log(
  `${EDITS} edits in a row: ${took.map((n) => n.toFixed(2)).join(', ')} ms each by tenths; ${held.map((n) => n.toFixed(0)).join(', ')} MB held`,
)

const OPERATIONS = 200
const files = Object.fromEntries(
  Array.from({ length: 10 }, (_, part) => [
    `part-${part}.yaml`,
    `pages:\n${Array.from({ length: 100 }, (_, n) => `  p${part * 100 + n}:\n    path: /p${part * 100 + n}\n    title: Page ${n} # kept\n    layout: { spacing: 10px }\n`).join('')}`,
  ]),
)
const many = readSite('wembra: 1\nsite: { name: Many }\ninclude: [ part-*.yaml ]\ntheme: {}\n', {
  file: 'many.site.yaml',
  files: memoryFiles(files),
})
const patch: Patch = Array.from({ length: OPERATIONS }, (_, n) => ({
  op: 'replace' as const,
  path: `/pages/p${n * 5}/layout/spacing/before`,
  value: '12px',
}))
const [written] = timed(() => rewriteSite(many, patch))
const [reading] = timed(() =>
  readSite('wembra: 1\nsite: { name: Many }\ninclude: [ part-*.yaml ]\ntheme: {}\n', {
    file: 'many.site.yaml',
    files: memoryFiles(files),
  }),
)
console.log(
  `${OPERATIONS} operations written into the files of 1,000 pages: ${ms(written)} ms, ${(written / reading).toFixed(1)}x reading them`,
)

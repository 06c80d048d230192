// What a what-if costs on 10,000 pages once the site is resolved, as a ratio to resolving it anew.
import { Bench } from 'tinybench'
import { diffFacets, diffSites, readSite, resolveSite, setPath, type ResolvedSite } from 'wembra'
import { makeSite } from './make-site.js'

const pages = Number(process.argv[2] ?? 10_000)
const site = readSite(makeSite(pages), { file: 'bench.site.json' })
const ask = (resolved: ResolvedSite): void => {
  for (const id of resolved.pageIds)
    for (const { name } of site.viewports) resolved.page(id).at(name).value('header.use')
}
const resolved = resolveSite(site)
ask(resolved)

// The template that most pages have.
const uses = new Map<string, number>()
for (const id of resolved.pageIds) {
  const template = resolved.page(id).choice.template?.id ?? ''
  uses.set(template, (uses.get(template) ?? 0) + 1)
}
const [template] = [...uses].reduce((a, b) => (b[1] > a[1] ? b : a))
const path = `templates.${template}.layout.spacing.after`

const bench = new Bench({ iterations: 20, time: 0, warmupIterations: 5, warmupTime: 0 })
let edit = 0
const ofTemplate = (): ResolvedSite => resolved.with(setPath(site, path, `${500 + ++edit}px`))
const ofPage = (): ResolvedSite => resolved.with(setPath(site, 'pages.p20.layout.spacing.before', ++edit))
bench
  .add('resolve', () => ask(resolveSite(site)))
  .add('template, facets', () => void diffFacets(resolved, ofTemplate()))
  .add('template, boxes', () => void diffSites(resolved, ofTemplate(), { findings: false }))
  .add('page, facets', () => void diffFacets(resolved, ofPage()))
  .add('page, boxes', () => void diffSites(resolved, ofPage(), { findings: false }))
await bench.run()
const ms = (name: string): number => {
  const result = bench.tasks.find((task) => task.name === name)?.result
  return result && 'latency' in result ? result.latency.p50 : NaN
}
const changed = diffFacets(resolved, ofTemplate()).reduce((sum, group) => sum + group.pages.length, 0)
console.log(`${pages} pages: resolve all ${ms('resolve').toFixed(1)} ms; what if`)
for (const { name } of bench.tasks.slice(1))
  console.log(`  a ${name}: ${ms(name).toFixed(1)} ms (${(ms(name) / ms('resolve')).toFixed(2)}x)`)
console.log(`the template change reaches ${changed} pages`)

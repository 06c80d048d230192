// What a what-if costs on 10,000 pages once the site is resolved, as a ratio to resolving it anew.
import { Bench } from 'tinybench'
import { diffSites, readSite, resolveSite, setPath, type ResolvedSite } from 'wembra'
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

const bench = new Bench({ iterations: 10, time: 0, warmupIterations: 3, warmupTime: 0 })
let edit = 0
const ofTemplate = (): void => {
  edit += 1
  diffSites(resolved, resolved.with(setPath(site, path, `${500 + edit}px`)), {
    findings: false,
  })
}
const ofPage = (): void => {
  edit += 1
  diffSites(resolved, resolved.with(setPath(site, 'pages.p20.layout.spacing.before', edit)), { findings: false })
}
bench
  .add('resolve', () => ask(resolveSite(site)))
  .add('template', ofTemplate)
  .add('page', ofPage)
await bench.run()
const ms = (name: string): number => {
  const result = bench.tasks.find((task) => task.name === name)?.result
  return result && 'latency' in result ? result.latency.p50 : NaN
}
const changed = diffSites(resolved, resolved.with(setPath(site, path, '1px')), {
  findings: false,
})
const count = changed.groups.reduce((sum, group) => sum + group.pages.length, 0)
console.log(
  `${pages} pages: resolve all ${ms('resolve').toFixed(1)} ms; what if a template said otherwise (${count} pages change) ${ms('template').toFixed(1)} ms ` +
    `(${(ms('template') / ms('resolve')).toFixed(2)}x), what if a page did ${ms('page').toFixed(1)} ms (${(ms('page') / ms('resolve')).toFixed(2)}x)`,
)

import { Bench } from 'tinybench'
import { readSite, resolveSite, type ResolvedSite } from 'wembra'
import { makeSite } from './make-site.js'

const VIEWPORTS = ['desk', 'tablet', 'phone']

/** Everything a caller can ask of all pages: the effective value of a property of each facet, at every viewport. */
export function askAll(resolved: ResolvedSite): number {
  let asked = 0
  for (const page of resolved.pages())
    for (const viewport of VIEWPORTS) {
      const view = page.at(viewport)
      if (
        view.value('header.use') !== null &&
        view.value('title.presence') !== null &&
        view.value('width.max') !== null
      )
        asked += 1
    }
  return asked
}

for (const pages of (process.argv[2] ?? '1000,10000,100000').split(',').map(Number)) {
  const json = makeSite(pages)
  const site = readSite(json, { file: 'bench.site.json' })
  const bench = new Bench({ iterations: pages >= 100_000 ? 5 : 15, time: 0, warmupIterations: 2, warmupTime: 0 })
  let warm = resolveSite(site)
  let edit = 0
  askAll(warm)
  // What one leaves behind is not cleared away in the time of the next.
  const clean = { beforeEach: () => globalThis.gc?.() }
  bench
    .add('JSON.parse', () => void JSON.parse(json), clean)
    .add('resolve', () => void askAll(resolveSite(site)), clean)
    .add('one edit', () => {
      edit += 1
      warm = warm.with([
        { op: 'add', path: '/pages/p20/layout', value: { title: 'absent', spacing: { before: edit } } },
      ])
      const page = warm.page('p20')
      for (const viewport of VIEWPORTS) page.at(viewport).value('spacing.before')
    })
  await bench.run()
  const ms = (name: string): number => {
    const result = bench.tasks.find((task) => task.name === name)?.result
    return result && 'latency' in result ? result.latency.p50 : NaN
  }
  const [parse, resolve, one] = ['JSON.parse', 'resolve', 'one edit'].map(ms) as [number, number, number]
  console.log(
    `${String(pages).padStart(7)} pages, ${(json.length / 1e6).toFixed(1)} MB: JSON.parse ${parse.toFixed(1)} ms, ` +
      `resolve all at 3 viewports ${resolve.toFixed(1)} ms (${(resolve / parse).toFixed(2)}x), ` +
      `one edit ${one.toFixed(2)} ms (${(one / parse).toFixed(4)}x)`,
  )
}

import { diffSites, inspect, readSite, resolveSite } from 'wembra'
import { makeSite } from '../bench/make-site.js'
const site = resolveSite(readSite(makeSite(10000), { file: 'b.site.json' }))
inspect(site)
const counts = new Map<string, number>()
for (const page of site.pages()) { const id = page.choice.template?.id; if (id !== undefined) counts.set(id, (counts.get(id) ?? 0) + 1) }
const [template = 't0', n] = [...counts].sort((a, b) => Math.abs(a[1] - 1000) - Math.abs(b[1] - 1000))[0] ?? []
console.log(template, n)
process.stdout.write(`heap ${(globalThis.gc?.(), process.memoryUsage().heapUsed / 1e6).toFixed(0)}\n`)
const { Session } = await import('node:inspector/promises')
const s = new Session(); s.connect(); await s.post('Profiler.enable'); await s.post('Profiler.setSamplingInterval', { interval: 300 }); 
for (let i = 0; i < 6; i++) { const t = performance.now(); diffSites(site, site.with([{ op: 'add', path: `/templates/${template}/layout/spacing`, value: { before: '71px' } }])); console.log((performance.now() - t).toFixed(0)) }

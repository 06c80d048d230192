// What looking at real pages costs: against the stand-in host, at three viewports.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { resolveSite } from 'wembra'
import { draftSite, findDrift, readObservation } from 'wembra/reality'
import { loadSite } from 'wembra/node'
import { CHANGES } from '../examples/host/src/changes.js'
import { startHost } from '../examples/host/src/server.js'
import { main } from '../dist/cli/main.js'
import { processIo } from '../dist/cli/io.js'

const folder = mkdtempSync(join(tmpdir(), 'wembra-bench-'))
const file = join(folder, 'seen.ndjson')
const timed = <T>(work: () => T): readonly [T, number] => {
  const from = performance.now()
  const result = work()
  return [result, performance.now() - from]
}
process.chdir(new URL('../examples/quillmere', import.meta.url).pathname)
const host = await startHost({ changes: CHANGES.map((_, n) => n + 1) })
const io = { ...processIo(() => ''), out: () => undefined }
const words = ['observe', host.address, '--every-page', '--browser', '--header', 'cookie: member=1']
const from = performance.now()
await main([...words, '--save', file, '--format', 'ndjson'], io)
const observing = performance.now() - from
await host.close()
const text = readFileSync(file, 'utf8').trimEnd()
rmSync(folder, { recursive: true })

const site = resolveSite(loadSite('.'))
const lines = text.split('\n')
const [, parsing] = timed(() => lines.map((line) => JSON.parse(line) as unknown))
const [seen, reading] = timed(() => lines.map((line, n) => readObservation(line, `line ${n + 1}`)))
const [report, explaining] = timed(() => findDrift(site, seen))
const [draft, drafting] = timed(() => draftSite(seen))
const ratio = (ms: number): string =>
  `${Math.round(ms)} ms (${(ms / parsing).toFixed(1)}x JSON.parse of the observations)`
console.log(
  `${lines.length} views of ${report.compared.length} pages observed in ${(observing / 1000).toFixed(1)} s, ${Math.round(observing / lines.length)} ms each`,
)
console.log(`read and checked in ${ratio(reading)}`)
console.log(`compared, and ${report.findings.length} causes found, in ${ratio(explaining)}`)
console.log(`drafted from ${draft.pages} pages in ${ratio(drafting)}`)
process.exit(0)

// Records what the observer sees of the stand-in host: as it is, with all twelve changes, and without a site file.
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { complaints } from '../test/support/command-line.js'
import { draftHost, observeHost, startHost } from '../test/support/host.js'
import { CHANGED, RECORDED, UNKNOWN, asRecorded } from '../test/support/recorded.js'

function keep(file: string, text: string, address: string): void {
  const lines = text.trimEnd().split('\n').sort()
  writeFileSync(file, gzipSync(`${lines.map((line) => asRecorded(line, address)).join('\n')}\n`, { level: 9 }))
  console.log(`${file}: ${lines.length} observations`)
}

for (const [file, changes, more] of [
  [RECORDED, [], []],
  // One viewport does: what was changed shows at all of them.
  [CHANGED, Array.from({ length: 12 }, (_, n) => n + 1), ['--viewport', 'desk']],
] as const) {
  const host = await startHost({ changes })
  const { out, err } = await observeHost(host, ...more, '--format', 'ndjson')
  await host.close()
  if (complaints(err) !== '') throw new Error(err)
  keep(file, out, host.address)
}

const host = await startHost()
const folder = mkdtempSync(join(tmpdir(), 'wembra-record-'))
const { code, err } = await draftHost(host, folder, 'seen.ndjson')
await host.close()
if (code !== 0) throw new Error(err)
keep(UNKNOWN, readFileSync(join(folder, 'seen.ndjson'), 'utf8'), host.address)

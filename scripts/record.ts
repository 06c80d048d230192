// Records what the observer sees of the stand-in host, as it is and with all twelve changes, for the tests of drift.
import { writeFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'
import { observeHost, startHost } from '../test/support/host.js'
import { CHANGED, RECORDED, asRecorded } from '../test/support/recorded.js'

for (const [file, changes, more] of [
  [RECORDED, [], []],
  // One viewport does: what was changed shows at all of them.
  [CHANGED, Array.from({ length: 12 }, (_, n) => n + 1), ['--viewport', 'desk']],
] as const) {
  const host = await startHost({ changes })
  const { out, err } = await observeHost(host, ...more, '--format', 'ndjson')
  await host.close()
  if (err !== '') throw new Error(err)
  const lines = out.trimEnd().split('\n').sort()
  writeFileSync(file, gzipSync(`${lines.map((line) => asRecorded(line, host.address)).join('\n')}\n`, { level: 9 }))
  console.log(`${file}: ${lines.length} observations`)
}

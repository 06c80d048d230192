// How long an editor waits for what is marked after a keystroke, and what many of them hold: `wembra lsp` as an editor runs it.
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Editor } from '../test/support/lsp-client.js'
import { makeSite } from './make-site.js'

const EDITS = Number(process.argv[2] ?? 5000)
const PAGES = Number(process.argv[3] ?? 10_000)

/** Resident memory of a process and of those it started, MB: for a large site it starts one with more room. */
function memory(pid: number | undefined): number {
  const [status, children] = ['status', `task/${pid}/children`].map((name) =>
    readFileSync(`/proc/${pid}/${name}`, 'utf8'),
  )
  const own = Number(/VmRSS:\s+(\d+)/.exec(status ?? '')?.[1] ?? 0) / 1024
  return (children ?? '')
    .split(' ')
    .filter(Boolean)
    .reduce((sum, child) => sum + memory(Number(child)), own)
}

const median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)] ?? 0

async function keystrokes(editor: Editor, file: string, before: string, times: number): Promise<readonly number[]> {
  const took: number[] = []
  let last = before
  for (let n = 0; n < times; n++) {
    // One key more, and the next time one less.
    const next = n % 2 === 0 ? `${before}x` : before
    const version = await editor.edit(file, last, next)
    const start = performance.now()
    await editor.looked(file, version)
    took.push(performance.now() - start)
    last = next
  }
  return took
}

const demo = await Editor.open('quillmere')
const start = performance.now()
await demo.show('pages/visit.yaml')
console.log(`demo site: first marks ${(performance.now() - start).toFixed(0)} ms`)
const few = await keystrokes(demo, 'pages/visit.yaml', 'Plan a visit', 60)
console.log(
  `demo site, a key in a page: ${median(few).toFixed(0)} ms, at most ${Math.max(...few.slice(5)).toFixed(0)} ms`,
)
const held: number[] = [memory(demo.process.pid)]
for (let tenth = 0; tenth < 10; tenth++) {
  await keystrokes(demo, 'pages/visit.yaml', 'Plan a visit', EDITS / 10)
  held.push(memory(demo.process.pid))
}
console.log(`demo site, ${EDITS} edits: ${held.map((mb) => mb.toFixed(0)).join(', ')} MB`)
await demo.close()

const folder = mkdtempSync(join(tmpdir(), 'wembra-bench-editor-'))
writeFileSync(join(folder, 'bench.site.json'), makeSite(PAGES))
const large = await Editor.of(folder)
const began = performance.now()
await large.show('bench.site.json')
console.log(`${PAGES} pages in one file: first marks ${((performance.now() - began) / 1000).toFixed(1)} s`)
const many = await keystrokes(large, 'bench.site.json', 'Page number 77 of the bench site', 20)
console.log(
  `${PAGES} pages, a key in a page: ${median(many).toFixed(0)} ms, at most ${Math.max(...many.slice(3)).toFixed(0)} ms`,
)
// Each key in another page: what is kept of each must not be the whole file as it was then.
const before = memory(large.process.pid)
for (let n = 0; n < 60; n++) await large.type('bench.site.json', `Page number ${100 + n} of`, `Page no ${100 + n} of`)
console.log(
  `${PAGES} pages, a key in each of 60 pages: ${before.toFixed(0)} MB, then ${memory(large.process.pid).toFixed(0)} MB`,
)
await large.close()

// The main job on the demo data: layout conflicts on Quillmere, what one page gets, then the workbench.
// With --once it does the same without staying.
import { readFileSync } from 'node:fs'
import { processIo } from '../dist/cli/io.js'
import { main } from '../dist/cli/main.js'
import { buildWorkbench, serveWorkbench } from './workbench.js'

const site = 'examples/quillmere/quillmere.site.yaml'
const io = processIo(() => readFileSync(0, 'utf8'))
const run = async (...args) => {
  console.log(`\n$ npx wembra ${args.join(' ')}\n`)
  return main(args, io)
}

await run('check', site)
const code = await run('show', 'lecture-dust', site)
await run('why', 'lecture-dust', 'header.position', site)
await buildWorkbench()
const { address, close } = await serveWorkbench()
const response = await fetch(address)
console.log(`\nThe workbench is at ${address} (it answered ${response.status})`)
if (process.argv.includes('--once')) {
  await close()
  process.exit(code === 0 && response.ok ? 0 : 1)
}
console.log('Ctrl-C ends it.')

// One current picture of each main output in docs/screenshots, made from the demo data.
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from 'playwright-core'
import pc from 'picocolors'
import { hostAnsi } from './terminal-picture.js'
import { CHROMIUM, CHROMIUM_ARGS, ensureChromium } from './chromium.js'
import { buildWorkbench, serveWorkbench } from './workbench.js'
import { main } from '../dist/cli/main.js'

const FOLDER = new URL('../docs/screenshots/', import.meta.url).pathname
const SIZE = { width: 1280, height: 800 }
/** The day of the pictures, so that years and countdowns stay as they are. */
const NOW = '2026-11-24'

ensureChromium()
mkdirSync(FOLDER, { recursive: true })
process.chdir(new URL('../examples/quillmere', import.meta.url).pathname)

/** What a command prints on a terminal of 110 columns, with its colours. */
async function capture(args) {
  let text = ''
  const out = (more) => (text += more)
  await main(args, { out, err: out, readStdin: () => '', columns: 110, colours: pc.createColors(true) })
  return text
}

const pack = join(mkdtempSync(join(tmpdir(), 'wembra-')), 'observatory.pack.json')
await capture(['pack', 'campaign', 'story', '-o', pack])

const browser = await chromium.launch({ executablePath: CHROMIUM, args: CHROMIUM_ARGS })
const page = await browser.newPage({ viewport: SIZE })

for (const [name, ...args] of [
  ['check', 'check', '--now', NOW],
  ['mend', 'mend', '--dry-run', '--now', NOW],
  ['show', 'show', 'lecture-dust'],
  ['ledger', 'show', 'lecture-dust', '--ledger', 'section:dust-top'],
  ['css', 'css'],
  ['diff', 'diff', '--set', 'templates.article-view.layout.sidebar=none', '--now', NOW],
  ['ways', 'ways', 'visit', 'header.items.seek=absent', 'footer.use=small-footer', '--now', NOW],
  ['groups', 'groups'],
  ['unpack', 'unpack', pack, '--site', '../fellside/fellside.site.yaml', '--now', NOW],
  ['draw-text', 'draw', 'lecture-dust', '--viewport', 'desk', '--format', 'text'],
  ['why', 'why', 'training', 'header.use'],
  ['why-style', 'why', 'whats-on', 'spacing.before'],
  ['uses', 'uses', 'night-header'],
  ['table', 'table'],
]) {
  await page.setContent(
    hostAnsi(`wembra ${args.join(' ').replace(pack, 'observatory.pack.json')}`, await capture(args)),
  )
  await page.evaluate(() => document.fonts.ready)
  await page.screenshot({ path: `${FOLDER}${name}.png` })
}
await main(['draw', 'lecture-dust', '-o', `${FOLDER}draw.png`], {
  out: () => {},
  err: console.error,
  readStdin: () => '',
  columns: 100,
  colours: pc.createColors(false),
})

let report = ''
await main(['check', '--format', 'html', '--now', NOW], {
  out: (text) => (report += text),
  err: console.error,
  readStdin: () => '',
  columns: 100,
  colours: pc.createColors(false),
})
await page.setContent(report)
await page.screenshot({ path: `${FOLDER}report.png` })

await buildWorkbench()
const { address, close } = await serveWorkbench()
for (const [name, route] of [
  ['workbench-page', '#/page/lecture-dust'],
  ['workbench-findings', '#/findings'],
]) {
  await page.goto(address + route)
  await page.locator('main h2').waitFor()
  await page.getByText('Trying the mends').waitFor({ state: 'detached', timeout: 120_000 })
  await page.evaluate(() => document.fonts.ready)
  await page.screenshot({ path: `${FOLDER}${name}.png` })
}
await browser.close()
await close()
writeFileSync(`${FOLDER}README.md`, 'Made by `npm run screenshots` from the demo data.\n')
console.log(`pictures in ${FOLDER}`)
process.exit(0)

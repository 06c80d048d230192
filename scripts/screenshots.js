// One current picture of each main output in docs/screenshots, made from the demo data.
import { mkdirSync, mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from 'playwright-core'
import pc from 'picocolors'
import { register } from 'tsx/esm/api'
import { hostAnsi } from './terminal-picture.js'
import { CHROMIUM, CHROMIUM_ARGS, ensureChromium } from './chromium.js'
import { buildApp, serveApp } from './workbench.js'
import { main } from '../dist/cli/main.js'

const FOLDER = new URL('../docs/screenshots/', import.meta.url).pathname
const SIZE = { width: 1280, height: 800 }
/** The day of the pictures, so that years and countdowns stay as they are. */
const NOW = '2026-11-24'

ensureChromium()
mkdirSync(FOLDER, { recursive: true })
process.chdir(new URL('../examples/quillmere', import.meta.url).pathname)

/** What a command prints on a terminal of 110 columns, with its colors. */
async function capture(args) {
  let text = ''
  const out = (more) => (text += more)
  await main(args, { out, err: out, readStdin: () => '', columns: 110, colors: pc.createColors(true) })
  return text
}

const place = mkdtempSync(join(tmpdir(), 'wembra-'))

// Real pages: a stand-in host with four changes behind the site file's back, as observed before the pictures are taken.
register()
const { startHost } = await import('../examples/host/src/server.ts')
const host = await startHost({ changes: [3, 4, 5, 9] })
const seen = join(place, 'seen.ndjson')
const paths = [
  'about/people',
  'whats-on/moon-night',
  'whats-on/open-day',
  'shop/cocoa',
  'shop/red-lamp',
  'journal/mirror',
]
const browsed = ['--browser', '--save', seen, '--format', 'ndjson', '-o', join(place, 'out.ndjson')]
await capture(['observe', ...paths.map((path) => `${host.address}/${path}`), ...browsed])
await host.close()

const browser = await chromium.launch({ executablePath: CHROMIUM, args: CHROMIUM_ARGS })
const page = await browser.newPage({ viewport: SIZE })

for (const [name, ...args] of [
  ['check', 'check', '--now', NOW],
  ['fix', 'fix', '--dry-run', '--now', NOW],
  ['show', 'show', 'lecture-dust'],
  ['diff', 'diff', '--set', 'templates.article-view.layout.sidebar=none', '--now', NOW],
  ['how', 'how', 'visit', 'header.items.seek=absent', 'footer.use=small-footer', '--now', NOW],
  ['groups', 'groups'],
  ['why', 'why', 'training', 'header.use'],
  ['uses', 'uses'],
  ['observe', 'observe', seen, '--now', NOW],
]) {
  await page.setContent(hostAnsi(`wembra ${args.join(' ').replace(seen, 'seen.ndjson')}`, await capture(args)))
  await page.evaluate(() => document.fonts.ready)
  await page.screenshot({ path: `${FOLDER}${name}.png` })
}
const draft = await capture(['draft', seen])
const said = draft
  .slice(draft.indexOf('\ntheme:') + 1)
  .replaceAll(/ # .*/g, (comment) => pc.createColors(true).green(comment))
await page.setContent(hostAnsi("wembra draft seen.ndjson | sed -n '/^theme:/,$p'", said))
await page.screenshot({ path: `${FOLDER}draft.png` })
await main(['draw', 'lecture-dust', '-o', `${FOLDER}draw.png`], {
  out: () => {},
  err: console.error,
  readStdin: () => '',
  columns: 100,
  colors: pc.createColors(false),
})

let report = ''
await main(['check', '--format', 'html', '--now', NOW], {
  out: (text) => (report += text),
  err: console.error,
  readStdin: () => '',
  columns: 100,
  colors: pc.createColors(false),
})
await page.setContent(report)
await page.screenshot({ path: `${FOLDER}report.png` })

for (const app of ['workbench', 'embed']) await buildApp(app)
const workbench = await serveApp('workbench')
/** A screen when all of it is there: fixes tried, fonts loaded. */
async function shoot(name, route, act) {
  await page.goto(workbench.address + route)
  await page.locator('main h2').waitFor()
  await page.waitForFunction(() => document.querySelector('.status')?.textContent === '', undefined, {
    timeout: 120_000,
  })
  await act?.()
  await page.getByText('Trying the fixes').waitFor({ state: 'detached', timeout: 60_000 })
  await page.evaluate(() => document.fonts.ready)
  await page.screenshot({ path: `${FOLDER}${name}.png` })
}
await shoot('workbench-pages', '#/pages?group=kind', async () => {
  await page.locator('.card img').nth(7).waitFor()
  await page.waitForTimeout(500)
})
const seenOn = (name) => page.frameLocator('.preview iframe').getByText(name).first().waitFor()
const COVERED = encodeURIComponent('header-covers-content@/templates/event-view/layout/header/position')
await shoot('workbench-page', `#/page/moon-night?finding=${COVERED}`, () => seenOn('122 px covered'))
await shoot('workbench-conflicts', '#/findings', () => seenOn('122 px covered'))
await shoot('workbench-layers', '#/layers?step=templates', () => page.locator('.thing img').nth(3).waitFor())
await shoot('workbench-source', `#/source/${encodeURIComponent('quillmere.site.yaml')}?line=107`, async () => {
  await page.locator('.cm-line', { hasText: 'use: main-header, position' }).hover({ position: { x: 150, y: 8 } })
  await page.locator('.source-hover').waitFor()
})
await shoot('workbench-change', '#/page/moon-night', async () => {
  await page.locator('.chain-button').filter({ hasText: 'header.position' }).click()
  await page.getByLabel('Set at').selectOption('templates.event-view')
  await page.getByLabel('Value of header.position').fill('sticky')
  await page.getByRole('button', { name: 'Preview the change' }).click()
  await page.locator('figure img').nth(1).waitFor()
  await page.locator('.change-group').first().waitFor()
})
await workbench.close()
const embed = await serveApp('embed')
await page.goto(embed.address)
await page.locator('#findings li').first().waitFor()
await page.screenshot({ path: `${FOLDER}embed.png` })
await embed.close()
await browser.close()
console.log(`pictures in ${FOLDER}`)
process.exit(0)

// The workbench on 10,000 pages in Chromium: how long it takes to open, and whether scrolling and the width drag ever
// hold a frame up for more than 50 ms, by the browser's own performance entries.
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from 'playwright-core'
import { CHROMIUM, CHROMIUM_ARGS } from '../scripts/chromium.js'
import { buildWorkbench, serveWorkbench } from '../scripts/workbench.js'
import { makeSite } from './make-site.js'

const pages = Number(process.argv[2] ?? 10_000)
const file = join(mkdtempSync(join(tmpdir(), 'wembra-')), 'bench.site.json')
writeFileSync(file, makeSite(pages))

await buildWorkbench()
const { address, close } = await serveWorkbench()
const browser = await chromium.launch({ executablePath: CHROMIUM, args: [...CHROMIUM_ARGS] })
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
await page.addInitScript(() => {
  const seen: number[] = []
  Object.assign(window, { seen })
  new PerformanceObserver((list) => {
    for (const entry of list.getEntries()) seen.push(entry.duration)
  }).observe({ entryTypes: ['longtask'] })
})
await page.goto(`${address}#/pages`)
await page.locator('.card img').first().waitFor()
await page.waitForTimeout(2000)
const tasks = (): Promise<readonly number[]> =>
  page.evaluate(() => (window as unknown as { seen: number[] }).seen.splice(0))
await tasks()

const chosen = performance.now()
await page.getByRole('button', { name: 'Open', exact: true }).click()
const [chooser] = await Promise.all([
  page.waitForEvent('filechooser'),
  page.getByRole('menuitem', { name: 'Files from this computer…' }).click(),
])
await chooser.setFiles([file])
await page.getByText(`${pages} pages`, { exact: true }).waitFor()
const opened = performance.now()
const inWords = (list: readonly number[]): string =>
  list.length === 0
    ? 'no task over 50 ms'
    : `${list.length} tasks over 50 ms, the longest ${Math.max(...list).toFixed(0)} ms`
const [reading = 0, read = 0, shown = 0] = await page.evaluate(() =>
  ['wembra-reading', 'wembra-read', 'wembra-shown'].map(
    (name) => performance.getEntriesByName(name).at(-1)?.startTime ?? 0,
  ),
)
console.log(
  `${pages} pages: from choosing the file to the table ${(opened - chosen).toFixed(0)} ms, of which reading the site ` +
    `${(read - reading).toFixed(0)} ms and from there to the table ${(shown - read).toFixed(0)} ms (${inWords(await tasks())})`,
)

await page.locator('.card img').first().waitFor()
console.log(`the first preview ${(performance.now() - chosen).toFixed(0)} ms after the file was chosen`)
await page.waitForTimeout(4000)
await tasks()

async function scroll(name: string, list: string): Promise<void> {
  await page.locator(list).hover()
  for (let n = 0; n < 60; n++) {
    await page.mouse.wheel(0, 900)
    await page.waitForTimeout(30)
  }
  console.log(`scrolling ${name} by 54,000 px: ${inWords(await tasks())}`)
  await page.evaluate((each) => document.querySelector(each)?.scrollTo(0, 400_000), list)
  await page.waitForTimeout(500)
  console.log(`a jump in ${name}: ${inWords(await tasks())}`)
}
await scroll('the previews', '.sheet')
await page.goto(`${address}#/pages?as=table`)
await page.locator('.page-rows').waitFor()
await page.waitForTimeout(1000)
await tasks()
await scroll('the table', '.page-rows')

await page.goto(`${address}#/page/p21?width=1280`)
await page.locator('.preview iframe').waitFor()
await page.waitForTimeout(1000)
await tasks()
const box = await page.getByRole('slider', { name: 'Width of the window' }).boundingBox()
if (box) {
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  await page.mouse.down()
  for (let n = 0; n < 80; n++) {
    await page.mouse.move(box.x + box.width / 2 - n * 5, box.y + box.height / 2)
    await page.waitForTimeout(16)
  }
  await page.mouse.up()
}
console.log(`dragging the width over 400 px: ${inWords(await tasks())}, now at ${page.url().split('?')[1] ?? ''}`)

// A setting of the theme, from the press of a key to its effect on the preview and to the number of pages it reaches.
await page.goto(`${address}#/page/p21`)
await page.locator('.chain-button').filter({ hasText: 'width.gutter' }).click()
await page.getByLabel('Set at').selectOption('theme')
// By the page's own clock: from a key to the page as it would be, in the preview beside the form.
await page.evaluate(`
  window.waits = []
  const view = () => document.querySelector('.as-it-would-be iframe')?.contentDocument?.body
  addEventListener('input', () => {
    const [pressed, before] = [performance.now(), view()]
    const look = () => view() === before ? requestAnimationFrame(look) : window.waits.push(performance.now() - pressed)
    look()
  }, { capture: true })
`)
await page.frameLocator('.as-it-would-be iframe').locator('main').waitFor()
const WRITTEN = ['9', '91', '90', '92', '91px']
for (const text of WRITTEN) {
  await page.getByLabel('Value of width.gutter').fill(text)
  await page.waitForTimeout(300)
}
const waited = (): Promise<readonly number[]> => page.evaluate('window.waits')
while ((await waited()).length < WRITTEN.length) await page.waitForTimeout(50)
const waits = await waited()
console.log(
  `a setting of the theme that is being written: its effect on the preview after ${waits.map((ms) => ms.toFixed(0)).join(', ')} ms`,
)
// By the page's own clock: from the click to the picture of the page as it would be, decoded.
await page.evaluate(() => {
  addEventListener('click', () => performance.mark('asked'), { capture: true, once: true })
  let isShown = false
  new MutationObserver((_, observer) => {
    const picture = document.querySelector<HTMLImageElement>('img[alt="p21 after"]')
    if (picture && !isShown) void picture.decode().then(() => performance.mark('effect'))
    isShown = picture !== null
    if (!/pages? gets? other facets/.test(document.querySelector('[role=dialog]')?.textContent ?? '')) return
    performance.mark('reach')
    observer.disconnect()
  }).observe(document, { childList: true, subtree: true, characterData: true })
})
await page.getByRole('button', { name: 'Preview the change' }).click()
await page
  .getByRole('dialog')
  .getByText(/pages? gets? other facets/)
  .waitFor()
const [effect = 0, reach = 0] = await page.evaluate(() =>
  ['effect', 'reach'].map((name) => performance.measure(name, 'asked', name).duration),
)
await page.getByRole('dialog').getByRole('button', { name: 'Apply' }).click()
const applied = performance.now()
await page.getByRole('dialog').waitFor({ state: 'detached' })
console.log(
  `a setting of the theme: its effect on the page that is looked at after ${effect.toFixed(0)} ms, its reach after ${reach.toFixed(0)} ms, applied in ${(performance.now() - applied).toFixed(0)} ms (${inWords(await tasks())})`,
)

// Groups of all pages, and a key in the text of the site file.
for (const [group, heading] of [
  ['template', 'Template '],
  ['layout', 'Group 1:'],
] as const) {
  await page.goto(`${address}#/pages?as=table`)
  await page.locator('.page-rows').waitFor()
  await page.waitForTimeout(1500)
  await tasks()
  const asked = performance.now()
  await page.getByLabel('Group by').selectOption(group)
  await page.locator('.page-row.group').filter({ hasText: heading }).first().waitFor()
  console.log(`pages grouped by ${group} in ${(performance.now() - asked).toFixed(0)} ms (${inWords(await tasks())})`)
}
await page.goto(`${address}#/source/bench.site.json`)
await page.locator('.cm-content').waitFor()
await page.waitForTimeout(3000)
await page.locator('.cm-line').first().click()
await page.keyboard.press('Home')
await tasks()
const pressed = performance.now()
await page.keyboard.type(' ')
await page.getByRole('button', { name: /^Undo: edit/ }).waitFor()
console.log(
  `a key in the source: read and taken over ${(performance.now() - pressed).toFixed(0)} ms later, of which 250 ms are waited for the next key (${inWords(await tasks())})`,
)
await browser.close()
await close()

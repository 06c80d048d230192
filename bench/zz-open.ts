import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from 'playwright-core'
import { CHROMIUM, CHROMIUM_ARGS } from '../scripts/chromium.js'
import { serveWorkbench } from '../scripts/workbench.js'
import { makeSite } from './make-site.js'
const file = join(mkdtempSync(join(tmpdir(), 'wembra-')), 'bench.site.json')
writeFileSync(file, makeSite(10000))
const { address, close } = await serveWorkbench()
const browser = await chromium.launch({ executablePath: CHROMIUM, args: [...CHROMIUM_ARGS] })
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
await page.addInitScript(`window.seen=[]; new PerformanceObserver((l)=>{for(const e of l.getEntries()) seen.push([Math.round(e.startTime),Math.round(e.duration)])}).observe({entryTypes:['longtask']})`)
await page.goto(`${address}#/pages`)
await page.locator('main h2').waitFor()
await page.waitForTimeout(3000)
await page.evaluate('seen.splice(0)')
const cdp = await page.context().newCDPSession(page)
await cdp.send('Profiler.enable'); await cdp.send('Profiler.start')
await page.getByRole('button', { name: 'Open', exact: true }).click()
const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByRole('menuitem', { name: 'Files from this computer…' }).click()])
await chooser.setFiles([file])
await page.getByText(`10000 pages`, { exact: true }).waitFor()
await page.waitForTimeout(1500)
console.log(await page.evaluate('JSON.stringify(seen)'), await page.evaluate(`JSON.stringify(performance.getEntriesByType('mark').map(m=>[m.name,Math.round(m.startTime)]))`))
const { profile } = await cdp.send('Profiler.stop')
writeFileSync('/tmp/wb/p.cpuprofile', JSON.stringify(profile))
await browser.close(); await close()

import { expect } from 'chai'
import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { inspectAsync, memoryFiles, readSite, resolveSite, type ResolvedSite } from 'wembra'
import { NOW, siteOf } from '../support/site.js'

setFlagsFromString('--expose-gc')
const collect = runInNewContext('gc') as () => void

/** Whether what is behind a reference is let go, once the memory is cleared. */
async function isLetGo(reference: WeakRef<object>): Promise<boolean> {
  for (let n = 0; n < 5 && reference.deref(); n++) {
    // What was asked of a reference is held to the end of the turn.
    await new Promise((done) => setImmediate(done))
    collect()
  }
  return reference.deref() === undefined
}

const PAGES = (title: string): string => `
surrounds: { top: { as: header, height: 96px } }
theme: { layout: { header: { use: top, position: fixed } } }
pages: { visit: { path: /visit, title: ${title} }, talks: { path: /talks, title: Talks } }`

describe('states of a site that are past', () => {
  it('are let go while an editor reads its files again and again, findings included', async () => {
    const text = (title: string) => `wembra: 1\nsite: { name: Tarn }${PAGES(title)}`
    const files = memoryFiles({})
    let site: ResolvedSite = resolveSite(readSite(text('Visit'), { file: 'tarn.site.yaml', files }))
    const states: WeakRef<object>[] = []
    for (let n = 0; n < 6; n++) {
      await inspectAsync(site, { now: NOW })
      states.push(new WeakRef(site))
      site = site.reread(text(`Visit ${n}`), ['tarn.site.yaml'])
    }
    await inspectAsync(site, { now: NOW })
    for (const [n, state] of states.slice(0, 4).entries()) expect(await isLetGo(state), `state ${n}`).to.equal(true)
  })

  it('are let go after the hundredth change in memory, findings included', async () => {
    let site = siteOf(PAGES('Visit'))
    const first = new WeakRef<object>(site)
    for (let n = 0; n < 205; n++) {
      await inspectAsync(site, { now: NOW })
      site = site.with([{ op: 'replace', path: '/pages/visit/title', value: `Visit ${n}` }])
    }
    await inspectAsync(site, { now: NOW })
    expect(await isLetGo(first)).to.equal(true)
  })
})

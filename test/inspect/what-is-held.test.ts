import { expect } from 'chai'
import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { inspectAsync, memoryFiles, readSite, resolveSite, type ResolvedSite } from 'wembra'
import { NOW, siteOf } from '../support/site.js'

setFlagsFromString('--expose-gc')
const collect = runInNewContext('gc') as () => void

/** Numbers of the references that still lead to something, once the memory is cleared. */
async function heldOf(references: readonly WeakRef<object>[]): Promise<readonly number[]> {
  for (let n = 0; n < 5 && references.some((each) => each.deref()); n++) {
    // What was asked of a reference is held to the end of the turn.
    await new Promise((done) => setImmediate(done))
    collect()
  }
  return references.flatMap((each, n) => (each.deref() ? [n] : []))
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
    expect(await heldOf(states.slice(0, 4))).to.deep.equal([])
  })

  it('are let go, with the text that was read, though each of them changed another page', async () => {
    const COUNT = 40
    const pages = (changed: number): string =>
      Array.from({ length: COUNT }, (_, n) => `p${n}: { path: /p${n}, title: ${n < changed ? 'New' : 'Old'} }`).join(
        ', ',
      )
    const text = (changed: number) =>
      `wembra: 1\nsite: { name: Tarn }\nsurrounds: { top: { as: header, height: 96px } }\ntheme: { layout: { header: { use: top, position: fixed } } }\npages: { ${pages(changed)} }`
    const files = memoryFiles({})
    let site: ResolvedSite = resolveSite(readSite(text(0), { file: 'tarn.site.yaml', files }))
    const states: WeakRef<object>[] = []
    for (let n = 1; n <= COUNT; n++) {
      await inspectAsync(site, { now: NOW })
      states.push(new WeakRef(site.site))
      site = site.reread(text(n), ['tarn.site.yaml'])
    }
    await inspectAsync(site, { now: NOW })
    expect((await heldOf(states)).length).to.be.at.most(8)
  })

  it('are let go, with their texts, when files are read that are all different', async () => {
    const read = (n: number): void =>
      void readSite(`wembra: 1 # ${n} ${'x'.repeat(100_000)}\nsite: { name: Tarn }${PAGES('Visit')}`)
    const used = async (): Promise<number> => {
      await heldOf([])
      collect()
      return process.memoryUsage().heapUsed
    }
    for (let n = 0; n < 10; n++) read(n)
    const before = await used()
    for (let n = 10; n < 160; n++) read(n)
    // The 150 texts are 15 MB.
    expect((await used()) - before).to.be.lessThan(5_000_000)
  })

  it('are let go after the hundredth change in memory, findings included', async () => {
    let site = siteOf(PAGES('Visit'))
    const first = new WeakRef<object>(site)
    for (let n = 0; n < 205; n++) {
      await inspectAsync(site, { now: NOW })
      site = site.with([{ op: 'replace', path: '/pages/visit/title', value: `Visit ${n}` }])
    }
    await inspectAsync(site, { now: NOW })
    expect(await heldOf([first])).to.deep.equal([])
  })
})

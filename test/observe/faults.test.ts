import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import type { Page } from 'playwright-core'
import type { Observation } from 'wembra/reality'
import { useBrowser } from '../support/browser.js'

const SCRIPT = readFileSync('dist/observe/script.js', 'utf8')
const RESET =
  '<!doctype html><title>Tarn</title><style>*{margin:0;padding:0;box-sizing:border-box}body{font:16px/24px sans-serif}</style>'
const PICTURE = "data:image/svg+xml,<svg xmlns='http://www.w3.org/2000/svg' width='9' height='9'/>"
const BAR = 'position:fixed;top:0;left:0;width:100%;height:80px;padding:0 20px'

interface Case {
  readonly what: string
  readonly body: string
  /** Rule, selector and numbers of each fault, worked out by hand. */
  readonly faults: readonly string[]
}

// Contrasts of #777 (4.478), #767676 (4.54), #959595 (2.996) and #949494 (3.03) with white are by the formula of WCAG 2.2; what is told is cut to two places.
const CASES: readonly Case[] = [
  {
    what: 'nothing, where nothing is wrong',
    body: '<main style="padding:40px"><h1>Tarn</h1><p>Words about the night sky.</p></main>',
    faults: [],
  },
  {
    what: 'a thing that makes the page slide sideways, innermost',
    body: '<main style="padding:40px"><div style="width:1400px"><p id="wide" style="width:1400px">Words.</p></div></main>',
    faults: ['overflow #wide over 160'],
  },
  {
    what: 'no overflow where it is cut off, or scrolls by itself',
    body: '<main style="padding:40px"><div style="overflow-x:auto"><p style="width:3000px">Words.</p></div></main>',
    faults: [],
  },
  {
    what: 'words under a fixed header with a ground, the highest alone',
    body: `<header style="${BAR};background:#fff"><a href="/">Tarn</a></header><main style="padding:20px 40px"><h1 id="top">Nights</h1><p>Words.</p></main>`,
    // The line's glyphs stand within 24 px from y = 20, all of it under 80 px of header.
    faults: ['header-covers-content #top'],
  },
  {
    what: 'no words beside those of a clear header',
    body: `<header style="${BAR}"><p style="width:200px"><a href="/">Tarn</a></p></header><main style="padding:20px 40px 0 600px"><h1>Nights</h1></main>`,
    faults: [],
  },
  {
    what: 'words under the words of a clear header',
    body: `<header style="${BAR}"><p><a href="/">Tarn keeps its doors open</a></p></header><main style="padding:4px 20px"><p id="under">Words about the night sky.</p></main>`,
    faults: ['header-covers-content #under'],
  },
  {
    what: 'text a little too near to its ground, and not what is just far enough',
    body: '<main style="padding:40px;background:#fff"><p id="near" style="color:#777">Words.</p><p style="color:#767676">More words.</p></main>',
    faults: ['text-unreadable #near needed 4.5 ratio 4.47'],
  },
  {
    what: 'large text by its own measure',
    body: '<main style="padding:40px"><h2 id="near" style="font-size:24px;color:#959595">Words</h2><h2 style="font-size:24px;color:#949494">Words</h2></main>',
    faults: ['text-unreadable #near needed 3 ratio 2.99'],
  },
  {
    what: 'text through what lets some of the ground through',
    // Half of black over white has a luminance of ((0.5 + 0.055) / 1.055) ^ 2.4 = 0.214: 1.05 / 0.264 = 3.977.
    body: '<main style="padding:40px"><div style="background:rgba(0,0,0,.5)"><p id="half" style="color:#fff">Words.</p></div></main>',
    faults: ['text-unreadable #half needed 4.5 ratio 3.97'],
  },
  {
    what: 'text on a gradient where it can be read nowhere',
    body: '<main style="padding:40px"><div style="background:linear-gradient(#fff,#eee)"><p id="pale" style="color:#ddd">Words.</p></div><div style="background:linear-gradient(#fff,#000)"><p style="color:#ddd">Words.</p></div></main>',
    // #ddd has 1.357 with white and 1.17 with #eee; the better counts. With black it can be read.
    faults: ['text-unreadable #pale needed 4.5 ratio 1.35'],
  },
  {
    what: 'nothing of text over a picture',
    body: `<main style="padding:40px"><div style="background:url(&quot;${PICTURE}&quot;)"><p style="color:#fefefe">Words.</p></div></main>`,
    faults: [],
  },
  {
    what: 'words of the header in the header’s name',
    body: '<header style="background:#777;padding:20px"><a id="name" href="/" style="color:#888">Tarn</a></header><main style="padding:40px"><p>Words.</p></main>',
    faults: ['header-unreadable #name'],
  },
  {
    what: 'words at the edge of the window, once for each side',
    body: '<main><p id="edge">Words about the night sky.</p><p>More words.</p></main>',
    faults: ['content-at-edge #edge room 0 side 3'],
  },
  {
    what: 'a rail that keeps its room and shows nothing',
    body: '<main style="display:flex;padding:40px"><div style="flex:1"><h1>Tarn</h1><p style="height:600px">Words about the night sky, and more of them.</p></div><aside style="width:300px;height:600px"><div hidden>Not seen</div></aside></main>',
    faults: ['sidebar-empty body > main > aside reserved 300'],
  },
]

describe('what a visitor finds wrong', () => {
  const browser = useBrowser()
  let page: Page
  before(async () => {
    page = await browser().newPage({ viewport: { width: 1280, height: 800 } })
  })

  async function faultsOf(body: string): Promise<NonNullable<Observation['faults']>> {
    await page.setContent(`${RESET}<body>${body}</body>`)
    await page.evaluate(SCRIPT)
    const seen = await page.evaluate<Observation>('wembraObserve({ viewport: "desk" })')
    return seen.faults ?? []
  }

  for (const { what, body, faults } of CASES)
    it(`is ${what}`, async () => {
      const found = await faultsOf(body)
      const inWords = found.map(({ rule, selector, numbers }, n) => {
        const all = Object.entries(numbers).sort(([a], [b]) => (a < b ? -1 : 1))
        // Where a case names no numbers they depend on the font.
        const hasNumbers = /\d$/.test(faults[n] ?? '')
        return [rule, selector, ...(hasNumbers ? all.flat() : [])].join(' ')
      })
      expect(inWords).to.have.members(faults)
    })

  it('is bounded, however much is wrong', async () => {
    const many = Array.from({ length: 500 }, (_, n) => `<p style="color:rgb(200,200,${n % 250})">Words ${n}</p>`).join(
      '',
    )
    const found = await faultsOf(`<main style="padding:40px">${many}</main>`)
    expect(found.length).to.be.within(5, 12)
  })
})

import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'
import type { Page } from 'playwright-core'
import type { Observation, ObservedPart, OutlineNode } from 'wembra/reality'
import { observationJsonSchema, readObservation } from 'wembra/reality'
import { Ajv2020 } from 'ajv/dist/2020.js'
import { useBrowser } from '../support/browser.js'
import { documentOf, PAGES, type HandWritten, type Seen } from './pages.js'

const SCRIPT = readFileSync('dist/observe/script.js', 'utf8')
const SITE = 'https://quillmere.example'
const MOST_BYTES = 15 * 1024

describe('the observer', () => {
  const browser = useBrowser()
  let page: Page

  before(async () => {
    page = await browser().newPage({ viewport: { width: 1280, height: 800 } })
    await page.route('**/*', (route) =>
      route.request().isNavigationRequest() && route.request().frame() === page.mainFrame()
        ? route.fulfill({ contentType: 'text/html', body: shown })
        : route.abort(),
    )
  })

  let shown = ''
  async function seenOn(written: HandWritten): Promise<Observation> {
    shown = documentOf(written)
    await page.goto(`${SITE}/tarn`)
    if (written.script !== undefined) await page.evaluate(written.script)
    await page.evaluate(SCRIPT)
    return page.evaluate(`wembraObserve(${JSON.stringify({ locators: written.locators ?? {}, viewport: 'desk' })})`)
  }

  it('is small enough to be a bookmark', () => {
    expect(gzipSync(SCRIPT, { level: 9 }).length).to.be.below(MOST_BYTES)
    expect(SCRIPT).not.to.match(/\bimport\b|\brequire\(/)
  })

  for (const written of PAGES)
    it(`sees ${written.name}`, async () => {
      const observation = await seenOn(written)
      expect(summaryOf(observation, written.seen)).to.deep.equal(written.seen)
    })

  it('has hand-written pages enough', () => expect(PAGES.length).to.be.at.least(30))

  it('writes what its schema says', async () => {
    const validate = new Ajv2020({ strict: false, code: { optimize: false } }).compile(observationJsonSchema())
    for (const written of PAGES.slice(0, 8)) {
      const observation = await seenOn(written)
      expect(validate(observation), JSON.stringify(validate.errors)).to.equal(true)
      expect(readObservation(JSON.stringify(observation), 'line 1')).to.deep.equal(observation)
    }
  })

  it('changes nothing in the page', async () => {
    for (const written of PAGES.slice(0, 12)) {
      shown = documentOf(written)
      await page.goto(`${SITE}/tarn`)
      const before = await page.evaluate('document.documentElement.outerHTML + scrollX + scrollY')
      await page.evaluate(
        'globalThis.changes = 0; new MutationObserver(() => (globalThis.changes += 1)).observe(document, { attributes: true, childList: true, subtree: true, characterData: true })',
      )
      await page.evaluate(SCRIPT)
      await page.evaluate('wembraObserve()')
      await page.evaluate('new Promise((done) => setTimeout(done))')
      expect(await page.evaluate('globalThis.changes'), written.name).to.equal(0)
      expect(await page.evaluate('document.documentElement.outerHTML + scrollX + scrollY')).to.equal(before)
    }
  })

  it('gives the same in a page that was scrolled', async () => {
    const [written] = PAGES.filter((each) => each.name.startsWith('a boxed'))
    const first = await seenOn(written as HandWritten)
    await page.setViewportSize({ width: 1280, height: 200 })
    await page.evaluate('scrollTo(0, 100)')
    const scrolled = (await page.evaluate('wembraObserve({ viewport: "desk" })')) as Observation
    await page.setViewportSize({ width: 1280, height: 800 })
    expect(scrolled.parts.container?.box).to.deep.equal(first.parts.container?.box)
  })

  it('is bounded on a page of 20,000 nested and 20,000 neighboring things', async () => {
    shown = `<main>${'<div>'.repeat(20_000)}</main>`
    await page.goto(`${SITE}/tarn`)
    await page.evaluate(
      `document.body.innerHTML = '<main>' + '<section id=a><p>Word</p></section>'.repeat(20000) + '</main>'`,
    )
    await page.evaluate(SCRIPT)
    const observation = (await page.evaluate('wembraObserve()')) as Observation
    expect(observation.cut).to.equal(true)
    expect(JSON.stringify(observation).length).to.be.below(1_000_000)
  })
})

const boxText = ({ box }: Pick<ObservedPart, 'box'>): string =>
  box ? `${box.x} ${box.y} ${box.width}x${box.height}` : ''

/** Texts that are no links, in order. */
const textsOf = (nodes: readonly OutlineNode[]): string[] =>
  nodes.flatMap(({ kind, text, items = [] }) => [...(kind === 'text' && text ? [text] : []), ...textsOf(items)])

const pathOf = (url: string): string => (url.startsWith(SITE) ? url.slice(SITE.length) : url)

/** What was seen, in the words of the expectation and of no more than it names. */
function summaryOf(o: Observation, asked: Seen): Seen {
  const { parts } = o
  const quoted = (part: ObservedPart | undefined): string | null => (part ? `${part.presence} "${part.text}"` : null)
  const placed = (part: ObservedPart | undefined): string | null => (part ? `${part.presence} ${boxText(part)}` : null)
  const exits = Object.fromEntries(Object.entries(o.exits).map(([place, urls]) => [place, urls.map(pathOf)]))
  const all: Required<Seen> = {
    header: parts.header ? `${parts.header.presence} ${parts.header.position} ${boxText(parts.header)}` : null,
    footer: placed(parts.footer),
    title: quoted(parts.title),
    sidebar: placed(parts.sidebar),
    container: parts.container ? boxText(parts.container) : null,
    column: parts.column ? boxText(parts.column) : null,
    byline: quoted(parts.byline),
    leadImage: placed(parts.leadImage),
    footerTexts: textsOf(parts.footer?.outline ?? []),
    comments: o.comments,
    headings: o.headings.map((h) => `${h.level} ${h.presence} "${h.text}" in ${h.place}`),
    headline: o.headline ? `${o.headline.from} "${o.headline.text}"` : null,
    landmarks: o.landmarks.map(({ role }) => role),
    covered: (o.covered ?? []).map(({ what, px }) => `${what} ${px}`),
    behindHeader: o.behindHeader ?? [],
    exits: Object.fromEntries(Object.keys(asked.exits ?? {}).map((place) => [place, exits[place] ?? []])),
    sections: o.outline
      .filter(({ kind }) => kind === 'section')
      .map((s) => `${s.id} ${boxText(s)} ${s.background ?? (s.picture ? 'picture' : '')}`.trimEnd()),
    robots: o.robots ?? null,
    canonical: o.canonical ?? null,
    direction: o.direction ?? 'ltr',
    kinds: o.types,
  }
  return Object.fromEntries(Object.keys(asked).map((key) => [key, all[key as keyof Seen]]))
}

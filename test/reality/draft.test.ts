import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import type { Page } from 'playwright-core'
import { measurePage, readSite, resolveSite, type ResolvedSite } from 'wembra'
import { renderHtml } from 'wembra/report'
import { DRAFT_DETAILS, DraftError, draftSite, findDrift, type DraftDetail, type Observation } from 'wembra/reality'
import { useBrowser } from '../support/browser.js'
import { Random } from '../support/random-site.js'
import { NOW, siteOf } from '../support/site.js'

const SCRIPT = readFileSync('dist/observe/script.js', 'utf8')
const HOME = 'https://random.example'
/** Puts a page in the place of the one that is shown, as its address and its markup are concerned, and looks at it. */
const WRITE_AND_LOOK = `async ({ path, html, viewport }) => {
  history.replaceState(null, '', path)
  document.open()
  document.write(html)
  document.close()
  scrollTo(0, 0)
  await document.fonts.ready
  return wembraObserve({ viewport })
}`

describe('drafts', () => {
  const browser = useBrowser()
  let tab: Page
  let shown = ''
  before(async () => {
    tab = await browser().newPage()
    await tab.route('**/*', (route) => route.fulfill({ contentType: 'text/html', body: shown }))
  })

  /** What a browser shows of a site's pages, preview, at its first viewport: one after another in one document. */
  async function seenOf(site: ResolvedSite): Promise<Observation[]> {
    const [viewport] = site.site.viewports
    if (!viewport) return []
    await tab.setViewportSize({ width: viewport.width, height: viewport.height })
    shown = ''
    await tab.goto(HOME)
    await tab.evaluate(SCRIPT)
    const seen: Observation[] = []
    for (const id of site.pageIds) {
      const page = site.page(id)
      if (page.dormant) continue
      const written = { path: page.data.path, html: renderHtml(measurePage(page, viewport.name)) }
      seen.push(await tab.evaluate(`(${WRITE_AND_LOOK})(${JSON.stringify({ ...written, viewport: viewport.name })})`))
    }
    return seen
  }

  const draftOf = (seen: readonly Observation[], detail: DraftDetail = 'full') => {
    const draft = draftSite(seen, { detail })
    return { ...draft, site: resolveSite(readSite(draft.text, { file: 'draft.site.yaml' })) }
  }

  for (let seed = 1; seed <= 10; seed++)
    it(`agree with the pages that they were made from, ${seed}`, async () => {
      const site = resolveSite(readSite(JSON.stringify(randomSite(new Random(seed))), { file: 'random.site.json' }))
      const seen = await seenOf(site)
      for (const detail of DRAFT_DETAILS) {
        const { site: drafted } = draftOf(seen, detail)
        const { findings, compared } = findDrift(drafted, seen, { now: NOW })
        expect(compared).to.have.length(seen.length)
        expect(
          findings.map((f) => `${f.pages.join(' ')}: ${f.message}`),
          detail,
        ).to.deep.equal([])
      }
    })

  const CHROME =
    'surrounds: { top: { as: header, height: 80px, background: "#112233", rows: [ { items: [ { text: Tarn } ] } ] } }'
  const pagesOf = (paths: readonly string[], layout: (n: number) => string): string =>
    `pages:\n${paths.map((path, n) => `  p${n}: { path: ${path}, title: Page ${n}, layout: ${layout(n)}, body: [ { section: s, items: [ { text: Words. } ] } ] }`).join('\n')}`

  it('set once what most pages have, and on a page what it alone has', async () => {
    const paths = ['/a', '/b', '/c', '/d', '/e']
    const site = siteOf(
      `${CHROME}\ntheme: { layout: { footer: absent, header: { use: top, position: fixed } } }\n${pagesOf(paths, (n) => (n === 2 ? '{ spacing: 99px }' : '{}'))}`,
    )
    const { site: drafted, settings, text, surrounds } = draftOf(await seenOf(site))
    expect(surrounds).to.deep.equal([{ id: 'header', pages: 5 }])
    expect(drafted.site.data.theme.layout).to.deep.include({ header: { use: 'header', position: 'fixed' } })
    expect(drafted.site.pageData('c')?.layout).to.deep.equal({ spacing: { before: '99px', after: '99px' } })
    expect(drafted.site.pageData('a')?.layout).to.equal(undefined)
    expect(settings).to.deep.include({ kinds: 0, templates: 0, pages: 2 })
    expect(text).to.contain('position: fixed # 5 of 5 pages')
  })

  it('make a template of what several pages differ in alike', async () => {
    const paths = ['/a', '/b', '/c', '/d', '/e', '/f', '/g']
    const wide = '{ width: full, spacing: 0, title: absent }'
    const site = siteOf(
      `${CHROME}\ntheme: { layout: { footer: absent, header: { use: top } } }\n${pagesOf(paths, (n) => (n < 3 ? wide : '{}'))}`,
    )
    const { site: drafted, settings } = draftOf(await seenOf(site))
    expect(Object.keys(drafted.site.data.templates ?? {})).to.have.length(1)
    expect(settings.pages).to.equal(0)
    const wides = drafted.pageIds.filter((id) => drafted.page(id).choice.template)
    expect(wides).to.deep.equal(['a', 'b', 'c'])
    expect(drafted.page('a').at('desk').value('width.mode')).to.equal('full')
  })

  it('need a browser’s eyes, and say so', () => {
    expect(() => draftSite([])).to.throw(DraftError, 'add --browser')
  })

  it('hold hostile titles, ids and addresses as what they are', async () => {
    shown = `<!doctype html><title>x: { y } # z</title><main><h1 class="page-title">- [a]: &amp;b *c !d "</h1><section id="__proto__" style="background:#123"><p>{ } [ ] # : "' \\n</p><a href="javascript:alert(1)">x</a></section><section id="a b/c~d" style="background:#321"><p>x</p></section></main>`
    await tab.setViewportSize({ width: 1280, height: 800 })
    await tab.goto(`${HOME}/%2e%2e/a%20b/<i>`)
    await tab.evaluate(SCRIPT)
    const seen: Observation = await tab.evaluate('wembraObserve({ viewport: "desk" })')
    const { site } = draftOf([seen])
    const [id = ''] = site.pageIds
    expect(site.site.pageData(id)?.title).to.equal('- [a]: &b *c !d "')
  })
})

/** A site as builders and themes make them: bars, sidebars, bands and columns, of any size. */
function randomSite(r: Random): object {
  const px = (least: number, most: number): string => `${least + Math.round(r.next() * (most - least))}px`
  const color = (): string =>
    `#${Math.floor(r.next() * 0xffffff)
      .toString(16)
      .padStart(6, '0')}`
  const words = (): object => ({
    text: 'Words about the sky.'.repeat(1 + Math.floor(r.next() * 4)),
    height: px(24, 120),
  })
  const item = (): object =>
    r.pick([words, words, () => ({ heading: 2, text: 'A heading', height: px(20, 60) }), () => ({ gap: px(8, 64) })])()
  const items = (): object[] => Array.from({ length: 1 + Math.floor(r.next() * 3) }, item)
  const section = (_: unknown, n: number): object => ({
    section: `s${n}`,
    ...(r.chance(0.7) && { padding: `${px(0, 90)} ${px(0, 40)}` }),
    ...(r.chance(0.5) && { background: { color: color() }, band: 'full' }),
    ...(r.chance(0.2) && { minHeight: px(100, 900) }),
    ...(r.chance(0.25)
      ? { columns: [{ share: 1 + Math.floor(r.next() * 3), items: [words()] }, { items: [words()] }], gap: px(8, 60) }
      : { items: [words(), ...items()], ...(r.chance(0.3) && { maxWidth: px(300, 700) }) }),
  })
  const layout = (): object => ({
    ...(r.chance(0.4) && { header: { position: r.pick(['flow', 'sticky', 'fixed', 'overlay']) } }),
    ...(r.chance(0.3) && { title: r.pick(['absent', 'hidden', 'visually-hidden']) }),
    ...(r.chance(0.4) && { width: r.pick(['full', { max: px(500, 1300) }, { padding: `0 ${px(8, 90)}` }]) }),
    ...(r.chance(0.4) && { spacing: `${px(0, 90)} ${px(0, 90)}` }),
    ...(r.chance(0.3) && { sidebar: { side: r.pick(['left', 'right']), width: px(150, 320), gap: px(10, 60) } }),
    ...(r.chance(0.3) && { footer: 'absent' }),
    ...(r.chance(0.2) && { byline: 'shown', comments: { presence: 'shown', maxWidth: px(300, 500) } }),
    ...(r.chance(0.2) && { findable: false }),
  })
  const bar = (as: string): object => ({
    as,
    background: color(),
    ink: color(),
    rows: [{ padding: px(4, 30), items: [{ text: 'Quillmere', height: px(20, 60) }] }],
  })
  return {
    ...{ wembra: 1, site: { name: 'R' } },
    surrounds: {
      top: bar('header'),
      foot: bar('footer'),
      rail: { as: 'sidebar', items: [{ text: 'Latest', height: px(30, 300) }] },
    },
    theme: { layout: { ...layout(), header: { use: 'top' }, footer: { use: 'foot' } } },
    kinds: { article: { layout: { sidebar: { use: 'rail' } } }, page: { layout: { sidebar: { use: 'rail' } } } },
    pages: Object.fromEntries(
      Array.from({ length: 8 }, (_, n) => [
        `p${n}`,
        {
          ...{ path: `/p${n}`, title: `Page ${n}`, kind: r.pick(['page', 'article']) },
          ...(r.chance(0.5) && { layout: layout() }),
          body: Array.from({ length: Math.floor(r.next() * 4) }, section),
        },
      ]),
    ),
  }
}

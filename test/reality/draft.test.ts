import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import type { Browser, Page } from 'playwright-core'
import {
  DraftError,
  draftSite,
  findDrift,
  measurePage,
  memoryFiles,
  readSite,
  resolveSite,
  writeOut,
  type Observation,
  type ResolvedSite,
} from 'wembra'
import { openBrowser } from '../support/browser.js'
import { randomPages } from '../support/random-page.js'
import { NOW, siteOf } from '../support/site.js'

const SCRIPT = readFileSync('dist/observe/script.js', 'utf8')
const HOME = 'https://random.example'

describe('drafts', () => {
  let browser: Browser
  let tab: Page
  let shown = ''
  before(async () => {
    browser = await openBrowser()
    tab = await browser.newPage()
    await tab.route('**/*', (route) => route.fulfill({ contentType: 'text/html', body: shown }))
  })
  after(() => browser.close())

  /** What a browser shows of a site's pages, written out, at its first viewport. */
  async function seenOf(site: ResolvedSite): Promise<Observation[]> {
    const [viewport] = site.site.viewports
    if (!viewport) return []
    await tab.setViewportSize({ width: viewport.width, height: viewport.height })
    const seen: Observation[] = []
    for (const id of site.pageIds) {
      const page = site.page(id)
      if (page.dormant) continue
      shown = writeOut(measurePage(page, viewport.name))
      await tab.goto(HOME + page.data.path)
      await tab.evaluate('document.fonts.ready')
      await tab.evaluate(SCRIPT)
      seen.push(await tab.evaluate(`wembraObserve({ viewport: ${JSON.stringify(viewport.name)} })`))
    }
    return seen
  }

  const draftOf = (seen: readonly Observation[]) => {
    const draft = draftSite(seen)
    return { ...draft, site: resolveSite(readSite(draft.text, { file: 'draft.site.yaml' })) }
  }

  for (let seed = 1; seed <= 12; seed++)
    it(`agree with the random pages that they were made from, ${seed}`, async () => {
      const site = resolveSite(
        readSite(JSON.stringify(randomPages(seed, 6, false)), { file: 'r.site.json', files: memoryFiles({}) }),
      )
      const seen = await seenOf(site)
      const { site: drafted } = draftOf(seen)
      const { findings, compared } = findDrift(drafted, seen, NOW)
      expect(compared).to.have.length(seen.length)
      expect(findings.map((f) => `${f.pages.join(' ')}: ${f.message}`)).to.deep.equal([])
    })

  const CHROME =
    'surrounds: { top: { as: header, height: 80px, background: "#112233", rows: [ { items: [ { text: Tarn } ] } ] } }'
  const pagesOf = (paths: readonly string[], layout: (n: number) => string): string =>
    `pages:\n${paths.map((path, n) => `  p${n}: { path: ${path}, title: Page ${n}, layout: ${layout(n)}, body: [ { section: s, items: [ { text: Words. } ] } ] }`).join('\n')}`

  it('say once what most pages have, and on a page what it alone has', async () => {
    const paths = ['/a', '/b', '/c', '/d', '/e']
    const site = siteOf(
      `${CHROME}\ntheme: { layout: { header: { use: top, position: fixed } } }\n${pagesOf(paths, (n) => (n === 2 ? '{ spacing: 99px }' : '{}'))}`,
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
      `${CHROME}\ntheme: { layout: { header: { use: top } } }\n${pagesOf(paths, (n) => (n < 3 ? wide : '{}'))}`,
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
    expect(site.pageData(id)?.title).to.equal('- [a]: &b *c !d "')
  })
})

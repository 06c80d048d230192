import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import type { Page } from 'playwright-core'
import { inspect, measurePage, readSite, resolveSite } from 'wembra'
import { draftSite, findDrift, type Observation } from 'wembra/reality'
import { useBrowser } from '../support/browser.js'
import { NOW } from '../support/site.js'

const SCRIPT = readFileSync('dist/observe/script.js', 'utf8')
const HOME = 'https://tarn.example'
const VIEWPORTS = [
  { name: 'desk', width: 1280, height: 800 },
  { name: 'phone', width: 390, height: 844 },
]

// Every length is said in the pages, so that what a draft should say can be read off them.
const STYLE = `*{margin:0;padding:0;box-sizing:border-box}
body{font:16px/24px sans-serif;background:#fff;color:#222}
a{color:inherit}h1,h2,h3{font-size:20px;line-height:24px}
.bar{position:sticky;top:0;height:64px;background:#102030;color:#fff}
.bar nav a{display:inline-block;height:24px}
.foot{height:80px;background:#102030;color:#fff}
.page{max-width:800px;margin:0 auto}`

const chrome = (body: string, next = ''): string =>
  `<header class="bar"><a href="/">Tarn</a><nav><ul><li><a href="/visit">Visit</a></li><li><a href="/talks">Talks</a></li></ul></nav>${next}</header>
${body}<footer class="foot"><p>Tarn keeps its doors open</p></footer>`

const NAMES: Readonly<Record<string, string>> = { '/': 'Nights at Tarn', '/visit': 'Visit', '/talks': 'Talks' }

const PAGES: Readonly<Record<string, string>> = {
  '/': chrome(`<main>
    <section id="hero" style="height:480px;padding:120px 40px 0;background:#203050;color:#fff"><h1>Nights at Tarn</h1><p>See the sky.</p></section>
    <div style="height:300px;padding:40px"><p>Words about the place.</p></div>
    <section id="news" style="height:200px;padding:20px 40px;background:#eee"><h2>News</h2><p>More words.</p></section>
  </main>`),
  '/visit': chrome(
    '<main class="page" style="padding:32px 0 48px"><h1>Plan a visit</h1><div style="height:600px"><p>Open all nights.</p><h3>By bus</h3></div></main>',
    '<p>Next: <a href="/talks">Talks of the year</a></p>',
  ),
  '/talks': chrome(
    '<main class="page" style="padding:32px 0 48px"><h1>Talks</h1><div style="height:900px"><p>Every Friday.</p><h1>Last year</h1></div></main>',
    '<p>Back: <a href="/visit">Visiting in winter</a></p>',
  ),
}

describe('drafts in short', () => {
  const browser = useBrowser()
  let tab: Page
  const seen: Observation[] = []
  before(async () => {
    tab = await browser().newPage()
    await tab.route('**/*', (route) => {
      const { pathname } = new URL(route.request().url())
      const body = `<!doctype html><title>${NAMES[pathname]} — Tarn</title><style>${STYLE}</style>${PAGES[pathname] ?? ''}`
      return route.fulfill({ contentType: 'text/html', body })
    })
    for (const path of Object.keys(PAGES))
      for (const { name, width, height } of VIEWPORTS) {
        await tab.setViewportSize({ width, height })
        await tab.goto(HOME + path)
        await tab.evaluate(SCRIPT)
        seen.push(await tab.evaluate(`wembraObserve({ viewport: ${JSON.stringify(name)} })`))
      }
  })

  const draft = () => {
    const { text } = draftSite(seen)
    return { text, site: resolveSite(readSite(text, { file: 'draft.site.yaml' })) }
  }

  it('agree with the pages that they were made from', () => {
    const { findings, compared } = findDrift(draft().site, seen, { now: NOW })
    expect(findings.map((f) => f.message)).to.deep.equal([])
    expect(compared).to.have.length(3)
  })

  it('tell a page in a few lines, and the same twice', () => {
    const { text } = draft()
    const [shared = '', pages = ''] = text.split(/^pages:$/m)
    expect(shared.split('\n').length).to.be.at.most(60)
    expect(pages.trim().split('\n').length / 3).to.be.at.most(8)
    expect(draft().text).to.equal(text)
  })

  it('have bands with their grounds, words and heights, and what stands between them', () => {
    const { site } = draft()
    expect(site.site.pageData('home')?.body).to.deep.equal([
      {
        section: 'hero',
        band: 'full',
        background: { color: '#203050' },
        ink: '#ffffff',
        padding: '120px 40px 0',
        minHeight: '480px',
        items: [{ title: true, height: '24px' }, { text: 'See the sky.' }],
      },
      {
        section: 'text-1',
        padding: '40px 40px 0',
        minHeight: '300px',
        items: [{ text: 'Words about the place.' }],
      },
      {
        section: 'news',
        band: 'full',
        background: { color: '#eeeeee' },
        padding: '20px 40px 0',
        minHeight: '200px',
        items: [{ heading: 2, text: 'News' }],
      },
    ])
  })

  it('share a header that says something else on each page, without what it says', () => {
    const { site } = draft()
    expect(Object.keys(site.site.data.surrounds ?? {})).to.deep.equal(['header', 'footer'])
    const [row] = site.site.data.surrounds?.['header']?.rows ?? []
    expect(row?.items).to.deep.equal([{ button: 'Tarn', page: 'home' }, { menu: 'menu' }, { text: '…' }])
    expect(site.site.data.menus?.['menu']).to.deep.equal([
      { label: 'Visit', page: 'visit' },
      { label: 'Talks', page: 'talks' },
    ])
    expect(site.page('talks').at('phone').value('header.position')).to.equal('sticky')
  })

  it('know the front page, the widths and the titles, and every heading 1', () => {
    const { site } = draft()
    expect(site.site.data.purposes).to.deep.equal({ front: 'home' })
    const visit = site.page('visit')
    expect(visit.at('desk').value('width.max')).to.equal('800px')
    // 64 px of header, 32 px of free space.
    expect(measurePage(visit, 'desk').box('title')).to.deep.include({ x: 240, y: 96, width: 800, height: 24 })
    expect(visit.data.title).to.equal('Plan a visit')
    expect(visit.at('desk').presence('title.presence')).to.equal('shown')
    expect(site.page('home').at('desk').presence('title.presence')).to.equal('absent')
    expect(site.site.pageData('talks')?.body?.[0]?.items).to.deep.equal([{ heading: 1, text: 'Last year' }])
  })

  it('say nothing of what pages do not tell, and tell what is seen', () => {
    const found = inspect(draft().site, { now: NOW }).map(({ rule, pages }) => `${rule} ${pages.join(' ')}`)
    // At the phone's width the text goes from edge to edge; one more heading 1 stands right below the title.
    expect(found.sort()).to.deep.equal(['content-at-edge talks', 'content-at-edge visit', 'title-doubled talks'])
  })
})

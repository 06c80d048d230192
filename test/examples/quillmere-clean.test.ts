import { expect } from 'chai'
import { aboutPage, inspect, measurePage, resolveSite } from 'wembra'
import { loadSite } from 'wembra/node'
import { NOW } from '../support/site.js'

describe('the observatory after its clean-up', () => {
  const clean = resolveSite(loadSite('examples/quillmere-clean'))

  it('gives no finding at all', () => {
    expect(inspect(clean, { now: NOW }).map((f) => `${f.key} ${f.message}`)).to.deep.equal([])
  })

  it('hides nothing: it allows nothing, and silences no rule', () => {
    const { allow, severity, templates, pages } = clean.site.data
    const holders = [...Object.values(templates ?? {}), ...Object.values(pages)]
    expect([allow, severity, ...holders.map((h) => h.allow)].every((said) => said === undefined)).to.equal(true)
  })

  it('has what looks like trouble and is meant', () => {
    const views = [...clean.pages()].map((page) => page.at('desk'))
    const some = (test: (view: (typeof views)[number]) => boolean): boolean => views.some(test)
    expect(some((v) => v.header.position.value === 'overlay')).to.equal(true)
    expect(some((v) => v.header.position.value === 'fixed')).to.equal(true)
    expect(some((v) => v.header.presence.value === 'absent' && v.footer.presence.value === 'absent')).to.equal(true)
    expect(some((v) => v.title.presence.value === 'visually-hidden')).to.equal(true)
    expect(some((v) => v.width.mode.value === 'full')).to.equal(true)
  })
})

describe('the observatory in winter, a clean site of another make', () => {
  const winter = resolveSite(loadSite('examples/quillmere-winter'))

  it('gives no finding at all', () => {
    expect(inspect(winter, { now: NOW }).map((f) => `${f.key} ${f.message}`)).to.deep.equal([])
  })

  it('has a full-screen notice, landing pages, a bare list of links, members’ pages and replaced titles', () => {
    const view = (page: string) => winter.page(page).at('wide')
    const notice = measurePage(winter.page('notice'), 'phone').box('section:notice-screen')
    expect(notice?.y).to.equal(0)
    expect(notice?.height).to.be.closeTo(812, 0.001)
    expect(view('tickets').header.use.value).to.equal('logo-header')
    expect(view('starlight').header.position.value).to.equal('overlay')
    expect([view('links').header.presence.value, view('links').footer.presence.value]).to.deep.equal([
      'absent',
      'absent',
    ])
    expect(aboutPage(winter, 'rota').visitor).to.include({ gets: 'redirect', to: 'door' })
    expect(aboutPage(winter, 'programme').titles.headline.from).to.equal('heading')
  })
})

import { expect } from 'chai'
import { inspect, resolveSite } from 'wembra'
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

import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { GUIDE, guidePages, runGuidePage } from '../scripts/guide.js'

const page = (name: string): string => readFileSync(join(GUIDE, name), 'utf8')

describe('the guide', () => {
  for (const name of guidePages())
    it(`${name} shows what its commands print today`, () => {
      expect(runGuidePage(page(name))).to.equal(page(name))
    }).timeout(400_000)

  it('tells which pages lose their only heading', () => {
    expect(page('hide-the-title.md')).to.match(/^new {4}title-missing@\/theme\/layout\/title\/presence on 37 pages$/m)
  })

  it('gives one page the bare header, and nothing else changes', () => {
    expect(page('only-the-logo.md'))
      .to.contain('1  say it on the page visit  1 setting\n   no other page changes')
      .and.contain('page   bare-header  wins')
      .and.contain('1 page changed, 56 as before')
  })

  it('says first who shares what is edited, and edits a copy for one page', () => {
    expect(page('shared-footer.md'))
      .to.contain('"small-footer" is shared: 8 pages show it.')
      .and.contain('1 page: star-party\n  footer.use small-footer → small-footer-star-party')
  })

  it('finds the way to a full-width part of the site that touches no page outside it', () => {
    expect(page('full-width-area.md')).to.contain(
      '1  an assign entry for these pages  3 settings\n   no other page changes',
    )
  })

  it('carries templates, and refuses a pack that was altered', () => {
    expect(page('carry-templates.md'))
      .to.contain('no page of this site changes (5 pages)')
      .and.match(/observatory\.pack\.json:\d+:\d+: altered:/)
  })
})

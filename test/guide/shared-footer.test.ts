import { expect } from 'chai'
import { guidePage, itShowsWhatItsCommandsPrint } from '../support/guide.js'

describe('the guide: a footer that pages share', () => {
  itShowsWhatItsCommandsPrint('shared-footer.md')

  it('says first who shares what is edited, and edits a copy for one page', () => {
    expect(guidePage('shared-footer.md'))
      .to.contain('"small-footer" is shared: 8 pages show it.')
      .and.contain('1 page: star-party\n  footer.use small-footer → small-footer-star-party')
  })
})

import { expect } from 'chai'
import { guidePage, itShowsWhatItsCommandsPrint } from '../support/guide.js'

describe('the guide: a page with the logo alone', () => {
  itShowsWhatItsCommandsPrint('only-the-logo.md')

  it('gives one page the bare header, and nothing else changes', () => {
    expect(guidePage('only-the-logo.md'))
      .to.contain('1  set it on the page visit  1 setting\n   no other page changes')
      .and.contain('page   bare-header  wins')
      .and.contain('1 page changed, 56 as before')
  })
})

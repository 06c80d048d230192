import { expect } from 'chai'
import { guidePage, itShowsWhatItsCommandsPrint } from '../support/guide.js'

describe('the guide: where to begin', () => {
  itShowsWhatItsCommandsPrint('where-to-start.md')

  it('goes from the window to the text that 160 px of padding squeeze', () => {
    // 390 − 2·24 − 2·160 px.
    expect(guidePage('where-to-start.md')).to.match(/^184 {3}22 {5}x and width of column$/m)
  })
})

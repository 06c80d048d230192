import { expect } from 'chai'
import { guidePage, itShowsWhatItsCommandsPrint } from '../support/guide.js'

describe('the guide: a full-width part of the site', () => {
  itShowsWhatItsCommandsPrint('full-width-area.md')

  it('touches no page outside it', () => {
    expect(guidePage('full-width-area.md')).to.contain(
      '1  an assign entry for these pages  3 settings\n   no other page changes',
    )
  })
})

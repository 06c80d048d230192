import { expect } from 'chai'
import { guidePage, itShowsWhatItsCommandsPrint } from '../support/guide.js'

describe('the guide: carrying templates', () => {
  itShowsWhatItsCommandsPrint('carry-templates.md')

  it('refuses a pack that was altered', () => {
    expect(guidePage('carry-templates.md'))
      .to.contain('no page of this site changes (5 pages)')
      .and.match(/observatory\.pack\.json:\d+:\d+: altered:/)
  })
})

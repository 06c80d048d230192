import { expect } from 'chai'
import { guidePage, itShowsWhatItsCommandsPrint } from '../support/guide.js'

describe('the guide: hiding titles', () => {
  itShowsWhatItsCommandsPrint('hide-the-title.md')

  it('names the pages that lose their only heading', () => {
    expect(guidePage('hide-the-title.md')).to.match(
      /^new {4}title-missing@\/theme\/layout\/title\/presence on 37 pages$/m,
    )
  })
})

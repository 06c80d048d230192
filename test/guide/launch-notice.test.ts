import { expect } from 'chai'
import { guidePage, itShowsWhatItsCommandsPrint } from '../support/guide.js'

describe('the guide: a launch notice', () => {
  itShowsWhatItsCommandsPrint('launch-notice.md')

  it('counts the pages that a visitor could still reach', () => {
    expect(guidePage('launch-notice.md')).to.match(/^new {4}policy-broken@\/policies\/1\/require\/access on 49 pages$/m)
  })
})

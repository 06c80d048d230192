import { itShowsWhatItsCommandsPrint } from '../support/guide.js'

describe('the guide: a nightly job', () => {
  itShowsWhatItsCommandsPrint('nightly.md')
})

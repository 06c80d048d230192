import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { GUIDE, runGuidePage } from '../../scripts/guide.js'

/** A page of the guide, as it is committed. */
export const guidePage = (name: string): string => readFileSync(join(GUIDE, name), 'utf8')

/** Compares every output that a page shows with what its commands print today; each page has a test file of its own. */
export const itShowsWhatItsCommandsPrint = (name: string): void =>
  void it('shows what its commands print today', async () => {
    expect(await runGuidePage(guidePage(name))).to.equal(guidePage(name))
  })

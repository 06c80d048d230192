import { expect } from 'chai'
import { resolveSite } from 'wembra'
import { loadSite } from 'wembra/node'
import { Random } from '../support/random-site.js'
import { holdAgainstFiles, KINDS, randomResolved } from '../support/same-as-afresh.js'

/** A sample of `npm run agree`: the same changes, fewer of them. */
describe('a change in memory is told as the changed files read afresh', () => {
  const quillmere = resolveSite(loadSite('examples/quillmere'))
  KINDS.forEach((kind, n) => {
    it(`${kind}, on the demo site and on random ones`, () => {
      expect(holdAgainstFiles(quillmere, kind, new Random(n + 1))).to.be.oneOf(['no', 'memory', 'files'])
      let held = 0
      for (let seed = 1; seed <= 5; seed++) {
        const site = randomResolved(seed + 40 * n)
        if (site && holdAgainstFiles(site, kind, new Random(seed)) !== 'no') held++
      }
      expect(held).to.be.above(0)
    })
  })
})

import { expect } from 'chai'
import { resolveSite, type ResolvedSite } from 'wembra'
import { loadSite } from 'wembra/node'
import { Random } from '../support/random-site.js'
import { holdAgainstFiles, holdReread, KINDS, randomResolved } from '../support/same-as-afresh.js'

const quillmere = resolveSite(loadSite('examples/quillmere'))
const fellside = resolveSite(loadSite('examples/fellside'))
/** The large demo site takes its time: each kind of change is made on it in one of the two suites or in none (`npm run agree` has all). */
const demo = (kind: number, suite: number): ResolvedSite => (kind % 14 === suite ? quillmere : fellside)

/** A sample of `npm run agree`: the same changes, fewer of them. */
describe('a change in memory is told as the changed files read afresh', () => {
  KINDS.forEach((kind, n) => {
    it(`${kind}, on a demo site and on random ones`, () => {
      expect(holdAgainstFiles(demo(n, 0), kind, new Random(n + 1))).to.be.oneOf(['no', 'memory', 'files'])
      let held = 0
      for (let seed = 1; seed <= 20 && held < 2; seed++) {
        const site = randomResolved(seed + 40 * n)
        if (site && holdAgainstFiles(site, kind, new Random(seed)) !== 'no') held++
      }
      expect(held).to.be.above(0)
    })
  })
})

describe('files that changed and are read again, here and elsewhere, give what they give read afresh', () => {
  KINDS.forEach((kind, n) => {
    it(`${kind}, on a demo site and on random ones`, () => {
      let held = holdReread(demo(n, 1).site, kind, new Random(n + 100)) ? 1 : 0
      for (let seed = 1; seed <= 20 && held < 2; seed++) {
        const site = randomResolved(seed + 70 * n)?.site
        if (site && holdReread(site, kind, new Random(seed))) held++
      }
      expect(held).to.be.above(0)
    })
  })
})

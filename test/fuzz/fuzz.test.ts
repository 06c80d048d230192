import { expect } from 'chai'
import fc from 'fast-check'
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { CASES, SLOWEST, takeIn, TARGETS } from '../support/fuzz.js'

/** Inputs of each kind; `npm run fuzz` goes on with others. */
const SAMPLE = 100

interface Kept {
  readonly target: string
  readonly input?: unknown
  readonly base64?: string
}

describe('whatever is taken in', () => {
  for (const target of TARGETS) {
    it(`${target.name}: what is right is taken without an error`, () => {
      for (const input of target.right) target.take(input)
    })

    it(`${target.name}: the answer is a result, or an error of ours with its place, in its time`, () => {
      fc.assert(
        fc.property(target.input, (input) => {
          expect(takeIn(target, input)).to.be.below(SLOWEST)
        }),
        { numRuns: SAMPLE, seed: 20261126 },
      )
    })
  }
})

describe('what broke something once', () => {
  for (const file of existsSync(CASES) ? readdirSync(CASES) : [])
    it(`${file} is answered`, () => {
      const kept = JSON.parse(readFileSync(join(CASES, file), 'utf8')) as Kept
      const target = TARGETS.find(({ name }) => name === kept.target)
      if (!target) throw new Error(`there is no ${kept.target}`)
      const input = kept.base64 === undefined ? kept.input : new Uint8Array(Buffer.from(kept.base64, 'base64'))
      expect(takeIn(target, input)).to.be.below(SLOWEST)
    })
})

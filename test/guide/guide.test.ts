import { expect } from 'chai'
import { readdirSync } from 'node:fs'
import { guidePages } from '../../scripts/guide.js'

describe('the guide', () => {
  it('has a test file for each page', () => {
    const tested = readdirSync('test/guide').map((name) => name.replace('.test.ts', '.md'))
    expect(tested).to.include.members([...guidePages()])
  })
})

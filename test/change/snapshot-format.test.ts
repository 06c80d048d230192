import { expect } from 'chai'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { diffSnapshots, readSnapshot, SiteError, takeSnapshot } from 'wembra'
import { wembraHere } from '../support/command-line.js'
import { NOW, siteOf } from '../support/site.js'

const site = siteOf(`surrounds: { top: { as: header, height: 96px } }
theme: { layout: { header: { use: top } } }
`)
const taken = takeSnapshot(site, { now: NOW })

/** The snapshot with one part of it changed, as pretty JSON. */
const textWith = (change: (snapshot: Record<string, unknown>) => void): string => {
  const copy = JSON.parse(JSON.stringify(taken)) as Record<string, unknown>
  change(copy)
  return JSON.stringify(copy, null, 2)
}

function problemsOf(text: string): SiteError['problems'] {
  try {
    readSnapshot(text, 'before.json')
  } catch (error) {
    if (error instanceof SiteError) return error.problems
    throw error
  }
  return []
}

describe('a snapshot that was saved', () => {
  it('is read as it was taken', () => {
    expect(readSnapshot(JSON.stringify(taken), 'before.json')).to.deep.equal(taken)
    expect(diffSnapshots(readSnapshot(JSON.stringify(taken), 'before.json'), taken).groups).to.deep.equal([])
  })

  it('is read without what earlier versions did not write', () => {
    const old = textWith((snapshot) => {
      delete snapshot['worst']
      delete snapshot['surrounds']
      const [page] = Object.values(snapshot['pages'] as Record<string, Record<string, unknown>>)
      delete page?.['state']
    })
    expect(diffSnapshots(readSnapshot(old, 'before.json'), taken).groups).to.deep.equal([])
  })

  const view = (snapshot: Record<string, unknown>): Record<string, unknown> =>
    (snapshot['pages'] as Record<string, { views: Record<string, Record<string, unknown>> }>)['visit']?.views[
      'desk'
    ] as Record<string, unknown>
  for (const [what, change, place, said] of [
    ['no pages', (s) => void delete s['pages'], 1, 'pages: '],
    ['no findings', (s) => void delete s['findings'], 1, 'findings: '],
    ['a page that is a word', (s) => void (s['pages'] = { visit: 'x' }), 6, 'pages.visit: '],
    ['a view without boxes', (s) => void delete view(s)['boxes'], 10, 'pages.visit.views.desk.boxes: '],
    ['a box of three numbers', (s) => void (view(s)['boxes'] = { main: [1, 2, 3] }), 10, 'views.desk.boxes.main: '],
    ['a page of a finding that is a number', (s) => void (s['findings'] = { x: [1] }), 3, 'findings.x.0: '],
  ] as readonly (readonly [string, (snapshot: Record<string, unknown>) => void, number, string])[])
    it(`with ${what} is told with its place`, () => {
      const [problem] = problemsOf(textWith(change))
      expect(problem?.message).to.contain(said).and.to.contain('wembra snapshot -o writes one')
      expect([problem?.file, problem?.code]).to.deep.equal(['before.json', 'wrong-type'])
      expect(problem?.line).to.be.at.least(place)
    })

  it('cut off anywhere is told with its place', () => {
    const text = JSON.stringify(taken)
    for (const share of [0.1, 0.35, 0.6, 0.99]) {
      const [problem] = problemsOf(text.slice(0, Math.floor(share * text.length)))
      expect(problem?.code, String(share)).to.equal('bad-syntax')
      expect(problem?.line).to.be.at.least(1)
    }
  })

  it('is told by diff as well, before any site is read', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'wembra-snapshot-'))
    writeFileSync(
      join(folder, 'before.json'),
      textWith((snapshot) => void delete snapshot['pages']),
    )
    const { code, err } = await wembraHere(folder, 'diff', 'before.json', 'none.site.yaml')
    expect(code).to.equal(2)
    expect(err).to.match(/^before\.json:1:1: wrong-type: pages: /)
  })
})

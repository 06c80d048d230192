import { expect } from 'chai'
import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { inspect, readSite, resolveSite, type ResolvedSite } from 'wembra'
import { draftSite, explainParts, findDrift, seenFindings, type Observation } from 'wembra/reality'
import { recorded } from '../support/recorded.js'
import { NOW } from '../support/site.js'

// What was observed of pages that others wrote, with made-up words; `npm run real -- record` writes it.
const FOLDER = 'test/reality/recorded'
const SITES = readdirSync(FOLDER)
  .filter((name) => name.startsWith('others-'))
  .map((name) => ({ name: name.replace(/\..*/, ''), seen: recorded(join(FOLDER, name)) }))

const MOST_LINES_A_SITE = 120
const MOST_LINES_A_PAGE = 12

const drafted = (seen: readonly Observation[]): { text: string; site: ResolvedSite } => {
  const { text } = draftSite(seen)
  return { text, site: resolveSite(readSite(text, { file: 'draft.site.yaml' })) }
}

/** Changes an observation as a change of the page would. */
type Change = (seen: Observation) => Observation
const part =
  (
    name: 'header' | 'title' | 'footer',
    change: (part: NonNullable<Observation['parts']['header']>) => object,
  ): Change =>
  (seen) => {
    const own = seen.parts[name]
    return own ? { ...seen, parts: { ...seen.parts, [name]: { ...own, ...change(own) } } } : seen
  }

/** What is changed, the property that has to be told of it, and whether a page shows it at all. */
const CHANGES: readonly (readonly [what: string, property: string, change: Change])[] = [
  [
    'another title',
    'title.words',
    (seen) => {
      // Nobody sees the words of a hidden one.
      if (seen.parts.title?.presence !== 'shown') return seen
      const old = seen.parts.title.text
      const headings = seen.headings.map((each) => (each.text === old ? { ...each, text: 'Another name' } : each))
      return part('title', () => ({ text: 'Another name' }))({ ...seen, headings })
    },
  ],
  [
    'a header that sticks',
    'header.position',
    part('header', ({ position }) => ({ position: position === 'sticky' ? 'static' : 'sticky' })),
  ],
  [
    'one more heading 1',
    'body.topHeadings',
    (seen) => ({
      ...seen,
      headings: [
        ...seen.headings,
        {
          level: 1,
          text: 'One more name',
          presence: 'shown',
          place: 'body',
          box: { x: 9, y: 900, width: 90, height: 40 },
        },
      ],
    }),
  ],
]

describe('pages that others wrote', () => {
  it('are of several makes', () => expect(SITES.length).to.be.at.least(6))

  for (const { name, seen } of SITES) {
    const pages = new Set(seen.map(({ url }) => url)).size

    it(`${name}: a draft agrees with what it came from, and so does its twin`, () => {
      const { text, site } = drafted(seen)
      const { findings, compared } = findDrift(site, seen, { now: NOW })
      expect(findings.map(({ message, pages: on }) => `${message} (${on.join(', ')})`)).to.deep.equal([])
      expect(compared).to.have.length(pages)
      expect(drafted(seen).text).to.equal(text)
    })

    it(`${name}: a draft is a few lines a page, without a length below 0`, () => {
      const { text } = drafted(seen)
      const [shared = '', own = ''] = text.split(/^pages:$/m)
      expect(shared.split('\n').length).to.be.at.most(MOST_LINES_A_SITE)
      const each = own.split(/^ {2}(?=\S)/m).slice(1)
      expect(each).to.have.length(pages)
      for (const page of each) expect(page.trimEnd().split('\n').length, page).to.be.at.most(MOST_LINES_A_PAGE)
      expect(text.match(/(height|gap|before|after|width|max|clearance): -/g)).to.equal(null)
    })

    it(`${name}: a check of the draft speaks of no rule of which nothing is seen`, () => {
      const told = new Set(inspect(drafted(seen).site, { now: NOW }).map(({ rule }) => rule as string))
      const found = new Set(seenFindings(seen).map(({ rule }) => rule))
      for (const rule of [
        'overflow',
        'header-unreadable',
        'text-unreadable',
        'content-at-edge',
        'header-covers-content',
      ])
        if (told.has(rule)) expect([...found]).to.include(rule)
    })

    it(`${name}: each part has its reasons`, () => {
      for (const view of explainParts(seen))
        for (const { part: of, evidence } of view.parts) expect(evidence, `${view.url} ${of}`).to.not.be.empty
    })

    for (const [what, property, change] of CHANGES) {
      const [first] = seen
      const isThere = first && JSON.stringify(change(first)) !== JSON.stringify(first)
      if (!isThere) continue
      it(`${name}: ${what} on one page is told, and nothing else`, () => {
        const changed = seen.map((each) => (each.url === first.url ? change(each) : each))
        const { findings } = findDrift(drafted(seen).site, changed, { now: NOW })
        expect(findings.map(({ drifts }) => [...new Set(drifts.map((d) => d.property))])).to.deep.equal([[property]])
        expect(findings[0]?.pages).to.have.length(1)
      })
    }
  }
})

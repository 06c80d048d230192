import { expect } from 'chai'
import { readSite, resolveSite } from 'wembra'
import { draftSite, explainParts, findDrift, type Observation, type OutlineNode } from 'wembra/reality'
import { menu, observed, words } from '../support/observed.js'
import { NOW } from '../support/site.js'

const PATHS = ['/', '/visit', '/talks']

/** What is told of pages against the draft of how they were before: the properties of each finding, with its pages. */
function told(before: readonly Observation[], after: readonly Observation[]): readonly string[] {
  const site = resolveSite(readSite(draftSite(before).text, { file: 'draft.site.yaml' }))
  return findDrift(site, after, { now: NOW }).findings.map(({ drifts, pages }) =>
    [...new Set(drifts.map((d) => d.property)), 'on', ...pages].join(' '),
  )
}

/** The same page with a part changed, or gone. */
function withPart(seen: Observation, name: keyof Observation['parts'], change: object | undefined): Observation {
  const { [name]: own, ...others } = seen.parts
  return { ...seen, parts: change === undefined || !own ? others : { ...others, [name]: { ...own, ...change } } }
}

const PLAIN = PATHS.map((path) => observed(path))

describe('pages compared with what was drafted of them', () => {
  it('agree where nothing changed', () => expect(told(PLAIN, PLAIN)).to.deep.equal([]))

  describe('links of a header', () => {
    const OWN = ['/visit/bus', '/visit/hours', '/talks/friday']
    const before = PATHS.map((path, n) => observed(path, { header: [menu('/', '/visit', OWN[n] ?? '')] }))

    it('that only one page has are that page’s own, and may become others', () => {
      const after = PATHS.map((path, n) => observed(path, { header: [menu('/', '/visit', `/next/${n}`)] }))
      expect(told(before, after)).to.deep.equal([])
    })

    it('are told where all pages get one more', () => {
      const after = PATHS.map((path, n) => observed(path, { header: [menu('/', '/visit', '/shop', OWN[n] ?? '')] }))
      // One by one, since each page shows its own link beside it.
      expect(told(before, after)).to.deep.equal(['home', 'visit', 'talks'].map((page) => `header.links on ${page}`))
    })

    it('are told where one that all have is gone from one', () => {
      const after = before.map((seen, n) => (n === 2 ? observed('/talks', { header: [menu('/')] }) : seen))
      expect(told(before, after)).to.deep.equal(['header.links on talks'])
    })

    it('may be that of a heading in it', () => {
      const name: OutlineNode = {
        ...{ kind: 'heading', at: '1.', presence: 'shown', level: 1, text: 'Tarn' },
        links: [{ label: 'Tarn', url: 'https://tarn.example/' }],
      }
      const bar = PATHS.map((path) => observed(path, { header: [name, menu('/visit', '/talks')] }))
      expect(draftSite(bar).text).to.contain('{ heading: 1, text: Tarn, links: [ home ] }')
      expect(told(bar, bar)).to.deep.equal([])
      const away = PATHS.map((path) => observed(path, { header: [menu('/visit', '/talks')] }))
      expect(told(bar, away).join()).to.contain('header.links')
    })

    it('need not lead to the page itself', () => {
      const site = draftSite(PLAIN).text
      expect(site).to.contain('{ label: visit, page: visit }')
      expect(told(PLAIN, PLAIN)).to.deep.equal([])
    })
  })

  it('tell other words of a footer, and nothing of words that each page has for itself', () => {
    const before = PATHS.map((path) => observed(path, { footer: [words('Tarn'), words(`Page ${path}`, '3.')] }))
    const other = PATHS.map((path) => observed(path, { footer: [words('Fell'), words(`Page ${path}`, '3.')] }))
    const own = PATHS.map((path) => observed(path, { footer: [words('Tarn'), words(`Seen at ${path}`, '3.')] }))
    expect(told(before, other)).to.deep.equal(['footer.words on home visit talks'])
    expect(told(before, own)).to.deep.equal([])
  })

  it('tell one more heading 1: a number of headings is exact', () => {
    const [home, visit, talks] = PLAIN as [Observation, Observation, Observation]
    const more = { ...visit.headings[0], text: 'More', box: { x: 0, y: 400, width: 90, height: 24 } }
    const after = [home, { ...visit, headings: [...visit.headings, more] } as Observation, talks]
    expect(told(PLAIN, after)).to.deep.equal(['body.topHeadings on visit'])
  })

  it('tell a header that is gone, and not what follows from that', () => {
    const after = PLAIN.map((seen, n) => {
      const bare = withPart(seen, 'header', undefined)
      return n === 1
        ? withPart({ ...bare, exits: { ...seen.exits, header: [] } }, 'content', {
            box: { x: 0, y: 40, width: 1280, height: 824 },
          })
        : seen
    })
    expect(told(PLAIN, after)).to.deep.equal(['header.presence on visit'])
  })

  describe('one change that several numbers show', () => {
    /** A page whose text stands in a box: `[x, y, width]` of it; the column is all of it. */
    const boxed = (path: string, [x, y, width]: readonly [number, number, number]): Observation => {
      const box = { x, y, width, height: 864 - y }
      return withPart(withPart(observed(path), 'container', { box }), 'column', { box })
    }
    const findings = (before: readonly Observation[], after: readonly Observation[]) =>
      findDrift(resolveSite(readSite(draftSite(before).text, { file: 'draft.site.yaml' })), after, { now: NOW })
        .findings

    it('is one finding, explained by the settings of one layer', () => {
      const before = PATHS.map((path) => boxed(path, [140, 64, 1000]))
      const after = PATHS.map((path) => boxed(path, [190, 104, 900]))
      expect(told(before, after)).to.deep.equal(['width.container spacing.before on home visit talks'])
      expect(findings(before, after)[0]?.cause?.title).to.equal(
        'width.max 900px and spacing.before 40px in the theme options',
      )
    })

    it('is one finding without a cause where each page has another width and all lost as much of it', () => {
      const widths = [1000, 800, 700]
      const pages = (step: number) =>
        PATHS.map((path, n) => boxed(path, [(1280 - (widths[n] ?? 0) + step) / 2, 64, (widths[n] ?? 0) - step]))
      expect(told(pages(0), pages(60))).to.deep.equal(['width.container on home visit talks'])
      expect(findings(pages(0), pages(60))[0]?.cause).to.equal(null)
    })

    it('is two where two pages changed in ways of their own', () => {
      const before = PATHS.map((path) => boxed(path, [140, 64, 1000]))
      const after = [boxed('/', [140, 64, 1000]), boxed('/visit', [240, 64, 800]), boxed('/talks', [140, 84, 1000])]
      expect(told(before, after)).to.have.members(['width.container on visit', 'spacing.before on talks'])
    })

    it('is the bar’s height alone where the page keeps its place beneath', () => {
      const after = PLAIN.map((seen) => withPart(seen, 'header', { box: { x: 0, y: 0, width: 1280, height: 88 } }))
      expect(told(PLAIN, after)).to.deep.equal(['header.height on home visit talks'])
    })

    it('is the footer’s words alone where it grew or shrank with them', () => {
      const after = PATHS.map((path) =>
        withPart(observed(path, { footer: [words('Open till late')] }), 'footer', {
          box: { x: 0, y: 864, width: 1280, height: 60 },
        }),
      )
      expect(told(PLAIN, after)).to.deep.equal(['footer.words on home visit talks'])
    })

    it('is the sidebar alone where it left its room free', () => {
      const rail = {
        presence: 'shown',
        by: 'landmark',
        selector: 'aside',
        position: 'static',
        outline: [menu('/visit')],
      }
      const column = { x: 320, y: 64, width: 960, height: 800 }
      const beside = PATHS.map((path) => {
        const seen = withPart(observed(path), 'column', { box: column })
        const sidebar = { ...rail, box: { x: 0, y: 64, width: 280, height: 800 } }
        return { ...seen, parts: { ...seen.parts, sidebar } } as Observation
      })
      const after = beside.map((seen, n) =>
        n === 1 ? withPart(withPart(seen, 'sidebar', undefined), 'container', { box: column }) : seen,
      )
      expect(told(beside, after)).to.deep.equal(['sidebar.presence on visit'])
    })
  })

  it('make no difference between what is hidden and what is not there, but by the site’s own locator', () => {
    const hidden = PLAIN.map((seen) => withPart(seen, 'footer', { presence: 'hidden' }))
    const gone = PLAIN.map((seen) => withPart(seen, 'footer', undefined))
    expect(told(hidden, gone)).to.deep.equal([])
    expect(told(gone, hidden)).to.deep.equal([])
    const { text } = draftSite(hidden)
    const site = resolveSite(readSite(`${text}locators: { footer: "#foot" }\n`, { file: 'draft.site.yaml' }))
    const [finding] = findDrift(site, gone, { now: NOW }).findings
    expect(finding?.drifts[0]).to.deep.include({ property: 'footer.presence', expected: 'hidden', seen: 'absent' })
  })

  it('are found by their paths, with or without the file’s name', () => {
    const site = resolveSite(readSite(draftSite(PLAIN).text, { file: 'draft.site.yaml' }))
    const named = [
      observed('/index.html', { header: [menu('/', '/visit')] }),
      observed('/visit.html'),
      observed('/talks/index.html'),
    ]
    const { compared, strange } = findDrift(site, named, { now: NOW })
    expect(strange).to.deep.equal([])
    expect(compared).to.deep.equal(['home', 'visit', 'talks'])
  })
})

it('a surround of a draft is on as many pages as show it, whatever element it is at which width', () => {
  const phone = { name: 'phone', width: 390, height: 844 }
  const seen = PLAIN.flatMap((page) => [
    page,
    { ...withPart(page, 'footer', { selector: 'div.last' }), viewport: phone, size: { width: 390, height: 944 } },
  ])
  expect(draftSite(seen).text).to.match(/as: footer # on 3 of 3 pages/)
  expect(draftSite(seen).text).not.to.match(/# on [4-9] of 3 pages/)
})

describe('the front page of a draft', () => {
  const frontOf = (seen: readonly Observation[]): string | undefined =>
    /purposes: \{ front: ([\w-]+) \}/.exec(draftSite(seen).text)?.[1]

  it('answers at /, also where the file is named', () => {
    expect(frontOf(PLAIN)).to.equal('home')
    expect(frontOf([observed('/index.html'), observed('/visit')])).to.equal('home')
  })

  it('is where the first link of most headers leads, if that was seen', () => {
    const bar = { header: [menu('/docs/start', '/docs/more')] }
    const docs = ['/docs/start', '/docs/more', '/docs/less'].map((path) => observed(path, bar))
    expect(frontOf(docs)).to.equal('start')
    expect(frontOf(docs.slice(1))).to.equal(undefined)
  })

  it('is not guessed where it was not seen, and no rule asks for it', () => {
    const { text } = draftSite([observed('/visit'), observed('/talks')])
    expect(text).not.to.contain('purposes')
    expect(text).to.contain('front-unassigned: none')
  })
})

describe('why an element was taken for a part', () => {
  const aboutOf = (seen: readonly Observation[], part: string) => {
    const [view] = explainParts(seen)
    return view?.parts.find((each) => each.part === part)
  }

  it('is told with what repeats, where it stands and where it leads', () => {
    expect(aboutOf(PLAIN, 'header')).to.deep.equal({
      ...{ part: 'header', presence: 'shown', selector: 'header#top' },
      evidence: [
        ...['found by its landmark', '1280 × 64 px at 0, 0', '2 links', 'leads to the front page'],
        'the same element on 3 of 3 pages',
      ],
      doubts: [],
    })
    expect(aboutOf(PLAIN, 'footer')?.evidence).to.include('the last thing on the page')
  })

  it('has doubts where something speaks against it', () => {
    const [home, ...others] = PLAIN as [Observation, ...Observation[]]
    const tall = withPart(home, 'header', { box: { x: 0, y: 300, width: 1280, height: 500 }, outline: [] })
    expect(aboutOf([tall, ...others], 'header')?.doubts).to.deep.equal([
      ...['it leads nowhere', 'it is not at the top', 'it takes more than half of the screen'],
    ])
    const other = withPart(home, 'title', { text: 'Something else' })
    expect(aboutOf([other, ...others], 'title')?.doubts).to.deep.equal(['the document’s title has other words'])
    const lone = withPart(home, 'footer', { selector: 'div.last', presence: 'hidden' })
    expect(aboutOf([lone, ...others], 'footer')?.doubts).to.deep.equal([
      ...['it is hidden at this viewport', 'no other page has the same element'],
    ])
  })

  it('says which parts were not found', () => {
    expect(explainParts(PLAIN)[0]?.none).to.deep.equal(['sidebar'])
  })
})

import { expect } from 'chai'
import {
  diffSites,
  memoryFiles,
  PROPERTY_PATHS,
  readSite,
  resolveSite,
  SiteError,
  UnknownNameError,
  findWays,
  type PropertyPath,
  type Goal,
  type Json,
  type Patch,
  type ResolvedSite,
} from 'wembra'
import { meets } from '../../src/change/ways.js'
import { setAt } from '../../src/inspect/propose.js'
import { Random, randomSite } from '../support/random-site.js'
import { NOW, siteOf } from '../support/site.js'

const SITE = `surrounds: { top: { as: header, height: 60px }, bare: { as: header, height: 40px }, foot: { as: footer, height: 40px } }
theme: { layout: { header: { use: top }, footer: { use: foot } } }
kinds: { event: {} }
templates:
  t: {}
  lean: { layout: { header: { use: bare }, spacing: 10px } }
  shut: { layout: { header: { use: top }, lock: [ header ] }, arrange: [ content ] }
pages:
  a: { path: /a, title: A, template: t }
  b: { path: /b, title: B, template: t }
  c: { path: /c, title: C, template: shut }
`
const site = siteOf(SITE)
const ways = (page: string, ...goals: Goal[]) => findWays(site, [page], goals, { now: NOW })
const goal = (property: PropertyPath, value: Json): Goal => ({ property, value })

/** A sample of what `npm run agree` asks. */
const GOALS = Number(process.env['WEMBRA_GOALS'] ?? 30)

describe('ways to give a page a layout', () => {
  it('from the smallest, at every layer where it can be done', () => {
    const found = ways('a', goal('header.use', 'bare'))
    expect(found.ways.map(({ title, others }) => `${title}: ${others.join(' ')}`)).to.deep.equal([
      'set it on the page a: ',
      'the template lean, which does it already: ',
      'a new template, t-a, based on t: ',
      'an assign entry for the page a: ',
      'a theme option: b',
      'set it in the template t: b',
    ])
  })

  it('a template that nearly does it says what is missing', () => {
    const found = ways('a', goal('header.use', 'bare'), goal('spacing.before', '30px'))
    expect(found.ways.map((way) => way.title)).to.include('the template lean, with spacing.before set beside it')
  })

  it('names the locks and gates in the way', () => {
    const found = ways('c', goal('header.use', 'bare'))
    expect(found.blocked.find((b) => b.title === 'set it on the page c')?.because).to.match(
      /on c: .*locked by template shut/,
    )
    expect(found.ways.map((way) => way.title)).to.include('a new template, shut-c, based on shut')
    const title = ways('c', goal('title.presence', 'shown'))
    expect(title.blocked[0]?.because).to.match(/arrange of template shut does not list it/)
    expect(title.ways.map((way) => way.title).slice(0, 2)).to.deep.equal([
      'print title in the template shut',
      'the template t, which does it already',
    ])
  })

  it('says so where the page has it already', () => {
    expect(ways('a', goal('header.use', 'top'))).to.deep.equal({ isMet: true, ways: [], blocked: [] })
  })

  it('means several pages by how they were selected', () => {
    const { ways: found } = findWays(site, ['a', 'b'], [goal('footer.presence', 'absent')], {
      now: NOW,
      where: { template: 't' },
    })
    const entry = found.find((way) => way.title === 'an assign entry for these pages')
    expect(entry?.patch.at(-1)).to.deep.include({
      value: { layout: { footer: { presence: 'absent' } }, where: [{ template: 't' }] },
    })
  })
})

/** A value that a property may have, of those the random sites know. */
function randomGoal(random: Random): Goal {
  return random.pick<Goal>([
    goal('header.presence', random.pick(['shown', 'hidden', 'absent'])),
    goal('header.use', random.pick(['h0', 'h1', 'ghost'])),
    goal('header.position', random.pick(['flow', 'sticky', 'fixed', 'overlay'])),
    goal('title.presence', random.pick(['shown', 'visually-hidden', 'absent'])),
    goal('sidebar.side', random.pick(['none', 'left', 'right'])),
    goal('width.mode', random.pick(['boxed', 'full'])),
    goal('spacing.before', random.pick([0, '16px', '32px'])),
    goal('comments.presence', random.pick(['shown', 'absent'])),
  ])
}

function siteAt(seed: number): ResolvedSite | undefined {
  const { main, vendor } = randomSite(seed)
  try {
    return resolveSite(
      readSite(JSON.stringify(main), { file: 'r.json', files: memoryFiles({ 'vendor.yaml': JSON.stringify(vendor) }) }),
    )
  } catch (error) {
    if (error instanceof SiteError) return undefined
    throw error
  }
}

/** Every change that says one thing at one place. */
function singleSettings({ site: { data }, assignments }: ResolvedSite, page: string): readonly (readonly string[])[] {
  const of = (section: string, things: object | undefined): string[][] =>
    Object.keys(things ?? {}).map((id) => [section, id])
  return [
    ['theme'],
    ['pages', page],
    ...of('kinds', data.kinds),
    ...of('templates', data.templates),
    ...of('builders', data.builders),
    ...assignments.entries.flatMap(({ index, data: entry }) => (entry.layout ? [['assign', String(index)]] : [])),
  ]
}

function tryWith(resolved: ResolvedSite, patch: Patch): ResolvedSite | undefined {
  try {
    return resolved.with(patch)
  } catch {
    return undefined
  }
}

/** The ways; none where a goal names something that the site does not have, which is refused. */
function waysOrNone(resolved: ResolvedSite, page: string, goals: readonly Goal[]) {
  try {
    return findWays(resolved, [page], goals, { now: NOW })
  } catch (error) {
    if (!(error instanceof UnknownNameError)) throw error
    expect(Object.keys(resolved.site.data.surrounds ?? {})).not.to.include(error.asked)
    return undefined
  }
}

describe('ways on random sites', () => {
  it(`${GOALS} random goals: each way gives exactly what was asked and named, and where there is none there is none`, () => {
    const random = new Random(5)
    let asked = 0
    let offered = 0
    for (let seed = 1; asked < GOALS; seed++) {
      const resolved = siteAt(seed)
      const page = `p${random.below(9)}`
      if (!resolved || resolved.page(page).dormant) continue
      const goals = random.chance(0.25) ? [randomGoal(random), randomGoal(random)] : [randomGoal(random)]
      if (new Set(goals.map((g) => g.property)).size < goals.length) continue
      const found = waysOrNone(resolved, page, goals)
      if (!found || found.isMet) continue
      asked += 1
      // All ways are held to what they name; of a few also every facet of every page.
      for (const way of found.ways) {
        const after = resolved.with(way.patch)
        expect(
          goals.every((g) => meets(after.page(page), g, after.rem)),
          `${seed} ${way.title}`,
        ).to.equal(true)
      }
      const [first] = found.ways
      if (first) {
        offered += 1
        const diff = diffSites(resolved, resolved.with(first.patch), { now: NOW })
        const moved = diff.groups.filter((g) => g.facets.length + g.boxes.length > 0).flatMap((g) => g.pages)
        expect(moved.filter((id) => id !== page).sort()).to.deep.equal([...first.others].sort())
      } else if (goals.length === 1) {
        const [only] = goals as [Goal]
        for (const holder of singleSettings(resolved, page)) {
          const after = tryWith(
            resolved,
            setAt(resolved.site, [...holder, 'layout', ...only.property.split('.')], only.value),
          )
          expect(
            after && meets(after.page(page), only, after.rem),
            `${seed} ${page} ${JSON.stringify(only)} at ${holder.join('.')}`,
          ).to.not.equal(true)
        }
      }
    }
    expect(offered).to.be.at.least(0.6 * GOALS)
    expect(PROPERTY_PATHS).to.include('header.use')
  })
})

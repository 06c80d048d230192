import { expect } from 'chai'
import { siteOf, valueOf } from '../support/site.js'

/** The `spacing.before` that a page gets from entries given as [px, where]. */
function winner(entries: readonly (readonly [number, string])[], page: string, more = ''): number {
  const list = entries
    .map(([px, where]) => `  - { layout: { spacing: { before: ${px} } }, where: ${where} }`)
    .join('\n')
  const site = siteOf(`
${more}
assign:
${list}
kinds: { article: {}, listing: {} }
templates: { tall: {} }
builders: { stave: {} }
purposes: { front: home, listing: { article: list } }
pages:
  home: { path: /welcome, title: Home }
  list: { path: /list, title: List, kind: listing }
  visit: { path: /visit, title: Visit, parent: home, tags: [ a, b ] }
  deep: { path: /visit/by/train, title: Deep, parent: visit, template: tall, built: { with: stave } }
  note: { path: /notes/one, title: Note, kind: article, tags: [ b ] }`)
  return valueOf(site, 'spacing.before', 'desk', page) as number
}
const BASELINE = 48

describe('selectors', () => {
  for (const [where, matching] of [
    ['{ all: true }', ['home', 'list', 'visit', 'deep', 'note']],
    ['{ kind: article }', ['note']],
    ['{ kind: [ article, listing ] }', ['list', 'note']],
    ['{ page: visit }', ['visit']],
    ['{ tag: b }', ['visit', 'note']],
    ['{ kind: article, tag: a }', []],
    ['[ { kind: article }, { page: home } ]', ['home', 'note']],
    ['{ under: home }', ['visit', 'deep']],
    ['{ under: visit }', ['deep']],
    ['{ path: /visit }', ['visit']],
    ['{ path: /visit/ }', ['visit']],
    ['{ path: /Visit }', []],
    ['{ path: / }', ['home']],
    ['{ path: /* }', ['list', 'visit']],
    ['{ path: /visit/** }', ['visit', 'deep']],
    ['{ path: "**/train" }', ['deep']],
    ['{ path: /visit/*/train }', ['deep']],
    ['{ path: /v*t }', ['visit']],
    ['{ purpose: front }', ['home']],
    ['{ purpose: listing }', ['list']],
    ['{ purpose: "listing:article" }', ['list']],
    ['{ purpose: "listing:page" }', []],
    ['{ builder: stave }', ['deep']],
    ['{ template: tall }', ['deep']],
  ] as const)
    it(`${where} means ${matching.join(', ') || 'none'}`, () => {
      const pages = ['home', 'list', 'visit', 'deep', 'note']
      expect(pages.filter((page) => winner([[1, where]], page) === 1)).to.deep.equal(matching)
    })
})

describe('assign entries that match are folded weakest first', () => {
  // Each is weaker than all before it, wherever it stands in the list.
  const ladder = [
    [1, '{ page: deep }'],
    [2, '{ path: /visit/by/train }'],
    [3, '{ path: /visit/by/** }'],
    [4, '{ under: visit }'],
    [5, '{ template: tall, builder: stave }'],
    [6, '{ template: tall }'],
    [7, '{ kind: page }'],
    [8, '{ all: true }'],
  ] as const
  for (let n = 0; n < ladder.length; n++)
    it(`${ladder[n]?.[1]} beats all that is less specific`, () => {
      const rest = ladder.slice(n)
      expect(winner(rest, 'deep')).to.equal(n + 1)
      expect(winner([...rest].reverse(), 'deep')).to.equal(n + 1)
    })

  it('purpose beats path, and tag beats kind', () => {
    expect(
      winner(
        [
          [1, '{ purpose: front }'],
          [2, '{ path: / }'],
        ],
        'home',
      ),
    ).to.equal(1)
    expect(
      winner(
        [
          [1, '{ tag: b }'],
          [2, '{ kind: article }'],
        ],
        'note',
      ),
    ).to.equal(1)
  })

  it('of a list of selectors the strongest that matches counts', () => {
    expect(
      winner(
        [
          [1, '[ { all: true }, { page: visit } ]'],
          [2, '{ path: /visit }'],
        ],
        'visit',
      ),
    ).to.equal(1)
    expect(
      winner(
        [
          [1, '[ { all: true }, { page: home } ]'],
          [2, '{ path: /visit }'],
        ],
        'visit',
      ),
    ).to.equal(2)
  })

  it('any match in except shuts the entry out', () => {
    const text = (page: string): number =>
      valueOf(
        siteOf(`
assign: [ { layout: { spacing: 1 }, where: { page: visit }, except: [ { tag: shut } ] } ]
pages: { visit: { path: /visit, title: Visit, tags: [ ${page} ] } }`),
        'spacing.before',
      ) as number
    expect([text('open'), text('shut')]).to.deep.equal([1, BASELINE])
  })

  it('in a tie the earlier entry wins', () => {
    expect(
      winner(
        [
          [1, '{ tag: a }'],
          [2, '{ tag: b }'],
        ],
        'visit',
      ),
    ).to.equal(1)
  })

  it('in a tie the nearer file wins before the earlier entry', () => {
    const site = siteOf(
      `extends: [ vendor.yaml ]
assign: [ { layout: { spacing: 2 }, where: { tag: a } } ]
pages: { visit: { path: /visit, title: Visit, tags: [ a ] } }`,
      { 'vendor.yaml': 'assign: [ { layout: { spacing: 1 }, where: { tag: a } } ]' },
    )
    expect(valueOf(site, 'spacing.before')).to.equal(2)
  })

  it('use sets only that facet’s use', () => {
    const site = siteOf(`
surrounds: { foot: { as: footer } }
assign: [ { use: foot, where: { all: true } } ]`)
    expect(valueOf(site, 'footer.use')).to.equal('foot')
    expect(site.page('visit').at('desk').footer.use.chain[0]?.at?.pointer).to.equal('/assign/0/use')
    expect(valueOf(site, 'header.use')).to.equal(null)
  })

  it('an entry that chooses a template is folded the same way', () => {
    const site = siteOf(`
templates: { a: {}, b: {} }
assign: [ { template: a, where: { page: visit } }, { template: b, where: { all: true } } ]`)
    expect(site.page('visit').choice.template?.id).to.equal('a')
  })
})

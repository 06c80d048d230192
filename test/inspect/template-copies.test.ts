import { expect } from 'chai'
import { inspect } from 'wembra'
import { Random } from '../support/random-site.js'
import { NOW, siteOf } from '../support/site.js'

/** Settings with values that a template may have. */
const VALUES: Readonly<Record<string, readonly string[]>> = {
  'title.presence': ['absent', 'hidden', 'shown'],
  'spacing.before': ['0px', '8px', '16px'],
  'spacing.after': ['0px', '8px', '16px'],
  'width.max': ['900px', '1000px', '1100px', '1200px'],
  'width.gutter': ['10px', '20px'],
  'header.position': ['fixed', 'sticky', 'overlay'],
  'footer.presence': ['absent', 'shown'],
  'comments.maxWidth': ['400px', '500px'],
}

interface Made {
  readonly settings: ReadonlyMap<string, string>
  readonly own: readonly string[]
}

const randomTemplate = (r: Random): Made => ({
  settings: new Map(r.some(Object.keys(VALUES), 0.75).map((path) => [path, r.pick(VALUES[path] as string[])])),
  own: r.chance(0.15) ? r.some(Object.keys(VALUES), 0.3) : [],
})

function written(templates: readonly Made[]): string {
  const made = templates.map(({ settings, own }, n) => {
    const layout: Record<string, Record<string, string>> = {}
    for (const [path, value] of settings) {
      const [facet = '', property = ''] = path.split('.')
      layout[facet] = { ...layout[facet], [property]: value }
    }
    return [`t${n}`, { layout, ...(own.length > 0 && { own }) }]
  })
  return `templates: ${JSON.stringify(Object.fromEntries(made))}\n`
}

/** The settings that two templates do not share, as the rule’s page says: all but those that one of them calls its own. */
function differing(a: Made, b: Made): readonly string[] {
  return Object.keys(VALUES).filter(
    (path) => a.settings.get(path) !== b.settings.get(path) && !a.own.includes(path) && !b.own.includes(path),
  )
}

const isCopy = (a: Made, b: Made): boolean =>
  a.settings.size >= 4 && b.settings.size >= 4 && differing(a, b).length <= 2

describe('templates that are nearly the same', () => {
  for (const seed of [1, 2, 3, 4, 5, 6])
    it(`are each told with the first that they are nearly the same as, among 60 (seed ${seed})`, () => {
      const r = new Random(seed)
      const templates = Array.from({ length: 60 }, () => randomTemplate(r))
      const expected = templates.flatMap((copy, n) => {
        const source = templates.slice(0, n).findIndex((other) => isCopy(copy, other))
        return source < 0 ? [] : [[`t${n}`, `t${source}`, differing(copy, templates[source] as Made).length]]
      })
      expect(expected.length, 'some, and not all').to.be.within(5, 55)
      const found = inspect(siteOf(written(templates)), { now: NOW, rules: ['template-copies'] })
      const told = found.map(({ at, message, numbers }) => [
        at.pointer.slice('/templates/'.length),
        /from "(t\d+)"/.exec(message)?.[1],
        numbers['differ'],
      ])
      expect(told).to.have.deep.members(expected)
    })
})

import { own, toPointer, type Json } from '../../model/json.js'
import { removeAt, setAt } from '../propose.js'
import { siteRule } from '../rule.js'
import { REPEATED_PAGES, REPEATED_SHARE } from '../thresholds.js'
import { ownLayer } from '../own-settings.js'
import type { PageSight } from '../page-sight.js'

/** The same exception on most pages of a kind. */
export const overrideRepeated = siteRule({
  id: 'override-repeated',
  severity: 'note',
  upkeep: 'cleared',
  facet: 'override',
  summary: 'Most pages of a kind have the same override: it is not an exception, but the rule of the kind.',
  matters: 'The next page of the kind will lack it.',
  holds:
    'The same setting with the same value is on at least 60 % of a kind’s pages, and on at least 3. pages counts these, share is their share.',
  example: `kinds: { event: {} }
pages:
  a: { path: /a, title: A, kind: event, layout: { title: visually-hidden } }
  b: { path: /b, title: B, kind: event, layout: { title: visually-hidden } }
  c: { path: /c, title: C, kind: event, layout: { title: visually-hidden } }
`,
  numbers: ['pages', 'share'],
  message: ({ worst }) =>
    `${worst.numbers['pages']} pages of kind ${worst.words?.['kind'] ?? ''} (${Math.round((worst.numbers['share'] ?? 0) * 100)} %) set the same ${worst.words?.['path'] ?? ''}`,
  advice: 'set it once, for the kind, and keep exceptions on pages',
  marks(sight, mark) {
    const { kind } = sight.page.facts
    mark(kind, PAGE)
    for (const { path, value, pointer } of overridesOf(sight))
      mark(kind, `${path} ${JSON.stringify(value)}`, { path, pointer })
  },
  judge(tally, _survey, report, kind) {
    const size = tally.count(PAGE)
    for (const said of tally.values()) {
      const pages = tally.count(said)
      if (said === PAGE || pages < REPEATED_PAGES || pages / size < REPEATED_SHARE) continue
      const marks = tally.marks(said)
      const overrides = marks.map(({ detail }) => detail as OwnOverride)
      const { path = '', pointer = '' } = overrides[0] ?? {}
      report({
        at: pointer,
        pages: marks.map(({ page }) => page),
        numbers: { pages, share: pages / size },
        words: { kind, path, value: said.slice(path.length + 1) },
        related: overrides.map(({ pointer: at }) => ({ pointer: at, because: 'sets it' })),
      })
    }
  },
  propose: ({ worst, cases }, { site }) => {
    const { kind = '', path = '', value = 'null' } = worst.words ?? {}
    const pointers = [...new Set(cases.flatMap((c) => (c.related ?? []).map((r) => r.pointer)))]
    if (!own(site.data.kinds, kind)) return []
    return [
      {
        title: `set it once for kind ${kind}`,
        patch: [
          ...setAt(site, ['kinds', kind, 'layout', ...path.split('.')], JSON.parse(value) as Json),
          ...pointers.flatMap((pointer) => removeAt(site, pointer)),
        ],
      },
    ]
  },
})

/** What every page of a kind is counted under. */
const PAGE = ''

interface OwnOverride {
  readonly path: string
  readonly pointer: string
}

function overridesOf(sight: PageSight) {
  const at = toPointer(['pages', sight.page.id, 'layout'])
  return [...(ownLayer(sight)?.settings.values ?? [])].map(([path, { value, pointer }]) => ({
    path,
    value,
    pointer: at + pointer,
  }))
}

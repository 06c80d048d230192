import { own, toPointer, type Json } from '../../model/json.js'
import { removeAt, setAt } from '../propose.js'
import { siteRule, type RelatedPointer } from '../rule.js'
import { REPEATED_PAGES, REPEATED_SHARE } from '../thresholds.js'
import { ownLayer } from '../own-settings.js'
import type { PageSight } from '../page-sight.js'

/** The same exception on most pages of a kind. */
export const overrideRepeated = siteRule({
  id: 'override-repeated',
  severity: 'note',
  facet: 'override',
  summary: 'Most pages of a kind carry the same setting of their own: it is no exception, but the kind’s rule.',
  matters: 'The next page of the kind will lack it.',
  holds:
    'The same setting with the same value stands on at least 60 % of a kind’s pages, and on 3 at least. pages counts these, share is their share.',
  example: `kinds: { event: {} }
pages:
  a: { path: /a, title: A, kind: event, layout: { title: visually-hidden } }
  b: { path: /b, title: B, kind: event, layout: { title: visually-hidden } }
  c: { path: /c, title: C, kind: event, layout: { title: visually-hidden } }
`,
  numbers: ['pages', 'share'],
  message: ({ worst }) =>
    `${worst.numbers['pages']} pages of kind ${worst.words?.['kind'] ?? ''} (${Math.round((worst.numbers['share'] ?? 0) * 100)} %) say the same of ${worst.words?.['path'] ?? ''}`,
  advice: 'say it once, for the kind, and keep exceptions on pages',
  digests: [overridesOf],
  check(survey, report) {
    const sizes = new Map<string, number>()
    const said = new Map<string, { kind: string; path: string; value: Json; at: string[]; pages: string[] }>()
    for (const page of survey.pages) {
      const { kind } = page.facts
      sizes.set(kind, (sizes.get(kind) ?? 0) + 1)
      for (const { path, value, pointer } of survey.digest(overridesOf, page)) {
        const key = `${kind} ${path} ${JSON.stringify(value)}`
        const known = said.get(key) ?? { kind, path, value, at: [], pages: [] }
        known.at.push(pointer)
        known.pages.push(page.id)
        said.set(key, known)
      }
    }
    for (const { kind, path, value, at, pages } of said.values()) {
      const share = pages.length / (sizes.get(kind) ?? 1)
      if (pages.length < REPEATED_PAGES || share < REPEATED_SHARE) continue
      const related = at.map((pointer): RelatedPointer => ({ pointer, because: 'says it' }))
      report({
        at: at[0] as string,
        pages,
        numbers: { pages: pages.length, share },
        words: { kind, path, value: JSON.stringify(value) },
        related,
      })
    }
  },
  propose: ({ worst, cases }, { site }) => {
    const { kind = '', path = '', value = 'null' } = worst.words ?? {}
    const pointers = [...new Set(cases.flatMap((c) => (c.related ?? []).map((r) => r.pointer)))]
    if (!own(site.data.kinds, kind)) return []
    return [
      {
        title: `say it once for kind ${kind}`,
        patch: [
          ...setAt(site, ['kinds', kind, 'layout', ...path.split('.')], JSON.parse(value) as Json),
          ...pointers.flatMap((pointer) => removeAt(site, pointer)),
        ],
      },
    ]
  },
})

function overridesOf(sight: PageSight) {
  const at = toPointer(['pages', sight.page.id, 'layout'])
  return [...(ownLayer(sight)?.settings.values ?? [])].map(([path, { value, pointer }]) => ({
    path,
    value,
    pointer: at + pointer,
  }))
}

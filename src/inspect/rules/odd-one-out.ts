import { rememberedText } from '../../css/remembered-text.js'
import { remembered } from '../../model/remembered.js'
import { facetRecord, type FacetRecord } from '../../measure/facet-record.js'
import { pathOf, FACET_NAMES, FACETS, type Facet } from '../../model/facets.js'
import type { AssignData } from '../../model/schema.js'
import type { DecidingLayer } from '../../resolve/page.js'
import { selectorsOf } from '../../select/selector.js'
import { siteRule } from '../rule.js'
import type { Survey } from '../survey.js'
import { ODD_PAGES, ODD_SHARE } from '../thresholds.js'

/** A page that is not like its siblings without a setting of its own. */
export const oddOneOut = siteRule({
  id: 'odd-one-out',
  severity: 'note',
  facet: 'override',
  summary:
    'A page differs in a facet from nearly all pages of its kind and parent, though nothing was set for it alone.',
  matters: 'One page of a row looks as if it belonged to another site.',
  holds:
    'At a viewport at least 80 % of the pages of the same kind and parent, 5 or more, have one value of a facet and the page another, and nothing that is set for this page alone decides it. share is their share.',
  example: `kinds: { event: {} }
assign: [ { layout: { spacing: 0 }, where: { tag: old } } ]
pages:
  a: { path: /a, title: A, kind: event }
  b: { path: /b, title: B, kind: event }
  c: { path: /c, title: C, kind: event }
  d: { path: /d, title: D, kind: event }
  e: { path: /e, title: E, kind: event }
  f: { path: /f, title: F, kind: event, tags: [ old ] }
`,
  numbers: ['share'],
  message: ({ worst }) =>
    `its ${worst.words?.['facet'] ?? 'layout'} is not that of ${Math.round((worst.numbers['share'] ?? 0) * 100)} % of its sibling pages`,
  advice: 'give it what the others have, or set the difference on the page itself',
  marks({ page, sights }, mark) {
    const measures = sights.map(({ measure }) => measure)
    mark(`${page.facts.kind}\n${page.data.parent ?? ''}`, textOf(facetRecord(page, measures)))
  },
  looksAgain: true,
  judge(tally, survey, report) {
    const all = tally.count()
    const values = tally.values()
    if (all < ODD_PAGES || values.length < 2) return
    const looks = values.map((value) => ({ value, viewports: viewportsIn(value), times: tally.count(value) }))
    for (const viewport of survey.viewports) {
      const facetsOf = looks.map(({ viewports }) => viewports.get(viewport) ?? [])
      FACET_NAMES.forEach((facet, n) => {
        const first = facetsOf[0]?.[n]
        // Most facets are the same on all pages, whatever else differs.
        if (facetsOf.every((facets) => facets[n] === first)) return
        const counts = new Map<string, number>()
        const lookOf = (look: number): string => facetsOf[look]?.[n] ?? ''
        looks.forEach(({ times }, look) => counts.set(lookOf(look), (counts.get(lookOf(look)) ?? 0) + times))
        const [usual, times] = [...counts].reduce((a, b) => (b[1] > a[1] ? b : a))
        const share = times / all
        if (times < ODD_PAGES || share < ODD_SHARE) return
        looks.forEach(({ value }, look) => {
          if (lookOf(look) === usual) return
          for (const { page } of tally.marks(value)) {
            const decider = deciderFor(survey, page, viewport, facet)
            if (decider !== undefined)
              report({ at: decider, pages: [page], viewports: [viewport], numbers: { share }, words: { facet } })
          }
        })
      })
    }
  },
})

/** Between the facets of a text, and between its viewports; no value has them. */
const [FACET_END, VIEWPORT_END] = ['\u0000', '\u0001']

/** How many texts are held in parts: most of a group stay as they are from one change to the next. */
const MOST_PARTED = 1000

/** What each facet comes to at each viewport, of a text of all of them. */
const viewportsIn = rememberedText(MOST_PARTED, (text): ReadonlyMap<string, readonly string[]> => {
  const parts = text.split(VIEWPORT_END).map((part) => part.split(FACET_END))
  return new Map(parts.map(([viewport = '', ...facets]) => [viewport, facets]))
})

/** The number of each property's facet. */
const FACET_OF: Readonly<Record<string, number>> = Object.fromEntries(
  FACET_NAMES.flatMap((facet, n) => Object.keys(FACETS[facet]).map((property) => [pathOf(facet, property), n])),
)

/** What all facets come to at all viewports, as one text to compare; many pages share the record, and so the text. */
const textOf = remembered((record: FacetRecord): string =>
  Object.entries(record)
    .map(([viewport, values]) => {
      const parts = FACET_NAMES.map(() => '')
      for (const path of Object.keys(values)) {
        const value = values[path]
        parts[FACET_OF[path] ?? 0] += `${path} ${typeof value === 'number' ? value : JSON.stringify(value)}\n`
      }
      return [viewport, ...parts].join(FACET_END)
    })
    .join(VIEWPORT_END),
)

/** What decides a facet of a page; `undefined` where that is set for this page alone. */
function deciderFor({ resolved }: Survey, id: string, viewport: string, facet: Facet): string | undefined {
  const page = resolved.page(id)
  const view = page.at(viewport)
  const deciders = Object.keys(FACETS[facet]).flatMap((property) => view.decidedBy(pathOf(facet, property)) ?? [])
  const namesIt = (entry: AssignData | undefined): boolean =>
    selectorsOf(entry?.where).some((s) => s.page !== undefined || s.path !== undefined)
  const choseIt = (): boolean => {
    const chosen = page.choice.winner
    return chosen?.layer === 'page' || chosen?.layer === 'built' || namesIt(chosen?.entry)
  }
  const isForIt = ({ layer, entry }: DecidingLayer): boolean => layer === 'page' || layer === 'style' || namesIt(entry)
  if (deciders.some(isForIt) || (deciders.some(({ layer }) => layer === 'template') && choseIt())) return undefined
  const strongest = STRONGEST_FIRST.flatMap((layer) => deciders.find((entry) => entry.layer === layer) ?? [])[0]
  return strongest?.pointer || '/theme'
}

const STRONGEST_FIRST = ['builder', 'assign', 'template', 'kind', 'theme', 'baseline']

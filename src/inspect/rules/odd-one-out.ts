import { facetRecord, type FacetRecord } from '../../measure/facet-record.js'
import { FACET_NAMES, FACETS, type Facet } from '../../model/facets.js'
import type { DecidingLayer } from '../../resolve/page.js'
import { selectorsOf } from '../../select/selector.js'
import { siteRule } from '../rule.js'
import { Sight } from '../sight.js'
import type { Survey } from '../survey.js'
import { ODD_PAGES, ODD_SHARE } from '../thresholds.js'

/** A page that is not like its siblings, and nobody asked for it. */
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
    `its ${worst.words?.['facet'] ?? 'layout'} is not that of ${Math.round((worst.numbers['share'] ?? 0) * 100)} % of the pages beside it`,
  advice: 'give it what the others have, or say on the page that it is meant to differ',
  marks({ page, sights }, mark) {
    const group = `${page.facts.kind}\n${page.data.parent ?? ''}`
    const measured = new Map(sights.map((sight) => [sight.view.viewport.name, sight]))
    const record = facetRecord(page, (viewport) => (measured.get(viewport) as Sight).measure)
    for (const { view } of sights) {
      const viewport = view.viewport.name
      const values = valuesByFacet(record[viewport] ?? {})
      for (const facet of FACET_NAMES)
        mark(`${group}\n${facet}\n${viewport}`, values.get(facet) ?? '', detailOf(viewport, facet))
    }
  },
  looksAgain: true,
  judge(tally, survey, report) {
    const [usual, times] = tally
      .values()
      .map((value) => [value, tally.count(value)] as const)
      .reduce((a, b) => (b[1] > a[1] ? b : a), ['', 0] as const)
    const share = times / tally.count()
    if (times < ODD_PAGES || share < ODD_SHARE || share === 1) return
    for (const value of tally.values())
      if (value !== usual)
        for (const { page, detail } of tally.marks(value)) {
          const { viewport, facet } = detail as FacetView
          const at = deciderFor(survey, page, viewport, facet)
          if (at !== undefined)
            report({ at, pages: [page], viewports: [viewport], numbers: { share }, words: { facet } })
        }
  },
})

interface FacetView {
  readonly viewport: string
  readonly facet: Facet
}

const details = new Map<string, FacetView>()

/** The same object for every page. */
function detailOf(viewport: string, facet: Facet): FacetView {
  const key = `${viewport} ${facet}`
  let detail = details.get(key)
  if (!detail) details.set(key, (detail = { viewport, facet }))
  return detail
}

const known = new WeakMap<object, ReadonlyMap<string, string>>()

/** What each facet comes to, as a text to compare; many pages share the record, and so the texts. */
function valuesByFacet(record: FacetRecord[string]): ReadonlyMap<string, string> {
  let values = known.get(record)
  if (!values) {
    const parts = new Map<string, string[]>()
    for (const [path, value] of Object.entries(record)) {
      const facet = path.slice(0, path.indexOf('.'))
      parts.set(facet, [...(parts.get(facet) ?? []), `${path} ${JSON.stringify(value)}`])
    }
    known.set(record, (values = new Map([...parts].map(([facet, list]) => [facet, list.sort().join('\n')]))))
  }
  return values
}

/** What decides a facet of a page; `undefined` where that is set for this page alone. */
function deciderFor({ resolved, now }: Survey, id: string, viewport: string, facet: Facet): string | undefined {
  const page = resolved.page(id)
  const { view } = new Sight(resolved, page, viewport, now)
  const deciders = Object.keys(FACETS[facet]).flatMap((property) => view.decidedBy(`${facet}.${property}`) ?? [])
  const chosen = page.choice.chain.find((voice) => voice.outcome === 'wins')
  const namesIt = (pointer: string | undefined): boolean => {
    const entry = resolved.assignments.entries[Number(/^\/assign\/(\d+)/.exec(pointer ?? '')?.[1])]
    return selectorsOf(entry?.data.where).some((s) => s.page !== undefined || s.path !== undefined)
  }
  const choseIt = chosen?.layer === 'page' || chosen?.layer === 'built' || namesIt(chosen?.pointer)
  const isForIt = ({ layer, pointer }: DecidingLayer): boolean =>
    layer === 'page' || layer === 'style' || (layer === 'template' && choseIt) || namesIt(pointer)
  if (deciders.some(isForIt)) return undefined
  const strongest = STRONGEST_FIRST.flatMap((layer) => deciders.find((entry) => entry.layer === layer) ?? [])[0]
  return strongest?.pointer || '/theme'
}

const STRONGEST_FIRST = ['builder', 'assign', 'template', 'kind', 'theme', 'baseline']

import { DEFAULT_ARRANGE, pathOf } from '../../model/facets.js'
import { own } from '../../model/json.js'
import type { Item } from '../../model/site-data.js'
import { surroundOf } from '../../resolve/extensions.js'
import type { PageSight } from '../page-sight.js'
import { giveTo, pagesInWords } from '../propose.js'
import { pageRule, type Fact } from '../rule.js'

/** Nothing in the markup names the page. */
export const headlineLost = pageRule({
  id: 'headline-lost',
  severity: 'warning',
  facet: 'title',
  summary: 'The title is not in the markup at any width, and no heading 1 carries the headline.',
  matters: 'Who reads by ear, and search engines, learn nothing of what the page is about.',
  holds:
    'The title is `absent` at every viewport, and there is neither a heading 1 nor a `title` item in the markup. Where the page’s kind sets `headline: marked`, no heading replaces the title.',
  example: `templates: { bare: { layout: { title: absent } } }
pages: { visit: { path: /visit, title: Visit, template: bare, body: [ { section: s, items: [ { heading: 2, text: Come and see } ] } ] } }
`,
  numbers: [],
  message: () => 'the title is not in the markup, and nothing else carries the headline',
  advice: 'hide the title visually instead of removing it, or make the top heading a heading 1',
  check(sight, report) {
    const [first] = sight.sights
    if (!first || sight.isInMarkup('title')) return
    // A kind's marked headline is read from the title itself, which no heading replaces.
    const isMarked = own(sight.resolved.site.data.kinds, sight.page.facts.kind)?.headline === 'marked'
    if (!isMarked && markupItems(sight).some((item) => item.title === true || item.heading === 1)) return
    const heading = topHeading(sight)
    const words = { ...(heading !== undefined && { heading }), ...(isUntitled(sight) && { untitled: 'yes' }) }
    report({ numbers: {}, words, ...first.decider('title.presence') })
  },
  propose({ pages, cases }, resolved) {
    const wordsOn = (page: string): Fact['words'] => cases.find((c) => c.page === page)?.words
    const raised = pages.flatMap((page) => {
      const at = wordsOn(page)?.['heading']
      return at === undefined ? [] : [{ op: 'replace' as const, path: `${at}/heading`, value: 1 }]
    })
    // Where no title is seen either, one that is only read aloud would leave `title-missing`.
    const isShown = raised.length === 0 && pages.every((page) => wordsOn(page)?.['untitled'] !== undefined)
    return [
      ...(isShown ? giveTo(resolved, pages, 'title.presence', 'shown', (where) => `show the title ${where}`) : []),
      ...giveTo(
        resolved,
        pages,
        'title.presence',
        'visually-hidden',
        (where) => `hide the title visually ${where}; it is still read aloud`,
      ),
      ...(raised.length === pages.length
        ? [{ title: `make the top heading a heading 1 on ${pagesInWords(pages)}`, patch: raised }]
        : []),
    ]
  },
})

/** Whether a visitor of a live page with content sees no title: `title-missing` holds there as well. */
const isUntitled = ({ page, isPublished, sights }: PageSight): boolean =>
  isPublished &&
  (page.data.body ?? []).length > 0 &&
  !page.facts.purposes.includes('front') &&
  sights.some(({ seenTitles, seesTopHeading }) => seenTitles.length === 0 && !seesTopHeading)

/** All items that are in a page's markup, hidden at some width or not. */
function markupItems(sight: PageSight): readonly Item[] {
  const { page, resolved } = sight
  const { data } = resolved.site
  const arrange = page.choice.template?.arrange ?? DEFAULT_ARRANGE
  const surrounds = sight.sights.flatMap(({ view }) =>
    (['header', 'footer', 'sidebar'] as const).flatMap((facet) =>
      view.presence(pathOf(facet, 'presence')) === 'absent'
        ? []
        : [surroundOf(data, view.value(pathOf(facet, 'use')) as string | null)],
    ),
  )
  const open: Item[] = [
    ...(arrange.includes('content') ? (page.data.body ?? []) : []),
    ...arrange.filter((entry): entry is Item => typeof entry !== 'string'),
    ...page.inserts.map((insert) => insert.data as unknown as Item),
    ...surrounds.flatMap((s) => [...(s?.items ?? []), ...(s?.rows ?? []).flatMap((row) => row.items ?? [])]),
  ]
  const found: Item[] = []
  for (let next = open.pop(); next; next = open.pop()) {
    found.push(next)
    open.push(...(next.items ?? []), ...(next.columns ?? []).flatMap((column) => column.items ?? []))
    if (next.use !== undefined) open.push(...(surroundOf(data, next.use)?.items ?? []))
  }
  return found
}

/** Pointer of the body's first heading, where it is the most important one of its page. */
function topHeading({ sights }: PageSight): string | undefined {
  return sights[0]?.items.find(({ kind, place }) => kind === 'heading' && place === 'body')?.pointer
}

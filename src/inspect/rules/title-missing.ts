import type { Deciding } from '../deciding.js'
import { overridePages, pagesInWords } from '../propose.js'
import { siteRule } from '../rule.js'
import type { PageSight } from '../page-sight.js'

/** A live page with content and no title at all to be seen. */
export const titleMissing = siteRule({
  id: 'title-missing',
  severity: 'warning',
  facet: 'title',
  summary: 'A published page with content shows no title and no top heading.',
  matters: 'Nobody who arrives from a search or a link can tell where they are.',
  holds:
    'No title and no heading 1 is seen; the page is published, has a body and is not the front page. hidden counts the pages whose title the same setting takes away, replaced those of them that show another instead.',
  example: `theme: { layout: { title: absent } }
pages:
  visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] }
  b: { path: /b, title: B, body: [ { section: s, items: [ { heading: 1, text: B } ] } ] }
`,
  numbers: ['hidden', 'replaced'],
  message: ({ worst, pages }) => {
    const { hidden = 0, replaced = 0 } = worst.numbers
    return `no title is seen on ${pages.length} of the ${hidden} pages whose title this hides; ${replaced} of them show another instead`
  },
  advice: 'show the title on these pages, or give each a heading 1; else hide titles only where there is a replacement',
  digests: [titlesOf],
  check(survey, report) {
    const counts = new Map<string, { hidden: number; replaced: number }>()
    const views = survey.pages.flatMap((page) => survey.digest(titlesOf, page))
    for (const { key, replaced } of views) {
      const count = counts.get(key) ?? { hidden: 0, replaced: 0 }
      counts.set(key, { hidden: count.hidden + 1, replaced: count.replaced + (replaced ? 1 : 0) })
    }
    for (const { key, page, viewport, decider, missing } of views)
      if (missing)
        report({ ...decider, pages: [page], viewports: [viewport], numbers: { ...counts.get(key) } as Counts })
  },
  propose: ({ pages }, { site }) => [
    {
      title: `show the title on ${pagesInWords(pages)}`,
      patch: overridePages(site, pages, 'title.presence', 'shown'),
    },
  ],
})

type Counts = { readonly hidden: number; readonly replaced: number }

interface HiddenTitle {
  /** One for each viewport and deciding place. */
  readonly key: string
  readonly page: string
  readonly viewport: string
  readonly decider: Deciding
  readonly replaced: boolean
  readonly missing: boolean
}

/** Where a live page's title is not shown, by whom, and whether something stands for it. */
function titlesOf({ page, isPublished, sights }: PageSight): readonly HiddenTitle[] {
  if (!isPublished) return []
  const hasBody = (page.data.body ?? []).length > 0
  const isFront = page.facts.purposes.includes('front')
  return sights
    .filter((sight) => !sight.isShown('title'))
    .map((sight) => {
      const decider = sight.decider('title.presence')
      const viewport = sight.view.viewport.name
      const replaced = sight.seenTitles.length > 0 || sight.seesTopHeading
      const key = `${viewport} ${decider.at}`
      return { key, page: page.id, viewport, decider, replaced, missing: hasBody && !isFront && !replaced }
    })
}

import type { Deciding } from '../deciding.js'
import { giveTo } from '../propose.js'
import { siteRule } from '../rule.js'
import type { PageSight } from '../page-sight.js'

/** A live page with content and no title at all to be seen. */
export const titleMissing = siteRule({
  id: 'title-missing',
  severity: 'warning',
  facet: 'title',
  summary: 'A published page with content shows no title and no top heading.',
  matters: 'Visitors who arrive from a search or a link cannot tell where they are.',
  holds:
    'No title and no heading 1 is seen; the page is published, has a body and is not the front page. hidden counts the pages whose title the same setting hides, replaced those of them that show another instead.',
  example: `theme: { layout: { title: absent } }
pages:
  visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] }
  b: { path: /b, title: B, body: [ { section: s, items: [ { heading: 1, text: B } ] } ] }
`,
  numbers: ['hidden', 'replaced'],
  message: ({ worst, pages }) => {
    const { hidden = 0, replaced = 0 } = worst.numbers
    if (hidden <= pages.length) return 'no title is seen'
    return `no title is seen; this hides the title of ${hidden} pages, of which ${replaced} show another instead`
  },
  advice: 'show the title on these pages, or give each a heading 1; else hide titles only where there is a replacement',
  marks(sight, mark) {
    for (const title of titlesOf(sight)) mark(title.key, title.value, title)
  },
  judge(tally, _survey, report) {
    const numbers = { hidden: tally.count(), replaced: tally.count(REPLACED) }
    for (const { page, detail } of tally.marks(MISSING)) {
      const { decider, viewport } = detail as HiddenTitle
      report({ pages: [page], viewports: [viewport], numbers, ...decider })
    }
  },
  propose: ({ pages }, resolved) =>
    giveTo(resolved, pages, 'title.presence', 'shown', (where) => `show the title ${where}`),
})

const [MISSING, REPLACED, UNNEEDED] = ['missing', 'replaced', 'unneeded'] as const

interface HiddenTitle {
  /** One for each viewport and deciding place. */
  readonly key: string
  readonly value: typeof MISSING | typeof REPLACED | typeof UNNEEDED
  readonly viewport: string
  readonly decider: Deciding
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
      const value = replaced ? REPLACED : hasBody && !isFront ? MISSING : UNNEEDED
      return { key: `${viewport} ${decider.at}`, value, viewport, decider }
    })
}

import type { ResolvedSite } from '../../resolve/resolve-site.js'
import { overridePages, pagesInWords } from '../propose.js'
import { defineRule } from '../rule.js'
import { Sight } from '../sight.js'

/** A live page with content and no title at all to be seen. */
export const titleMissing = defineRule({
  id: 'title-missing',
  severity: 'warning',
  facet: 'title',
  summary: 'A published page with content shows no title and no top heading.',
  numbers: ['hidden', 'replaced'],
  worst: 'largest',
  message: ({ worst, pages }) => {
    const { hidden = 0, replaced = 0 } = worst.numbers
    return `no title is seen on ${pages.length} of the ${hidden} pages whose title this hides; ${replaced} of them show another instead`
  },
  advice: 'show the title on these pages, or give each a heading 1; else hide titles only where there is a replacement',
  check(sight, report) {
    const { page } = sight
    if (page.data.status === 'draft' || page.facts.purposes.includes('front')) return
    if ((page.data.body ?? []).length === 0 || hasTitle(sight)) return
    const decider = sight.decider('title.presence')
    report({ ...decider, numbers: sameCause(sight.resolved, decider.at, sight.view.viewport.name) })
  },
  propose({ pages }, { site }) {
    return [
      {
        title: `show the title on ${pagesInWords(pages)}`,
        patch: overridePages(site, pages, 'title.presence', 'shown'),
      },
    ]
  },
})

const hasTitle = (sight: Sight): boolean => sight.seenTitles.length > 0 || sight.seesTopHeading

const counted = new WeakMap<ResolvedSite, Map<string, { hidden: number; replaced: number }>>()

/** How many pages the same setting hides the title of, and how many of these show another instead; counted once. */
function sameCause(resolved: ResolvedSite, at: string, viewport: string): { hidden: number; replaced: number } {
  let ofSite = counted.get(resolved)
  if (!ofSite) {
    ofSite = new Map()
    counted.set(resolved, ofSite)
  }
  const key = `${viewport} ${at}`
  let numbers = ofSite.get(key)
  if (!numbers) {
    const sights = [...resolved.pages()]
      .filter((page) => !page.dormant && page.data.status !== 'draft')
      .map((page) => new Sight(resolved, page, viewport))
      .filter((sight) => !sight.isShown('title') && sight.decider('title.presence').at === at)
    numbers = { hidden: sights.length, replaced: sights.filter(hasTitle).length }
    ofSite.set(key, numbers)
  }
  return numbers
}

import { fromPointer } from '../../model/json.js'
import type { ResolvedSite } from '../../resolve/resolve-site.js'
import { missingName } from '../missing-name.js'
import { REFERRING, SELECTING, referencesIn, referencesOn, type Reference } from '../references.js'
import { siteRule, type Fact } from '../rule.js'
import { withoutReference } from '../without-reference.js'

const TAGS = 'tags'

/** A name that nothing defines. */
export const assignDangling = siteRule({
  id: 'assign-dangling',
  severity: 'error',
  facet: 'assignment',
  summary: 'A page, kind, tag, template, surround, menu, asset, builder or extension is named that is not there.',
  matters: 'The setting has no effect: a link is dead, a header is missing, a template is ignored.',
  holds:
    'A name refers to something that does not exist, whose extension is off, to a surround of another type, or to a dormant page.',
  example: `menus: { m: [ { label: Visit, page: gone } ] }
`,
  numbers: [],
  message: ({ worst }) =>
    `${worst.words?.['why'] ?? ''}${worst.words?.['meant'] ? `; did you mean "${worst.words['meant']}"?` : ''}`,
  advice: 'refer to something that exists, or remove the reference',
  onPage({ page, resolved }, report) {
    for (const reference of referencesOn(resolved.site, page.id, page.data)) {
      const fact = reference.to === 'tag' ? undefined : factOf(resolved, reference, NO_TAGS)
      if (fact) report(fact)
    }
  },
  seesDormant: true,
  marks({ page }, mark) {
    for (const tag of new Set(page.data.tags ?? [])) mark(TAGS, tag)
  },
  keys: [TAGS, ...REFERRING],
  judge(tally, { site, resolved }, report, key) {
    const isOfTags = key === TAGS
    const tags = new Set(isOfTags ? tally.values() : [])
    for (const section of isOfTags ? SELECTING : [key as (typeof REFERRING)[number]])
      for (const reference of referencesIn(site, section)) {
        if ((reference.to === 'tag') !== isOfTags) continue
        const fact = factOf(resolved, reference, tags)
        if (fact) report({ ...fact, pages: [] })
      }
  },
  propose: ({ at, worst }, { site }) => {
    const meant = worst.words?.['meant']
    return [
      ...(meant === undefined
        ? []
        : [{ title: `name "${meant}"`, patch: [{ op: 'replace' as const, path: at, value: meant }], choice: true }]),
      ...withoutReference(site, at),
    ]
  },
})

const NO_TAGS: ReadonlySet<string> = new Set()

function factOf(resolved: ResolvedSite, reference: Reference, tags: ReadonlySet<string>): Fact | undefined {
  const missing = missingName(resolved.site, reference, tags)
  if (!missing) return undefined
  const { to, name, pointer } = reference
  const { why, meant } = missing
  const words = { why, to, name, ...(meant !== undefined && { meant }) }
  return { at: entryOf(resolved, pointer), numbers: {}, words }
}

/** The pointer as the site names entries of lists. */
function entryOf({ site, pointerTo }: ResolvedSite, pointer: string): string {
  const [list, position] = fromPointer(pointer)
  if (list !== 'assign' && list !== 'inserts') return pointer
  const entry = site.data[list]?.[Number(position)]
  return entry ? [pointerTo(list, entry), ...pointer.split('/').slice(3)].join('/') : pointer
}

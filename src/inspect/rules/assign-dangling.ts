import { fromPointer } from '../../model/json.js'
import type { ResolvedSite } from '../../resolve/resolve-site.js'
import { MissingNames } from '../missing-name.js'
import { REFERRING, SELECTING, referencesIn, referencesInEntry, referencesOn, type Reference } from '../references.js'
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
    const missing = new MissingNames(resolved.site, new Set())
    for (const reference of referencesOn(resolved.site, page.id, page.data)) {
      const fact = reference.to === 'tag' ? undefined : factOf(resolved, reference, missing)
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
    const missing = new MissingNames(site, new Set(isOfTags ? tally.values() : []))
    const look = (reference: Reference, around = ''): void => {
      if ((reference.to === 'tag') !== isOfTags) return
      const fact = factOf(resolved, reference, missing)
      if (fact) report({ ...fact, at: around + fact.at, pages: [] })
    }
    for (const section of isOfTags ? SELECTING : [key as (typeof REFERRING)[number]])
      if (section !== 'assign') for (const reference of referencesIn(site, section)) look(reference)
      else
        for (const entry of site.data.assign ?? [])
          for (const reference of referencesInEntry(entry)) look(reference, resolved.pointerTo('assign', entry))
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

function factOf(resolved: ResolvedSite, reference: Reference, missing: MissingNames): Fact | undefined {
  const found = missing.of(reference)
  if (!found) return undefined
  const { to, name, pointer } = reference
  const { why, meant } = found
  const words = { why, to, name, ...(meant !== undefined && { meant }) }
  return { at: insertOf(resolved, pointer), numbers: {}, words }
}

/** The pointer as the site names entries of `inserts`. */
function insertOf({ site, pointerTo }: ResolvedSite, pointer: string): string {
  const [list, position] = fromPointer(pointer)
  const entry = list === 'inserts' ? site.data.inserts?.[Number(position)] : undefined
  return entry ? [pointerTo('inserts', entry), ...pointer.split('/').slice(3)].join('/') : pointer
}

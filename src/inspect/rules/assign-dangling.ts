import { isSameList } from '../../model/lists.js'
import { remembered } from '../../model/remembered.js'
import type { SiteData } from '../../model/schema.js'
import { didYouMean } from '../../model/did-you-mean.js'
import { fromPointer, isObject, own, toPointer, valueAt, type Json } from '../../model/json.js'
import { isOn } from '../../resolve/extensions.js'
import { DEFAULT_KIND, type Site } from '../../model/site.js'
import { removeAt } from '../propose.js'
import { allOf } from '../reads.js'
import { REFERRING, SELECTING, referenceLists, referencesOn, type Named, type Reference } from '../references.js'
import { siteRule, type Proposal, type SiteFact } from '../rule.js'

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
    const known = new Known(resolved.site, NO_TAGS, false)
    for (const reference of referencesOn(resolved.site, page.id, page.data)) {
      const fact = known.fact(reference)
      if (fact) report(fact)
    }
  },
  seesDormant: true,
  marks({ page }, mark) {
    for (const tag of new Set(page.data.tags ?? [])) mark(TAGS, tag)
  },
  keys: [TAGS, ...REFERRING],
  judge(tally, { site }, report, key) {
    const known = new Known(site, key === TAGS ? tagsAmong(tally.values()) : NO_TAGS, true)
    for (const section of key === TAGS ? SELECTING : [key as (typeof REFERRING)[number]])
      for (const references of referenceLists(site, section))
        for (const fact of known.factsIn(references, key === TAGS ? 'tags' : 'others', section)) report(fact)
  },
  propose: ({ at, worst }, { site }) => {
    const meant = worst.words?.['meant']
    return [
      ...(meant === undefined
        ? []
        : [{ title: `name "${meant}"`, patch: [{ op: 'replace' as const, path: at, value: meant }], choice: true }]),
      ...withoutName(site, at),
    ]
  },
})

const NO_TAGS: ReadonlySet<string> = new Set()
const NO_FACTS: readonly SiteFact[] = []

const idsOf = remembered((pageIds: readonly string[]): ReadonlySet<string> => new Set(pageIds))

interface References {
  readonly tags: readonly Reference[]
  readonly others: readonly Reference[]
}

/** References to tags, which rest on what pages have, and to all else; those of `assign` are asked for again and again. */
const partsOf = remembered((references: readonly Reference[]): References => {
  const isTag = ({ to }: Reference): boolean => to === 'tag'
  return { tags: references.filter(isTag), others: references.filter((each) => !isTag(each)) }
})

/** What was judged by last; only what was found by it holds on to it. */
let lastTags: WeakRef<ReadonlySet<string>> | undefined
let lastWorld: WeakRef<readonly unknown[]> | undefined

/** Tags as a set; the same one while they are the same. */
function tagsAmong(values: readonly string[]): ReadonlySet<string> {
  const last = lastTags?.deref()
  if (last?.size === values.length && values.every((tag) => last.has(tag))) return last
  const tags = new Set(values)
  lastTags = new WeakRef(tags)
  return tags
}

/** What is wrong with the names in a list, for as long as all that they can lead to is the same. */
interface Wrong {
  readonly world: object
  readonly facts: readonly SiteFact[]
}

const wrongIn = new WeakMap<readonly Reference[], Wrong>()

/** Of a reference that is as it was, what is wrong is the same fact. */
const facts = new WeakMap<Reference, SiteFact>()

const suggested = new Map<string, { readonly names: readonly string[]; readonly meant: string | undefined }>()
/** How many suggestions are kept. */
const MOST_KEPT = 1000

/** All that a site's names can lead to. */
class Known {
  readonly #site: Site
  readonly #tags: ReadonlySet<string>
  readonly #names = new Map<Named, readonly string[]>()
  /** What is wrong with names that were asked about: one is named often. */
  readonly #whys = new Map<Named, Map<string, string | undefined>>()

  readonly #isOfMany: boolean
  #isAwake: boolean | undefined
  #ids: ReadonlySet<string> | undefined
  #worlds: { readonly world: object | undefined } | undefined
  /** The sections that were asked for all they hold. */
  readonly #sections = new Map<string, Things | undefined>()

  /**
   * @param tags - Those that any page has.
   * @param isOfMany - Whether many names are asked about.
   */
  constructor(site: Site, tags: ReadonlySet<string>, isOfMany: boolean) {
    this.#site = site
    this.#tags = tags
    this.#isOfMany = isOfMany
  }

  /**
   * What is wrong with the names in a list. Of `assign`, which has a list for each of many entries, it is kept: that
   * rests on all sections then, whichever of them are named.
   */
  factsIn(references: readonly Reference[], part: keyof References, section: string): readonly SiteFact[] {
    const named = partsOf(references)[part]
    if (named.length === 0) return NO_FACTS
    const world = part === 'tags' ? this.#tags : section === 'assign' ? this.#world : undefined
    const known = world && wrongIn.get(named)
    if (known && known.world === world) return known.facts
    const found = named.flatMap((reference) => this.fact(reference) ?? [])
    if (world) wrongIn.set(named, { world, facts: found })
    return found
  }

  /** All that names can lead to, tags aside: the same while it is the same. None where a page that is named may be dormant. */
  get #world(): object | undefined {
    return (this.#worlds ??= { world: this.#areAllAwake ? this.#worldNow() : undefined }).world
  }

  #worldNow(): object {
    const sections = [...Object.values(SECTIONS), 'surrounds' as const].map((section) => this.#things(section))
    const world = [this.#site.pageIds, ...sections]
    const last = lastWorld?.deref()
    if (last && isSameList(last, world)) return last
    lastWorld = new WeakRef(world)
    return world
  }

  /** What is wrong with a name; `undefined` where it leads somewhere. */
  fact(reference: Reference): SiteFact | undefined {
    const { to, name, pointer } = reference
    const why = this.#why(to, name)
    if (why === undefined) return undefined
    const meant = this.#meant(to, name)
    const known = facts.get(reference)
    if (known && known.words?.['why'] === why && known.words['meant'] === meant) return known
    const words = { why, to, name, ...(meant !== undefined && { meant }) }
    const fact = { at: pointer, numbers: {}, words, pages: [] }
    facts.set(reference, fact)
    return fact
  }

  #why(to: Named, name: string): string | undefined {
    let whys = this.#whys.get(to)
    if (!whys) this.#whys.set(to, (whys = new Map()))
    const known = whys.get(name)
    if (known !== undefined || whys.has(name)) return known
    const why = this.#missing(to, name)
    whys.set(name, why)
    return why
  }

  names(of: Named): readonly string[] {
    const { data } = this.#site
    switch (of) {
      case 'page':
        return this.#site.pageIds
      case 'tag':
        // Which page had a tag first is not known any more after a change.
        return [...this.#tags].sort()
      case 'surround':
      case 'header':
      case 'footer':
      case 'sidebar':
        return Object.entries(allOf(data.surrounds) ?? {}).flatMap(([id, s]) =>
          of === 'surround' || s.as === of ? [id] : [],
        )
      default:
        return Object.keys(allOf(data[SECTIONS[of]] as object | undefined) ?? {})
    }
  }

  /** The name that was probably meant; asked once for as long as there are the same names. */
  #meant(to: Named, name: string): string | undefined {
    let names = this.#names.get(to)
    if (!names) this.#names.set(to, (names = this.names(to)))
    const key = `${to} ${name}`
    const known = suggested.get(key)
    if (known && isSameList(known.names, names)) return known.meant
    // What is there and sleeps was meant.
    const meant = names.includes(name) ? undefined : didYouMean(name, names)
    if (suggested.size >= MOST_KEPT) suggested.clear()
    suggested.set(key, { names, meant })
    return meant
  }

  #missing(to: Named, name: string): string | undefined {
    const { data } = this.#site
    switch (to) {
      case 'page':
        return this.#missingPage(name)
      case 'tag':
        return this.#tags.has(name) ? undefined : `no page has the tag "${name}"`
      case 'kind':
        if (name === DEFAULT_KIND && !own(data.kinds, name)) return undefined
        break
      case 'surround':
      case 'header':
      case 'footer':
      case 'sidebar': {
        const surround = own(data.surrounds, name)
        if (surround && to !== 'surround' && surround.as !== to) return `"${name}" is a ${surround.as}, not a ${to}`
        break
      }
      default:
        break
    }
    const section =
      to === 'header' || to === 'footer' || to === 'sidebar'
        ? 'surrounds'
        : to === 'surround'
          ? 'surrounds'
          : SECTIONS[to as Sectioned]
    const thing = own(this.#things(section), name)
    if (thing === undefined) return `there is no ${to} "${name}"`
    const from = isObject(thing) && typeof thing['from'] === 'string' ? thing['from'] : undefined
    return isOn(data, from) ? undefined : `the ${to} "${name}" comes from the extension "${from}", which is off`
  }

  /** A section's things; where many names are asked about they rest on it together, and it is read as a whole, and once. */
  #things(section: keyof SiteData): Things | undefined {
    if (!this.#isOfMany) return this.#site.data[section] as Things | undefined
    if (!this.#sections.has(section)) this.#sections.set(section, allOf(this.#site.data[section] as Things | undefined))
    return this.#sections.get(section)
  }

  /** Whether no page is dormant, so that the kind of one that is named need not be asked. */
  get #areAllAwake(): boolean {
    const { data } = this.#site
    return (this.#isAwake ??= Object.values(allOf(data.kinds) ?? {}).every(({ from }) => isOn(data, from)))
  }

  #missingPage(name: string): string | undefined {
    const gone = `there is no page "${name}"`
    // Which pages there are is read at once: to note each that is named costs more than all else.
    if (this.#isOfMany && this.#areAllAwake)
      return (this.#ids ??= idsOf(this.#site.pageIds)).has(name) ? undefined : gone
    const page = this.#site.pageData(name)
    if (!page) return gone
    const { data } = this.#site
    return isOn(data, own(data.kinds, page.kind ?? DEFAULT_KIND)?.from)
      ? undefined
      : `the page "${name}" is dormant: its kind comes from an extension that is off`
  }
}

type Things = Readonly<Record<string, unknown>>
type Sectioned = 'kind' | 'template' | 'menu' | 'asset' | 'builder' | 'extension'
const SECTIONS = {
  kind: 'kinds',
  template: 'templates',
  menu: 'menus',
  asset: 'assets',
  builder: 'builders',
  extension: 'extensions',
} as const

/** Removes a reference together with what makes no sense without it. */
function withoutName(site: Site, at: string): readonly Proposal[] {
  const path = fromPointer(at)
  const [section] = path
  const root = site.data as unknown as Json
  // What was meant is not known: the name may be misspelled, or the thing yet to come.
  const remove = (pointer: string, title: string): Proposal[] => [
    { title, patch: removeAt(site, pointer), choice: true },
  ]
  if (section === 'menus') return remove(toPointer(path.slice(0, 3)), 'remove the menu entry')
  const where = path.findIndex((key) => key === 'where' || key === 'except')
  if (section === 'assign' && where === -1) return remove(toPointer(path.slice(0, 2)), 'remove the entry')
  if (where !== -1) return withoutSelector(site, path, where)
  if (
    path.includes('layout') ||
    ['template', 'sendTo', 'parent', 'image', 'base', 'copyOf', 'builder'].includes(path.at(-1) as string)
  ) {
    const inItem = path.includes('body') || path.includes('items') || path.includes('arrange')
    if (inItem && path.at(-1) === 'image' && !path.includes('background'))
      return remove(toPointer(path.slice(0, -1)), 'remove the item')
    return remove(at, 'remove the reference')
  }
  const around = valueAt(root, toPointer(path.slice(0, -1)))
  if (Array.isArray(around)) return remove(at, 'remove the reference')
  return []
}

/** A selector without a name: the name goes from a list of values, else the selector from its list, else the entry. */
function withoutSelector(site: Site, path: readonly string[], where: number): readonly Proposal[] {
  const root = site.data as unknown as Json
  const steps = [path.length - 1, where + 1, where - 1].map((depth) => path.slice(0, depth + 1))
  for (const step of steps) {
    const list = valueAt(root, toPointer(step.slice(0, -1)))
    if (Array.isArray(list) && (list.length > 1 || step.length <= 2))
      return [{ title: 'remove the selector', patch: [{ op: 'remove', path: toPointer(step) }], choice: true }]
  }
  return []
}

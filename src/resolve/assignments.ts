import type { AssignData } from '../model/schema.js'
import type { Site } from '../model/site.js'
import type { Selector } from '../model/site-data.js'
import { compareSpecificity, compileWhere, selectorsOf, type CompiledWhere } from '../select/selector.js'
import { WhereIndex, type Matched } from '../select/where-index.js'
import type { PageFacts } from '../select/page-facts.js'
import type { Contribution } from './contribution.js'
import { surroundOf } from './extensions.js'
import { readSettings, type Settings } from './settings.js'

/** An assign entry, read once. */
export interface Assignment {
  readonly index: number
  readonly data: AssignData
  /** 0 for the site's own file, higher for files underneath. */
  readonly nearness: number
  /** Whether it sets something, with `use` or `layout`; others choose a template. */
  readonly isSetting: boolean
  /** What `use` or `layout` sets; `undefined` for an entry that chooses a template. */
  readonly contribution: Contribution | undefined
  /** The properties that it sets, by which two readings of one entry can differ. */
  readonly facets: string
  readonly where: CompiledWhere
}

type EntryData = Pick<Assignment, 'index' | 'data' | 'nearness' | 'where'>

/** An entry whose settings are read when somebody asks for them: of many a change that is tried nobody does. */
class Entry implements Assignment {
  readonly index: number
  readonly data: AssignData
  readonly nearness: number
  readonly where: CompiledWhere
  readonly isSetting: boolean
  /** The keys that its selectors go by, of those whose answers rest on more than the page. */
  readonly asksFor: { readonly template: boolean; readonly under: boolean }
  readonly #contribution: () => Contribution | undefined
  readonly #facets: () => string

  /** @param old - The entry as it was read before: what it sets stays. */
  constructor({ index, data, nearness, where }: EntryData, { data: site }: Site, old: Entry | undefined) {
    this.index = index
    this.data = data
    this.nearness = nearness
    this.where = where
    this.isSetting = data.layout !== undefined || data.use !== undefined
    this.asksFor = old?.asksFor ?? askedFor(data)
    if (data.layout !== undefined) {
      this.#contribution = old ? old.#contribution : once(() => contributionOf(data))
    } else {
      // The sort of a surround decides which facet `use` is for; one that is not there sets nothing.
      const facet = data.use === undefined ? undefined : surroundOf(site, data.use)?.as
      const made = once(() => contributionOf(data, facet))
      this.#contribution = old && old.facets === facetsOf(made()) ? old.#contribution : made
    }
    this.#facets = once(() => facetsOf(this.#contribution()))
  }

  get contribution(): Contribution | undefined {
    return this.#contribution()
  }

  get facets(): string {
    return this.#facets()
  }
}

function askedFor({ where, except }: AssignData): Entry['asksFor'] {
  const selectors = [...selectorsOf(where), ...selectorsOf(except)]
  return {
    template: selectors.some(({ template }) => template !== undefined),
    under: selectors.some(({ under }) => under !== undefined),
  }
}

const facetsOf = (contribution: Contribution | undefined): string =>
  [...(contribution?.settings.values.keys() ?? [])].join()

/** The assign entries, to be asked page by page. */
export interface Assignments {
  readonly entries: readonly Assignment[]
  /** Whether any entry selects by `under`, whose specificity is that of another page's path. */
  readonly hasUnder: boolean
  /** Entries that choose a template, weakest first. */
  readonly templatesFor: (facts: PageFacts) => readonly Matched<Assignment>[]
  /** Entries that set something, weakest first. `template` is the chosen one. */
  readonly settingsFor: (facts: PageFacts, template: string | null) => readonly Matched<Assignment>[]
}

/** A selector in words: "kind article, tag meteors". */
export function describeSelector(selector: Selector): string {
  if (selector.all) return 'all pages'
  return Object.entries(selector)
    .map(([key, value]) => `${key} ${Array.isArray(value) ? value.join(' or ') : String(value)}`)
    .join(', ')
}

/** The entries of an earlier state, and what of all that they rest on is as it was then. */
export interface EarlierAssignments {
  readonly before: Assignments
  readonly arePathsSame: boolean
  readonly areSurroundsSame: boolean
}

/** Reads the entries; those that are as they were before are the same. */
export function readAssignments(site: Site, earlier?: EarlierAssignments): Assignments {
  const { before, arePathsSame, areSurroundsSame } = earlier ?? {}
  const known = once(() => new Map(before?.entries.map((entry) => [entry.data, entry as Entry])))
  const entries = (site.data.assign ?? []).map((data, index): Entry => {
    // Most changes leave most entries where they were.
    const there = before?.entries[index] as Entry | undefined
    const old = there?.data === data ? there : known().get(data)
    const nearness = site.nearness(`/assign/${index}`)
    if (old?.index === index && arePathsSame && areSurroundsSame && old.nearness === nearness) return old
    // A selector by `under` is as specific as another page's path, which may have changed.
    const isSame = old && (arePathsSame || !selectorsOf(data.where).some((selector) => selector.under !== undefined))
    const where = isSame ? old.where : compileWhere(site, data.where, data.except)
    return new Entry({ index, data, nearness, where }, site, old)
  })
  const indexed = (wanted: (entry: Entry) => boolean): WhereIndex<Assignment> =>
    new WhereIndex(entries.filter(wanted).map((entry) => ({ entry, where: entry.where })))
  // Whether an entry matches is asked once for both purposes, but where the answer depends on the template chosen.
  // Of many a change that is tried no page has to be asked.
  const early = once(() => indexed(({ asksFor }) => !asksFor.template))
  const late = once(() => indexed(({ asksFor, isSetting }) => asksFor.template && isSetting))
  const hasUnder = once(() => entries.some(({ asksFor }) => asksFor.under))
  let asked: PageFacts | undefined
  let answer: Answer = NO_ANSWER
  const matching = (facts: PageFacts): Answer => {
    if (facts !== asked) {
      asked = facts
      answer = parted(early().match(facts))
    }
    return answer
  }
  return {
    entries,
    get hasUnder() {
      return hasUnder()
    },
    templatesFor: (facts) => matching(facts).choosing,
    settingsFor: (facts, template) => {
      const { setting } = matching(facts)
      const more = late().match(facts, template)
      return more.length === 0 ? setting : weakestFirst([...setting, ...more])
    },
  }
}

/** What some work gives, done when it is first asked for. */
function once<T>(work: () => T): () => T {
  let done: { readonly result: T } | undefined
  return () => (done ??= { result: work() }).result
}

/** The entries that match a page, weakest first: those that choose a template, and those that set something. */
interface Answer {
  readonly choosing: readonly Matched<Assignment>[]
  readonly setting: readonly Matched<Assignment>[]
}

const NO_ANSWER: Answer = { choosing: [], setting: [] }

function parted(matched: readonly Matched<Assignment>[]): Answer {
  if (matched.length === 0) return NO_ANSWER
  const choosing: Matched<Assignment>[] = []
  const setting: Matched<Assignment>[] = []
  for (const each of weakestFirst(matched)) (each.entry.isSetting ? setting : choosing).push(each)
  return { choosing, setting }
}

/** What an entry sets, with pointers relative to it. @param facet - The one that its `use` is for. */
function contributionOf(data: AssignData, facet?: string): Contribution | undefined {
  if (data.layout === undefined && data.use === undefined) return undefined
  const name = selectorsOf(data.where).map(describeSelector).join(' or ')
  const setting = { value: data.use as string, pointer: '/use' }
  const settings: Settings = data.layout
    ? readSettings(data.layout, '/layout')
    : { values: new Map(facet ? [[`${facet}.use`, setting]] : []), locks: new Map() }
  return { layer: 'assign', settings, name, entry: data }
}

/** By specificity; in a tie the nearer file, then the earlier entry is the stronger. */
export function compareStrength(a: Matched<Assignment>, b: Matched<Assignment>): number {
  return (
    compareSpecificity(a.selector.specificity, b.selector.specificity) ||
    b.entry.nearness - a.entry.nearness ||
    b.entry.index - a.entry.index
  )
}

const weakestFirst = (matched: readonly Matched<Assignment>[]): readonly Matched<Assignment>[] =>
  matched.length > 1 ? [...matched].sort(compareStrength) : matched

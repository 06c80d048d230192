import { didYouMean } from '../model/did-you-mean.js'
import { isObject, own } from '../model/json.js'
import { DEFAULT_KIND, type Site } from '../model/site.js'
import { isOn } from '../resolve/extensions.js'
import { allOf } from './engine/reads.js'
import type { Named, Reference } from './references.js'

/** What is wrong with a name. */
export interface MissingName {
  readonly why: string
  /** The name that was probably meant. */
  readonly meant: string | undefined
}

/** The section that holds the things of a name. */
const SECTION_OF = {
  ...{ kind: 'kinds', template: 'templates', menu: 'menus', asset: 'assets', builder: 'builders' },
  ...{ extension: 'extensions', surround: 'surrounds', header: 'surrounds', footer: 'surrounds', sidebar: 'surrounds' },
} as const satisfies Readonly<Record<Exclude<Named, 'page' | 'tag'>, keyof Site['data']>>

/** Checks the names in a site; each is looked up once. */
export class MissingNames {
  readonly #site: Site
  readonly #tags: ReadonlySet<string>
  readonly #lists = new Map<Named, readonly string[]>()
  readonly #known = new Map<string, MissingName | undefined>()

  /** @param tags - The tags that any page has. */
  constructor(site: Site, tags: ReadonlySet<string>) {
    this.#site = site
    this.#tags = tags
  }

  /** What is wrong with a name; `undefined` if it refers to something that exists and is on. */
  of({ to, name }: Pick<Reference, 'to' | 'name'>): MissingName | undefined {
    const key = `${to} ${name}`
    if (!this.#known.has(key)) this.#known.set(key, this.#missing(to, name))
    return this.#known.get(key)
  }

  #missing(to: Named, name: string): MissingName | undefined {
    const why = whyMissing(this.#site, to, name, this.#tags)
    if (why === undefined) return undefined
    let names = this.#lists.get(to)
    if (!names) this.#lists.set(to, (names = namesOf(this.#site, to, this.#tags)))
    // A name of something that exists and is off is not misspelled.
    return { why, meant: names.includes(name) ? undefined : didYouMean(name, names) }
  }
}

function whyMissing(site: Site, to: Named, name: string, tags: ReadonlySet<string>): string | undefined {
  const { data } = site
  if (to === 'tag') return tags.has(name) ? undefined : `no page has the tag "${name}"`
  if (to === 'page') {
    const page = site.pageData(name)
    if (!page) return `there is no page "${name}"`
    const kind = own(data.kinds, page.kind ?? DEFAULT_KIND)
    return isOn(data, kind?.from)
      ? undefined
      : `the page "${name}" is dormant: its kind comes from an extension that is off`
  }
  const thing: unknown = own(data[SECTION_OF[to]] as Readonly<Record<string, unknown>> | undefined, name)
  if (to === 'kind' && name === DEFAULT_KIND && thing === undefined) return undefined
  if (thing === undefined) return `there is no ${to} "${name}"`
  if (to === 'header' || to === 'footer' || to === 'sidebar') {
    const sort = isObject(thing) ? thing['as'] : undefined
    if (sort !== to) return `"${name}" is a ${String(sort)}, not a ${to}`
  }
  const from = isObject(thing) && typeof thing['from'] === 'string' ? thing['from'] : undefined
  return isOn(data, from) ? undefined : `the ${to} "${name}" comes from the extension "${from}", which is off`
}

/** The valid names of a type. */
function namesOf(site: Site, to: Named, tags: ReadonlySet<string>): readonly string[] {
  if (to === 'page') return site.pageIds
  if (to === 'tag') return [...tags].sort()
  const things = allOf(site.data[SECTION_OF[to]] as Readonly<Record<string, unknown>> | undefined) ?? {}
  const isOfSort = (thing: unknown): boolean =>
    (to !== 'header' && to !== 'footer' && to !== 'sidebar') || (isObject(thing) && thing['as'] === to)
  return Object.entries(things).flatMap(([id, thing]) => (isOfSort(thing) ? [id] : []))
}

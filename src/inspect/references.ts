import { remembered } from '../model/remembered.js'
import { allOf } from './engine/reads.js'
import { toPointer } from '../model/json.js'
import type { AssignData, PageData } from '../model/schema.js'
import type { Item, Layout, Selector, Where } from '../model/site-data.js'
import { sectionsWith } from '../model/sections.js'
import type { Site } from '../model/site.js'
import { FACETS, FACET_NAMES, type PropertyDefinition } from '../model/facets.js'
import { isObject } from '../model/json.js'
import { isOn } from '../resolve/extensions.js'
import { listOf, selectorsOf } from '../select/selector.js'

/** What a name can mean. */
export type Named =
  | 'page'
  | 'kind'
  | 'tag'
  | 'template'
  | 'surround'
  | 'header'
  | 'footer'
  | 'sidebar'
  | 'menu'
  | 'asset'
  | 'builder'
  | 'extension'

/** A name somewhere in the site document. */
export interface Reference {
  readonly to: Named
  readonly name: string
  readonly pointer: string
}

/** The sections other than `pages` that refer to things by name. */
export const REFERRING = sectionsWith('hasNames', true)

/** The sections whose entries select pages. */
export const SELECTING = sectionsWith('selects', true)

/**
 * Every name in a section of a site (default: in all but the pages) that should lead somewhere; what comes from an
 * extension that is off sets nothing.
 */
export const referencesIn = (site: Site, section?: (typeof REFERRING)[number]): readonly Reference[] =>
  section ? new Collector(site).section(section) : REFERRING.flatMap((each) => referencesIn(site, each))

/** Every name in an entry of `assign`, with pointers relative to the entry. */
export const referencesInEntry = remembered((entry: AssignData): readonly Reference[] =>
  new Collector({ data: NO_DATA }).assignEntry(entry),
)

const NO_DATA = {} as Site['data']

/** Every name in a document, part of a site or whole, whether or not what it is part of is switched on. */
export function everyReference(data: Site['data']): readonly Reference[] {
  const collector = new Collector({ data }, true)
  for (const section of REFERRING) collector.section(section)
  for (const [id, page] of Object.entries(data.pages)) collector.onPage(id, page)
  return collector.found
}

const ofPages = new WeakMap<PageData, Placed>()

/** Every name on one page that should lead somewhere; those of a page rest on nothing but it. */
export function referencesOn(site: Site, id: string, page: PageData): readonly Reference[] {
  const at = toPointer(['pages', id])
  let known = ofPages.get(page)
  if (known?.at !== at) ofPages.set(page, (known = { at, references: new Collector(site).onPage(id, page) }))
  return known.references
}

/** What is named in a thing, and where that is. */
interface Placed {
  readonly at: string
  readonly references: readonly Reference[]
}

/** Those of things that come from no extension rest on nothing but the thing. */
const ofThings = new WeakMap<object, Placed>()

class Collector {
  readonly #site: Pick<Site, 'data'>
  readonly #isEverything: boolean
  readonly #found: Reference[] = []

  constructor(site: Pick<Site, 'data'>, isEverything = false) {
    this.#site = site
    this.#isEverything = isEverything
  }

  get found(): readonly Reference[] {
    return this.#found
  }

  section(section: (typeof REFERRING)[number]): readonly Reference[] {
    const { data } = this.#site
    switch (section) {
      case 'theme':
        this.#template(data.theme.template, '/theme/template')
        this.#layout(data.theme.layout, '/theme/layout')
        break
      case 'kinds':
        this.#each('kinds', data.kinds, (kind, at) => {
          this.#template(kind.template, `${at}/template`)
          this.#layout(kind.layout, `${at}/layout`)
        })
        break
      case 'builders':
        this.#each('builders', data.builders, (builder, at) => {
          this.#template(builder.template, `${at}/template`)
          this.#list('kind', builder.kinds, `${at}/kinds`)
          this.#layout(builder.layout, `${at}/layout`)
        })
        break
      case 'templates':
        this.#each('templates', data.templates, (template, at) => {
          this.#add('template', template.base, `${at}/base`)
          this.#add('template', template.copyOf, `${at}/copyOf`)
          this.#add('builder', template.builder, `${at}/builder`)
          this.#list('kind', template.for, `${at}/for`)
          this.#layout(template.layout, `${at}/layout`)
          const items = (template.arrange ?? []).map((entry) => (typeof entry === 'string' ? {} : entry))
          this.#items(items, `${at}/arrange`)
        })
        break
      case 'surrounds':
        this.#each('surrounds', data.surrounds, (surround, at) => {
          this.#add('surround', surround.copyOf, `${at}/copyOf`)
          this.#items(surround.items, `${at}/items`)
          surround.rows?.forEach((row, n) => this.#items(row.items, `${at}/rows/${n}/items`))
        })
        break
      case 'menus':
        for (const [id, entries] of Object.entries(allOf(data.menus) ?? {}))
          entries.forEach((entry, n) => this.#add('page', entry.page, toPointer(['menus', id, n, 'page'])))
        break
      case 'assign':
        data.assign?.forEach((entry, n) => {
          for (const { to, name, pointer } of referencesInEntry(entry)) this.#add(to, name, `/assign/${n}${pointer}`)
        })
        break
      case 'inserts':
        data.inserts?.forEach((insert, n) => {
          if (!this.#isOn(insert.from, `/inserts/${n}/from`)) return
          this.#wheres(insert, `/inserts/${n}`)
          this.#item(insert as unknown as Item, `/inserts/${n}`)
        })
        break
      case 'styles':
        data.styles?.forEach((style, n) => {
          if (this.#isOn(style.from, `/styles/${n}/from`)) this.#wheres(style, `/styles/${n}`)
        })
        break
      case 'policies':
        data.policies?.forEach((policy, n) => this.#wheres(policy, `/policies/${n}`))
        break
      case 'allow':
        data.allow?.forEach((allow, n) => this.#wheres(allow, `/allow/${n}`))
        break
      case 'purposes':
        this.#purposes()
        break
    }
    return this.#found
  }

  assignEntry(entry: AssignData): readonly Reference[] {
    this.#template(entry.template, '/template')
    this.#add('surround', entry.use, '/use')
    this.#layout(entry.layout, '/layout')
    this.#wheres(entry, '')
    return this.#found
  }

  #purposes(): void {
    const { listing = {}, ...single } = this.#site.data.purposes ?? {}
    for (const [purpose, page] of Object.entries(single))
      this.#add('page', page as string | undefined, toPointer(['purposes', purpose]))
    for (const [kind, page] of Object.entries(listing)) {
      this.#add('kind', kind, toPointer(['purposes', 'listing', kind]))
      this.#add('page', page, toPointer(['purposes', 'listing', kind]))
    }
  }

  onPage(id: string, page: PageData): readonly Reference[] {
    const { kind } = page
    const at = toPointer(['pages', id])
    this.#add('kind', kind, `${at}/kind`)
    this.#add('page', page.parent, `${at}/parent`)
    this.#add('page', page.sendTo, `${at}/sendTo`)
    this.#template(page.template, `${at}/template`)
    this.#add('builder', page.built?.with, `${at}/built/with`)
    this.#template(page.built?.template, `${at}/built/template`)
    this.#add('asset', page.image, `${at}/image`)
    this.#add('asset', page.share?.image, `${at}/share/image`)
    this.#layout(page.layout, `${at}/layout`)
    this.#items(page.body, `${at}/body`)
    return this.#found
  }

  #add(to: Named, name: string | undefined, pointer: string): void {
    if (name !== undefined) this.#found.push({ to, name, pointer })
  }

  #template(name: string | undefined, pointer: string): void {
    if (name !== 'none') this.#add('template', name, pointer)
  }

  #list(to: Named, names: readonly string[] | undefined, at: string): void {
    names?.forEach((name, n) => this.#add(to, name, `${at}/${n}`))
  }

  /** Whether a thing is there; the name of its extension is a reference too. */
  #isOn(from: string | undefined, pointer: string): boolean {
    this.#add('extension', from, pointer)
    return this.#isEverything || isOn(this.#site.data, from)
  }

  #each<T extends { readonly from?: string | undefined }>(
    section: string,
    things: Readonly<Record<string, T>> | undefined,
    look: (thing: T, at: string) => void,
  ): void {
    for (const [id, thing] of Object.entries(allOf(things) ?? {})) {
      const at = toPointer([section, id])
      if (thing.from === undefined) this.#placed(thing, at, look)
      else if (this.#isOn(thing.from, `${at}/from`)) look(thing, at)
    }
  }

  /** Adds what is named in a thing; a change leaves most things as they are. */
  #placed<T extends object>(thing: T, at: string, look: (thing: T, at: string) => void): void {
    const known = ofThings.get(thing)
    if (known?.at === at) {
      for (const reference of known.references) this.#found.push(reference)
      return
    }
    const start = this.#found.length
    look(thing, at)
    ofThings.set(thing, { at, references: this.#found.slice(start) })
  }

  #layout(layout: Layout | undefined, at: string): void {
    if (layout) for (const { to, name, path } of namesIn(layout)) this.#add(to, name, at + path)
  }

  #wheres(
    { where, except }: { readonly where?: Where | undefined; readonly except?: Where | undefined },
    at: string,
  ): void {
    for (const [key, value] of [
      ['where', where],
      ['except', except],
    ] as const)
      selectorsOf(value).forEach((selector, n) =>
        this.#selector(selector, Array.isArray(value) ? `${at}/${key}/${n}` : `${at}/${key}`),
      )
  }

  #selector(selector: Selector, at: string): void {
    const names: readonly (readonly [keyof Selector, Named])[] = [
      ['page', 'page'],
      ['under', 'page'],
      ['kind', 'kind'],
      ['tag', 'tag'],
      ['builder', 'builder'],
      ['template', 'template'],
    ]
    for (const [key, to] of names) {
      const value = selector[key] as string | readonly string[] | undefined
      listOf(value).forEach((name, n) =>
        this.#add(to, name, Array.isArray(value) ? `${at}/${key}/${n}` : `${at}/${key}`),
      )
    }
  }

  #items(items: readonly Item[] | undefined, at: string): void {
    items?.forEach((item, n) => this.#item(item, `${at}/${n}`))
  }

  #item(item: Item, at: string): void {
    this.#add('asset', item.image, `${at}/image`)
    this.#add('asset', item.logo, `${at}/logo`)
    this.#add('asset', item.background?.image, `${at}/background/image`)
    this.#add('menu', item.menu, `${at}/menu`)
    this.#add('surround', item.use, `${at}/use`)
    this.#add('page', item.page, `${at}/page`)
    this.#add('kind', item.listing, `${at}/listing`)
    item.links?.forEach((link, n) => {
      if (!/^[a-z][a-z0-9+.-]*:|^[#/?]/i.test(link)) this.#add('page', link, `${at}/links/${n}`)
    })
    this.#items(item.items, `${at}/items`)
    item.columns?.forEach((column, n) => this.#items(column.items, `${at}/columns/${n}/items`))
  }
}

/** Properties that name something, with what. */
const NAMING = FACET_NAMES.flatMap((facet) =>
  Object.entries(FACETS[facet] as Record<string, PropertyDefinition>).flatMap(([property, definition]) =>
    definition.type === 'id' ? [{ facet, property, of: definition.of }] : [],
  ),
)

interface NameInLayout {
  readonly to: Named
  readonly name: string
  /** Pointer within the layout. */
  readonly path: string
}

/** The names in a layout. */
const namesIn = remembered((layout: Layout): readonly NameInLayout[] =>
  NAMING.flatMap(({ facet, property, of }) => {
    const said = (layout[facet] as Readonly<Record<string, unknown>> | undefined)?.[property]
    const path = `/${facet}/${property}`
    const each = isObject(said) ? Object.entries(said).map(([v, name]) => [name, `${path}/${v}`]) : [[said, path]]
    return each.flatMap(([name, here]): NameInLayout[] =>
      typeof name === 'string' && name !== 'inherit' && name !== 'revert'
        ? [{ to: of, name, path: here as string }]
        : [],
    )
  }),
)

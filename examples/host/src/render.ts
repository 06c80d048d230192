import { html, raw } from 'hono/html'
import { atSize, decide, entryMatches, isServed, type Decided } from './decide.js'
import { SizedCss } from './sized-css.js'
import type { BySize, Entry, Fields, Store, Value } from './store.js'
import { THEME } from './theme.js'

type Markup = ReturnType<typeof html>
type Parts = readonly Fields[]

/** Writes an entry as the theme prints it: one markup for all screens, with media queries for what differs. */
export function renderEntry(store: Store, entry: Entry): string {
  return new Theme(store, entry).page().toString()
}

class Theme {
  readonly #store: Store
  readonly #entry: Entry
  readonly #look: Decided
  readonly #css: SizedCss
  readonly #sizes: readonly string[]
  #next = 0

  constructor(store: Store, entry: Entry) {
    this.#store = store
    this.#entry = entry
    this.#look = decide(store, entry)
    this.#sizes = Object.keys(store.sizes)
    this.#css = new SizedCss(store.sizes)
  }

  page(): Markup {
    const { name } = this.#store
    const body = this.#body()
    const path = addressOf(this.#store, this.#entry)
    return html`<!doctype html>
      <html lang="en">
        <head>
          <meta charset="utf-8" />
          <meta name="viewport" content="width=device-width, initial-scale=1" />
          <title>${this.#entry.heading} – ${name}</title>
          <link rel="canonical" href="${this.#store.address + path}" />
          ${this.#entry.share === undefined ? '' : html`<meta property="og:image" content="/media/${this.#entry.share}" />`}
          ${this.#says('search', 'web', false) ? html`<meta name="robots" content="noindex" />` : ''}
          ${this.#store.types[this.#entry.type]?.marked ? this.#structuredData() : ''}
          <link rel="stylesheet" href="/theme.css" />
          <style>
            ${raw(this.#css.text())}
          </style>
          <link rel="stylesheet" href="/custom.css" />
        </head>
        <body class="${this.#classes().join(' ')}">
          ${body}
        </body>
      </html> `
  }

  #structuredData(): Markup {
    const data = { '@context': 'https://schema.org', '@type': 'Article', headline: this.#entry.heading }
    return html`<script type="application/ld+json">
      ${raw(JSON.stringify(data).replaceAll('<', '\\u003c'))}
    </script>`
  }

  #classes(): readonly string[] {
    const { id, type, tool, classes } = this.#entry
    const { layout } = this.#look
    const roles = rolesOf(this.#store, this.#entry)
    return [
      ...[`page-${id}`, `kind-${type}`],
      ...(layout === undefined ? [] : [`template-${layout}`]),
      ...roles.flatMap((role) => [`purpose-${role.split(':')[0]}`, `purpose-${role.replace(':', '-')}`]),
      ...(tool === undefined ? [] : [`built-${tool}`]),
      ...classes,
    ]
  }

  #at(part: string, property: string, size: string): Value | undefined {
    return this.#look.at(part, property, size)
  }

  /** Whether a setting has a value at every size. */
  #says(part: string, property: string, value: Value): boolean {
    return this.#sizes.every((size) => this.#at(part, property, size) === value)
  }

  /** Whether a part is in the markup: not where it is off at every size. */
  #has(part: string): boolean {
    return !this.#says(part, 'display', 'off')
  }

  /** Rules for the sizes at which a part is not simply on. */
  #display(selector: string, part: string): void {
    this.#css.add(selector, (size) => hiding(this.#at(part, 'display', size)))
  }

  #body(): Markup {
    const above = this.#strips('before-header')
    const top = this.#top(above.length > 0)
    const spacer = this.#clearance(above.length > 0)
    const isBand = (part: string): boolean => this.#says(part, 'place', 'band')
    return html`${above}${top}${spacer}${this.#strips('after-header')}${isBand('heading') ? this.#heading(true) : ''}${
      isBand('cover') ? this.#cover() : ''
    }${this.#main(isBand)}${this.#strips('before-footer')}${this.#bar('bottom')}`
  }

  /** The page's own inset where the header takes no room, else a spacer after it. */
  #clearance(hasAbove: boolean): Markup | '' {
    const value = (size: string): Value => this.#at('top', 'clearance', size) ?? 0
    const isInset = (size: string): boolean =>
      !hasAbove &&
      (!this.#isOn('top', size) || ['fixed', 'overlay'].includes(String(this.#at('top', 'position', size))))
    this.#css.add('body', (size) => (isInset(size) ? { 'padding-top': length(value(size)) } : {}))
    if (this.#sizes.every((size) => isInset(size) || Number.parseFloat(String(value(size))) === 0)) return ''
    this.#css.add('.clear', (size) => ({ height: isInset(size) ? '0' : length(value(size)) }))
    return html`<div class="clear"></div>`
  }

  #isOn(part: string, size: string): boolean {
    return this.#at(part, 'display', size) === 'on'
  }

  #top(hasAbove: boolean): Markup | '' {
    const bar = this.#bar('top')
    if (bar === '') return ''
    const positions: Readonly<Record<string, string>> = {
      ...{ sticky: 'sticky', fixed: 'fixed', overlay: 'absolute' },
    }
    this.#css.add('.site-top', (size) => {
      const position = positions[String(this.#at('top', 'position', size))]
      if (position === undefined) return {}
      const floats = position !== 'sticky'
      const top = position === 'absolute' && hasAbove ? {} : { top: '0' }
      return { position, 'z-index': '10', ...top, ...(floats && { left: '0', right: '0' }) }
    })
    return bar
  }

  /** Header or footer: rows of parts side by side. */
  #bar(part: 'top' | 'bottom'): Markup | '' {
    if (!this.#has(part)) return ''
    const selector = part === 'top' ? '.site-top' : '.site-bottom'
    this.#display(selector, part)
    const name = this.#sizes.map((size) => this.#at(part, 'region', size)).find((each) => each != null)
    const region = name == null ? undefined : this.#store.regions[String(name)]
    this.#css.add(selector, (size) => ({
      background: text(this.#at(part, 'background', size) ?? this.#sized(region?.['background'], size)),
      color: text(this.#at(part, 'ink', size) ?? this.#sized(region?.['ink'], size)),
      height: lengthOr(this.#at(part, 'height', size) ?? this.#sized(region?.['height'], size)),
    }))
    const standIns = { logo: this.#first(part, 'logo'), menu: this.#first(part, 'menu') }
    const rows = ((region?.['rows'] ?? []) as Parts).map((row) => this.#row(part, row, standIns))
    return part === 'top'
      ? html`<header id="top" class="site-top">${rows}</header>`
      : html`<footer id="foot" class="site-bottom">${rows}</footer>`
  }

  #first(part: string, property: string): { value: string | undefined } {
    const said = this.#sizes.map((size) => this.#at(part, property, size)).find((value) => value != null)
    return { value: said === undefined ? undefined : String(said) }
  }

  #row(
    part: 'top' | 'bottom',
    row: Fields,
    standIns: Record<'logo' | 'menu', { value: string | undefined }>,
  ): Markup | '' {
    const name = this.#name('row')
    const parts = ((row['parts'] ?? []) as Parts).filter((each) => !this.#isOff(part, each))
    if (this.#isOff(part, row) || parts.length === 0) return ''
    this.#css.add(`.${name}`, (size) => ({
      padding: sides(this.#sized(row['padding'], size)),
      ...(this.#isHidden(row, size, part) || parts.every((each) => this.#isHidden(each, size, part))
        ? { display: 'none' }
        : {}),
    }))
    const inside = parts.map((each) => {
      let said = each
      for (const key of ['logo', 'menu'] as const) {
        const instead = standIns[key].value
        if (each[key] === undefined || instead === undefined) continue
        standIns[key].value = undefined
        said = { ...said, [key]: instead }
      }
      return this.#part(said, part)
    })
    return html`<div class="bar ${name}">${inside}</div>`
  }

  /** Whether a page takes a row or part away at every size. */
  #isOff(part: string, { id }: Fields): boolean {
    return id !== undefined && this.#sizes.every((size) => this.#itemDisplay(part, String(id), size) === 'off')
  }

  #itemDisplay(part: string, id: string, size: string): Value {
    const all = this.#at(part, 'parts', size) as Fields | undefined
    return atSize(all?.[id] as BySize<Value> | undefined, size, this.#sizes) ?? 'on'
  }

  #isHidden(part: Fields, size: string, bar?: string): boolean {
    const isTaken =
      bar !== undefined && part['id'] !== undefined && this.#itemDisplay(bar, String(part['id']), size) !== 'on'
    return isTaken || ((part['hide'] ?? []) as readonly string[]).includes(size)
  }

  #sized(value: Value | undefined, size: string): Value | undefined {
    return atSize(value as BySize<Value> | undefined, size, this.#sizes)
  }

  #name(kind: string): string {
    this.#next += 1
    return `${kind}-${this.#next}`
  }

  #strips(place: string): Markup[] {
    const { strips } = this.#store
    const mine = strips.filter((s) => s.at === place && entryMatches(this.#store, this.#entry, s.match, s.except))
    return mine.length === 0
      ? []
      : [html`<div class="flow">${mine.map(({ id, block }) => this.#block({ ...block, block: id }))}</div>`]
  }

  #main(isBand: (part: string) => boolean): Markup {
    const spacing = (size: string) => ({
      'padding-top': length(this.#at('spacing', 'before', size) ?? 0),
      'padding-bottom': length(this.#at('spacing', 'after', size) ?? 0),
    })
    this.#css.add('main', spacing)
    const isFull = (size: string): boolean => this.#at('width', 'mode', size) === 'full'
    this.#css.add('.frame', (size) => ({
      padding: isFull(size) ? '0' : `0 ${length(this.#at('width', 'gutter', size) ?? 0)}`,
    }))
    this.#css.add('.wrap', (size) => ({
      'max-width': isFull(size) ? 'none' : text(this.#at('width', 'max', size)),
      padding: sides(this.#at('width', 'padding', size)),
    }))
    this.#css.add('.column', (size) => ({ 'max-width': text(this.#at('width', 'columnMax', size)) }))
    const column = html`<div class="column">${this.#look.order.map((each) => this.#ordered(each, isBand))}</div>`
    return html`<main class="flow">
      ${this.#strips('before-content')}
      <div class="frame"><div class="wrap">${this.#cols(column)}</div></div>
      ${this.#strips('after-content')}
    </main>`
  }

  #cols(column: Markup): Markup {
    const isBeside = (size: string): boolean => this.#isOn('rail', size) && this.#at('rail', 'side', size) !== 'none'
    if (this.#says('rail', 'side', 'none') || !this.#has('rail')) return html`<div class="flow">${column}</div>`
    this.#display('.rail', 'rail')
    const name = this.#sizes.map((size) => this.#at('rail', 'region', size)).find((each) => each != null)
    const region = name == null ? undefined : this.#store.regions[String(name)]
    const menu = this.#first('rail', 'menu')
    const parts = ((region?.['parts'] ?? []) as Parts).map((each) => {
      const said = each['menu'] !== undefined && menu.value !== undefined ? { ...each, menu: menu.value } : each
      return this.#part(said)
    })
    const stackAt = length(
      this.#sizes.map((size) => this.#at('rail', 'stackAt', size)).find((each) => each != null) ?? 0,
    )
    this.#css.add('.cols', (size) => ({ gap: length(this.#at('rail', 'gap', size) ?? 0) }))
    this.#css.add('.rail', (size) => ({
      width: length(this.#at('rail', 'width', size) ?? 0),
      order: this.#at('rail', 'side', size) === 'left' ? '-1' : undefined,
      ...(isBeside(size) ? {} : { display: 'none' }),
    }))
    // On small screens the rail goes under the column, as wide as that can be.
    this.#css.raw(
      `@media (max-width:${stackAt}){.cols{flex-direction:column;align-items:stretch}.column{flex:none}.rail{order:0;min-width:100%;align-self:flex-start}}`,
    )
    return html`<div class="cols">
      ${column}
      <aside class="rail">${parts}</aside>
    </div>`
  }

  #ordered(each: Value, isBand: (part: string) => boolean): Markup | '' {
    if (each === 'content')
      return html`<div class="flow">${this.#entry.blocks.map((block) => this.#thing(block))}</div>`
    if (each === 'heading') return isBand('heading') ? '' : this.#heading(false)
    if (each === 'cover') return isBand('cover') ? '' : this.#cover()
    if (each === 'credits')
      return this.#plain('credits', (inside) => html`<p class="byline">${inside}</p>`, '.byline', 'By the night staff')
    if (each === 'replies')
      return this.#plain(
        'replies',
        (inside) => html`<section id="comments" class="replies">${inside}</section>`,
        '.replies',
        'No replies yet.',
        'maxWidth',
      )
    return typeof each === 'string' ? '' : this.#part(each as Fields)
  }

  /** A part of the theme with a height of its own. */
  #plain(
    part: string,
    make: (inside: string) => Markup,
    selector: string,
    words: string,
    widest?: string,
  ): Markup | '' {
    if (!this.#has(part)) return ''
    this.#display(selector, part)
    this.#css.add(selector, (size) => ({
      height: lengthOr(this.#at(part, 'height', size)),
      ...(widest !== undefined && { 'max-width': text(this.#at(part, widest, size)) }),
      ...(this.#gutterInside(size) && { 'padding-inline': length(this.#at('width', 'gutter', size) ?? 0) }),
    }))
    return make(words)
  }

  /** In a container as wide as the window the theme keeps its own words off the edges. */
  #gutterInside = (size: string): boolean => this.#at('width', 'mode', size) === 'full'

  #heading(isBand: boolean): Markup | '' {
    if (!this.#has('heading')) return ''
    this.#display('.page-title', 'heading')
    this.#css.add('.page-title', (size) => {
      const gutter = !isBand && this.#gutterInside(size) ? length(this.#at('width', 'gutter', size) ?? 0) : undefined
      const padding = sides(this.#at('heading', 'padding', size)) ?? '0'
      return {
        padding,
        ...(gutter !== undefined && { 'padding-inline': gutter }),
        background: text(this.#at('heading', 'background', size)),
        height: lengthOr(this.#at('heading', 'height', size)),
      }
    })
    return html`<h1 class="page-title">${this.#entry.heading}</h1>`
  }

  #cover(): Markup | '' {
    const media = this.#entry.picture === undefined ? undefined : this.#store.media[this.#entry.picture]
    if (!this.#has('cover') || !media) return ''
    this.#display('.lead', 'cover')
    this.#css.add('.lead', (size) => ({
      'aspect-ratio': `${media.width}/${media.height}`,
      height: lengthOr(this.#at('cover', 'height', size)),
    }))
    return html`<figure class="lead"><img src="/media/${this.#entry.picture}" alt="" /></figure>`
  }

  #thing(value: Fields): Markup | '' {
    return value['block'] === undefined ? this.#part(value) : this.#block(value)
  }

  /** A block of the builder: its band, and what stands in it. */
  #block(block: Fields): Markup {
    const id = String(block['block'])
    const name = this.#name('block')
    const background = (block['background'] ?? {}) as Fields
    const sized = (key: string, size: string): Value | undefined => this.#sized(block[key], size)
    this.#css.add(`.${name}`, (size) => ({
      padding: sides(sized('padding', size)),
      margin: sides(sized('margin', size)),
      height: lengthOr(sized('height', size)),
      'min-height': lengthOr(sized('minHeight', size)),
      'background-color': text(this.#sized(background['color'], size)),
      'background-image': background['image'] === undefined ? undefined : `url(/media/${String(background['image'])})`,
      'background-blend-mode': text(this.#sized(background['blend'], size)),
      color: text(sized('ink', size)),
      'justify-content': { center: 'center', end: 'flex-end' }[String(sized('align', size))],
      ...(block['breakout'] === true && { 'margin-inline': 'calc(50% - 50vw)' }),
      ...(this.#isHidden(block, size) && { display: 'none' }),
    }))
    this.#css.add(`.${name}>.inside`, (size) => ({ 'max-width': text(sized('maxWidth', size)) }))
    const role = block['role'] === undefined ? undefined : String(block['role'])
    return html`<section id="${id}" class="block ${name}" ${role === undefined ? '' : raw(`role="${role}"`)}>
      <div class="inside">${this.#inside(block, name)}</div>
    </section>`
  }

  #inside(block: Fields, name: string): Markup | Markup[] {
    const columns = block['columns'] as Parts | undefined
    if (!columns) return ((block['parts'] ?? []) as Parts).map((each) => this.#thing(each) as Markup)
    this.#css.add(`.${name} .columns`, (size) => ({ gap: length(this.#sized(block['gap'], size) ?? 0) }))
    const stackAt = length((block['stackAt'] as Value | undefined) ?? 0)
    this.#css.raw(`@media (max-width:${stackAt}){.${name} .columns{display:grid;grid-template-columns:100%}}`)
    const inside = columns.map(
      (column) =>
        html`<div class="flow" style="flex:${String(column['share'] ?? 1)} 1 0">
          ${((column['parts'] ?? []) as Parts).map((each) => this.#thing(each))}
        </div>`,
    )
    return html`<div class="columns">${inside}</div>`
  }

  /** One thing that prints. */
  #part(part: Fields, bar?: 'top' | 'bottom'): Markup | '' {
    const name = this.#name('p')
    this.#css.add(`.${name}`, (size) => ({
      height: lengthOr(this.#sized(part['height'], size)),
      width: lengthOr(this.#sized(part['width'], size)),
      ...(this.#isHidden(part, size, bar) && { display: 'none' }),
      ...(part['gap'] !== undefined && { height: length(this.#sized(part['gap'], size) ?? 0) }),
    }))
    const say = (key: string): string => String(part[key])
    if (part['heading'] !== undefined)
      return html`${raw(`<h${Number(part['heading'])} class="${name}">`)}${say('text')}${raw(`</h${Number(part['heading'])}>`)}`
    if (part['title']) return html`<h1 class="${name}">${this.#entry.heading}</h1>`
    if (part['text'] !== undefined)
      return html`<p class="${name}">${this.#linked(say('text'), part['links'] as readonly string[] | undefined)}</p>`
    if (part['button'] !== undefined)
      return html`<p class="${name}"><a class="button" href="${this.#href(part)}">${say('button')}</a></p>`
    if (part['image'] !== undefined) return this.#picture(say('image'), name)
    if (part['logo'] !== undefined) return this.#logo(part, name)
    if (part['menu'] !== undefined) return this.#menu(say('menu'), name)
    if (part['social'] !== undefined)
      return html`<p class="social ${name}">
        ${(part['social'] as Parts).map((s) => html`<a ${s['url'] === undefined ? '' : raw(`href="${String(s['url'])}"`)}>${String(s['label'])}</a> `)}
      </p>`
    if (part['form'] !== undefined) return this.#form(Number(part['fields'] ?? 1), name)
    if (part['search'])
      return html`<form role="search" class="seek ${name}" action="/find">
        <input type="search" name="q" aria-label="Search" />
      </form>`
    if (part['countdown'] !== undefined) return html`<p class="countdown ${name}">${say('countdown').slice(0, 10)}</p>`
    if (part['listing'] !== undefined) return this.#listing(say('listing'), Number(part['count'] ?? 10), name)
    if (part['region'] !== undefined)
      return html`<div class="${name}">
        ${((this.#store.regions[say('region')]?.['parts'] ?? []) as Parts).map((each) => this.#part(each))}
      </div>`
    if (part['embed'] !== undefined)
      return html`<iframe class="${name}" src="${say('embed')}" title="Embedded"></iframe>`
    if (part['account']) return html`<p class="line ${name}"><a href="/door">Sign in</a></p>`
    if (part['byline']) return html`<p class="line ${name}">By the night staff</p>`
    if (part['comments']) return html`<section class="replies ${name}">No replies yet.</section>`
    return part['gap'] === undefined ? '' : html`<div class="${name}"></div>`
  }

  #linked(words: string, links: readonly string[] | undefined): Markup {
    if (!links) return html`${words}`
    const [first, ...rest] = links.map((link) => this.#href({ page: link, url: link }))
    return html`<a href="${first}">${words}</a>${rest.map((href) => html`<a href="${href}" aria-label="more"></a>`)}`
  }

  #href(part: Fields): string {
    const entry = part['page'] === undefined ? undefined : this.#store.entries.get(String(part['page']))
    return entry ? addressOf(this.#store, entry) : String(part['url'] ?? '#')
  }

  #picture(name: string, className: string): Markup | '' {
    const media = this.#store.media[name]
    if (!media) return ''
    return html`<figure class="picture ${className}" style="aspect-ratio:${media.width}/${media.height}">
      <img src="/media/${name}" alt="" />
    </figure>`
  }

  #logo(part: Fields, name: string): Markup | '' {
    const media = this.#store.media[String(part['logo'])]
    if (!media) return ''
    const height = part['height'] === undefined ? `height:${media.height}px` : ''
    return html`<a class="logo ${name}" style="${height}" href="${part['page'] === undefined ? '/' : this.#href(part)}"
      ><img src="/media/${String(part['logo'])}" alt="${this.#store.name}"
    /></a>`
  }

  #menu(name: string, className: string): Markup | '' {
    const entries = this.#store.menus[name] ?? []
    if (entries.length === 0) return ''
    const links = entries.flatMap(({ label, entry, url }) => {
      const page = entry === undefined ? undefined : this.#store.entries.get(entry)
      const href = page ? addressOf(this.#store, page) : url
      return href === undefined || (entry !== undefined && !page) ? [] : [html`<li><a href="${href}">${label}</a></li>`]
    })
    return html`<nav class="${className}">
      <ul class="menu">
        ${links}
      </ul>
    </nav>`
  }

  #form(fields: number, name: string): Markup {
    const rows = Array.from({ length: fields }, (_, n) => html`<label class="field">Field ${n + 1}<input /></label>`)
    return html`<form class="form ${name}">${rows}<button class="button">Send</button></form>`
  }

  #listing(type: string, count: number, name: string): Markup {
    const entries = [...this.#store.entries.values()]
      .filter((e) => e.type === type && e.state === 'live')
      .slice(0, count)
    return html`<div class="listing ${name}">
      ${entries.map(
        (entry) =>
          html`<article class="card">
            <h3><a href="${addressOf(this.#store, entry)}">${entry.heading}</a></h3>
            <p>From Quillmere</p>
          </article>`,
      )}
    </div>`
  }
}

/** Where an entry is served: the front page at `/`. */
export const addressOf = (store: Store, entry: Entry): string =>
  store.roles['front'] === entry.id ? '/' : entry.address

function rolesOf(store: Store, entry: Entry): readonly string[] {
  return Object.entries(store.roles).flatMap(([role, value]) =>
    value === entry.id
      ? [role]
      : typeof value === 'object' && value !== null
        ? Object.entries(value).flatMap(([type, id]) => (id === entry.id ? [`${role}:${type}`] : []))
        : [],
  )
}

const length = (value: Value): string => (typeof value === 'number' ? `${value}px` : String(value))
const lengthOr = (value: Value | undefined): string | undefined => (value == null ? undefined : length(value))
const text = (value: Value | undefined): string | undefined => (value == null ? undefined : String(value))
const sides = (value: Value | undefined): string | undefined => (value == null ? undefined : length(value))

function hiding(display: Value | undefined): Readonly<Record<string, string>> {
  if (display === 'kept' || display === 'off') return { display: 'none' }
  if (display !== 'spoken') return {}
  return {
    position: 'absolute',
    width: '1px',
    height: '1px',
    padding: '0',
    overflow: 'hidden',
    'clip-path': 'inset(50%)',
  }
}

/** All published entries that are served, in the store's order. */
export const servedEntries = (store: Store): readonly Entry[] =>
  [...store.entries.values()].filter((entry) => entry.state === 'live' && isServed(store, entry))

export const themeCss = (store: Store): string => THEME(store)

import type { PropertyPath } from '../model/facets.js'
import { LARGEST_PX, parseLength, parseSides, type Length, type LengthContext, type Sides } from '../css/length.js'
import { isObject, own, type Json } from '../model/json.js'
import type { Site, Viewport } from '../model/site.js'
import type { SiteData, SurroundData } from '../model/schema.js'
import type { ByViewport } from '../model/site-data.js'
import type { PageView } from '../resolve/page.js'
import { surroundOf } from '../resolve/extensions.js'
import { atViewport } from '../resolve/settings.js'
import { assetSize } from './asset-size.js'
import { siteFont } from './font.js'
import { ESTIMATE, type TextMeasurer } from './text.js'

/** Sizes of text by the site's `typography`. */
export interface Typography {
  readonly base: number
  readonly line: number
  readonly headings: readonly { readonly size: number; readonly line: number }[]
}

/** The contract's headings 1 to 6, in px. */
const HEADING_SIZES = [40, 32, 24, 20, 18, 16]
const HEADING_LINE = 1.2
const BASE = 16
const LINE = 1.5

/** All that measuring a page at a viewport needs to know, with the conversions that depend on it. */
export class Frame {
  readonly site: Site
  readonly view: PageView
  readonly viewport: Viewport
  readonly text: TextMeasurer
  readonly typography: Typography
  /** Heights of sections' contents that were needed before they were placed, by pointer and width. */
  #contentHeights: Map<string, number> | undefined

  constructor(view: PageView, text?: TextMeasurer) {
    this.view = view
    this.site = view.page.site
    this.viewport = view.viewport
    this.text = text ?? siteFont(this.site) ?? ESTIMATE
    this.typography = typographyOf(this.site, this.viewport)
  }

  /** The height of a section's content that is needed before it is placed; worked out once for a pointer and width. */
  contentHeight(pointer: string, width: number, work: () => number): number {
    const known = (this.#contentHeights ??= new Map<string, number>())
    const key = `${pointer} ${width}`
    let height = known.get(key)
    if (height === undefined) known.set(key, (height = work()))
    return height
  }

  /** A property of the page's layout, as it was set. */
  value(path: PropertyPath): Json {
    return this.view.value(path)
  }

  /** Whether a presence of the page's layout is `shown`, which it is where no layer sets one. */
  isShown(path: PropertyPath): boolean {
    return (this.value(path) ?? 'shown') === 'shown'
  }

  get title(): string {
    return this.view.page.data.title
  }

  /** The menu of an id; `undefined` where there is none. */
  menu(id: string): MenuData | undefined {
    return own(this.site.data.menus, id)
  }

  /** The surround of an id; `undefined` where there is none or its extension is off. */
  surround(id: string | null | undefined): SurroundData | undefined {
    return id == null ? undefined : surroundOf(this.site.data, id)
  }

  get width(): number {
    return this.viewport.width
  }

  /** What relative lengths are relative to. */
  context(percentOf?: number): LengthContext {
    const { width, height } = this.viewport
    return { width, height, rem: this.typography.base, percentOf }
  }

  /** A value by viewport, at this one. */
  at<T>(value: ByViewport<T> | undefined): T | undefined {
    return isObject(value) ? (atViewport(value as Json, this.viewport.name) as T | undefined) : (value as T | undefined)
  }

  /** A length by viewport in px, 0 or more; `undefined` where nothing, `none` or `auto` is set. */
  px(value: ByViewport<string | number> | undefined, percentOf?: number): number | undefined {
    const said = this.at(value)
    if (said === undefined || said === null) return undefined
    if (typeof said === 'number') return Number.isFinite(said) ? Math.min(LARGEST_PX, Math.max(0, said)) : undefined
    const length = parseLength(said)
    return length ? Math.max(0, length.px(this.context(percentOf))) : undefined
  }

  /** Four lengths by viewport in px; only margins may be negative. */
  sides(value: ByViewport<string | number> | undefined, percentOf: number, negative = false): Sides<number> {
    const said = this.at(value)
    const four = said === undefined ? null : parseSides(said)
    if (!four) return NO_SIDES
    const context = this.context(percentOf)
    const px = (length: Length): number => (negative ? length.px(context) : Math.max(0, length.px(context)))
    return { top: px(four.top), right: px(four.right), bottom: px(four.bottom), left: px(four.left) }
  }

  /** A property of the page's layout in px. */
  property(path: PropertyPath, percentOf?: number): number | undefined {
    return this.px((this.value(path) ?? undefined) as string | number | undefined, percentOf)
  }

  /** Whether `hide` names this viewport. */
  isHidden(hide: readonly string[] | undefined): boolean {
    return hide?.includes(this.viewport.name) ?? false
  }

  get line(): number {
    return this.typography.base * this.typography.line
  }

  /** Size and line height of a heading of a level, in px. */
  heading(level: number): { readonly size: number; readonly line: number } {
    return this.typography.headings[level - 1] ?? { size: BASE, line: HEADING_LINE }
  }

  /** The asset of an id; `undefined` where there is none. */
  asset(id: string | null | undefined): AssetData | undefined {
    return id == null ? undefined : own(this.site.data.assets, id)
  }

  /** An asset's own size in px; `undefined` when it is unknown. */
  assetSize(id: string | null | undefined): { readonly width: number; readonly height: number } | undefined {
    return id != null && this.asset(id) ? assetSize(this.site, id) : undefined
  }
}

type MenuData = NonNullable<SiteData['menus']>[string]
type AssetData = NonNullable<SiteData['assets']>[string]

const NO_SIDES: Sides<number> = { top: 0, right: 0, bottom: 0, left: 0 }

const known = new WeakMap<object, Map<string, Typography>>()
const UNSAID = {}

/** Sizes of text at a viewport, read once for as long as the site sets the same for them. */
function typographyOf({ data }: Site, viewport: Viewport): Typography {
  const said = data.typography ?? UNSAID
  let sizes = known.get(said)
  if (!sizes) known.set(said, (sizes = new Map()))
  const key = `${viewport.width} ${viewport.height}`
  let found = sizes.get(key)
  if (!found) {
    if (sizes.size > MOST_KEPT) sizes.clear()
    sizes.set(key, (found = readTypography(data.typography, viewport)))
  }
  return found
}

/** For how many sizes of the window the sizes of text are kept. */
const MOST_KEPT = 200

function readTypography(said: SiteData['typography'], viewport: Viewport): Typography {
  const px = (value: unknown, rem: number): number | undefined =>
    typeof value === 'string' || typeof value === 'number'
      ? parseLength(value)?.px({ width: viewport.width, height: viewport.height, rem })
      : undefined
  const base = px(said?.base, BASE) ?? BASE
  const headings = (said?.headings ?? {}) as Readonly<Record<string, { size?: unknown; line?: number }>>
  return {
    base,
    line: said?.line ?? LINE,
    headings: HEADING_SIZES.map((size, index) => {
      const heading = own(headings, String(index + 1))
      return { size: px(heading?.size, base) ?? size, line: heading?.line ?? HEADING_LINE }
    }),
  }
}

import type { PropertyPath } from '../model/facets.js'
import { LARGEST_PX, parseLength, parseSides, type Length, type LengthContext, type Sides } from '../css/length.js'
import { isObject, own, type Json } from '../model/json.js'
import type { Site, Viewport } from '../model/site.js'
import type { SiteData, SurroundData } from '../model/schema.js'
import type { ByViewport } from '../model/site-data.js'
import type { Layout } from '../resolve/layout.js'
import type { PageView } from '../resolve/page.js'
import type { StyleResult } from '../resolve/style-layer.js'
import { surroundOf } from '../resolve/extensions.js'
import { atViewport } from '../resolve/settings.js'
import { assetSize } from './asset-size.js'
import { Cursor } from './box.js'
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

/** What a part of a page may ask for while it is worked out. */
type Question = 'value' | 'menu' | 'surround' | 'asset' | 'title'

interface Asked {
  readonly question: Question
  readonly of: string
  readonly answer: unknown
}

/** A part that was worked out: what it was given, what it asked for, and what it came to. */
interface Part {
  readonly given: readonly unknown[]
  readonly asked: readonly Asked[]
  readonly result: unknown
}

/** A part that pages with the same layout and style share, as far as nothing else that it asked for is other. */
interface SharedPart {
  readonly name: string
  readonly frame: Pick<Frame, 'viewport' | 'text' | 'typography'>
  readonly load: Site['load']
  readonly style: StyleResult
  readonly part: Part
}

const shared = new WeakMap<Layout, SharedPart[]>()
/** How many parts are kept of one layout: header and footer at so many viewports. */
const MOST_SHARED = 16

/** All that measuring a page at a viewport needs to know, with the conversions that depend on it. */
export class Frame {
  readonly site: Site
  readonly view: PageView
  readonly viewport: Viewport
  readonly text: TextMeasurer
  readonly typography: Typography
  /** Heights of sections' contents that were needed before they were placed, by pointer and width. */
  #contentHeights: Map<string, number> | undefined
  /** The page as it was measured before a change, where texts and window are the same. */
  #before: Frame | undefined
  readonly #parts = new Map<string, Part>()
  #asked: Asked[] | undefined
  readonly #isLast: boolean

  /**
   * @param before - What the page was measured with before a change.
   * @param isLast - Whether nobody will measure it after a change, so that what its parts ask for need not be noted.
   */
  constructor(view: PageView, text?: TextMeasurer, before?: Frame, isLast = false) {
    this.#isLast = isLast
    this.view = view
    this.site = view.page.site
    this.viewport = view.viewport
    this.text = text ?? siteFont(this.site) ?? ESTIMATE
    this.typography = typographyOf(this.site, this.viewport)
    const isAlike = before?.site.load === this.site.load && isLike(before, this)
    this.#before = isAlike && before.view.page.entryNames === view.page.entryNames ? before : undefined
  }

  /**
   * A part of the page: as it was before a change where it is given the same and what it asks for has the same answers,
   * else worked out. It may ask for nothing that a page or site decides but through the frame.
   *
   * @internal
   */
  part<T>(name: string, given: readonly unknown[], make: () => T): T {
    const before = this.#partBefore(name, given)
    if (!before && this.#isLast && !this.#asked) return make()
    return this.#take(name, before ?? this.#workOut(given, make)) as T
  }

  /** Whether no part is kept, or taken from before: then a part may be laid out right where it belongs. @internal */
  get isPlain(): boolean {
    return this.#isLast && !this.#before && !this.#asked
  }

  #partBefore(name: string, given: readonly unknown[]): Part | undefined {
    const before = this.#before && this.#before.#parts.get(name)
    return before && isSame(before.given, given) && this.#isStill(before, this.#isLayoutSame) ? before : undefined
  }

  #workOut(given: readonly unknown[], make: () => unknown): Part {
    const around = this.#asked
    const asked: Asked[] = (this.#asked = [])
    const result = make()
    this.#asked = around
    return { given, asked, result }
  }

  /**
   * The same for a part that may be that of another page: one that is given nothing, and that layout and style decide
   * but for what it asks for.
   *
   * @internal
   */
  sharedPart<T>(name: string, make: () => T): T {
    const { layout } = this.view.page
    const { style } = this.view
    let known = shared.get(layout)
    if (!known) shared.set(layout, (known = []))
    const at = known.findIndex(
      (each) => each.name === name && each.style === style && each.load === this.site.load && isLike(each.frame, this),
    )
    const found = known[at]?.part
    if (found && this.#isStill(found, true)) return this.#take(name, found) as T
    const part = this.#partBefore(name, []) ?? this.#workOut([], make)
    const { viewport, text, typography } = this
    const kept = { name, frame: { viewport, text, typography }, load: this.site.load, style, part }
    if (at >= 0) known[at] = kept
    else if (known.push(kept) > MOST_SHARED) known.shift()
    return this.#take(name, part) as T
  }

  /** Whether all that a part asked for has the same answers; what layout and style decide need not be asked where these are the same. */
  #isStill({ asked }: Part, isLayoutSame: boolean): boolean {
    return asked.every((each) => (isLayoutSame && each.question === 'value') || this.#isAnsweredSame(each))
  }

  #take(name: string, part: Part): unknown {
    this.#parts.set(name, part)
    // A part that is within another is what that one rests on, too.
    if (this.#asked) for (const each of part.asked) this.#asked.push(each)
    return part.result
  }

  get #isLayoutSame(): boolean {
    const { view } = this
    const before = this.#before?.view
    return before !== undefined && before.page.layout === view.page.layout && before.style === view.style
  }

  /** The height of a section's content that is needed before it is placed; worked out once for a pointer and width. */
  contentHeight(pointer: string, width: number, work: () => number): number {
    const known = (this.#contentHeights ??= new Map<string, number>())
    const key = `${pointer} ${width}`
    let height = known.get(key)
    if (height === undefined) known.set(key, (height = work()))
    return height
  }

  /** Lets go of what came before, so that measures of many changes in a row do not hold on to one another. @internal */
  forgetBefore(): void {
    this.#before = undefined
  }

  #ask(question: Question, of: string): unknown {
    const answer = this.#answer(question, of)
    this.#asked?.push({ question, of, answer })
    return answer
  }

  #isAnsweredSame({ question, of, answer }: Asked): boolean {
    return this.#answer(question, of) === answer
  }

  #answer(question: Question, of: string): unknown {
    const { data } = this.site
    switch (question) {
      case 'value':
        return this.view.value(of as PropertyPath)
      case 'menu':
        return own(data.menus, of)
      case 'surround':
        return surroundOf(data, of)
      case 'asset':
        return own(data.assets, of)
      case 'title':
        return this.view.page.data.title
    }
  }

  /** A property of the page's layout, as it was set. */
  value(path: PropertyPath): Json {
    return this.#ask('value', path) as Json
  }

  /** Whether a presence of the page's layout is `shown`, which it is where no layer sets one. */
  isShown(path: PropertyPath): boolean {
    return (this.value(path) ?? 'shown') === 'shown'
  }

  get title(): string {
    return this.#ask('title', '') as string
  }

  /** The menu of an id; `undefined` where there is none. */
  menu(id: string): MenuData | undefined {
    return this.#ask('menu', id) as MenuData | undefined
  }

  /** The surround of an id; `undefined` where there is none or its extension is off. */
  surround(id: string | null | undefined): SurroundData | undefined {
    return id == null ? undefined : (this.#ask('surround', id) as SurroundData | undefined)
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
    return id == null ? undefined : (this.#ask('asset', id) as AssetData | undefined)
  }

  /** An asset's own size in px; `undefined` when it is unknown. */
  assetSize(id: string | null | undefined): { readonly width: number; readonly height: number } | undefined {
    return id != null && this.asset(id) ? assetSize(this.site, id) : undefined
  }
}

type MenuData = NonNullable<SiteData['menus']>[string]
type AssetData = NonNullable<SiteData['assets']>[string]

const NO_SIDES: Sides<number> = { top: 0, right: 0, bottom: 0, left: 0 }

/** Whether two frames have the same window and the same sizes of text. */
function isLike(a: Pick<Frame, 'viewport' | 'text' | 'typography'>, b: typeof a): boolean {
  const [{ name, width, height }, other] = [a.viewport, b.viewport]
  const isSameWindow = other.name === name && other.width === width && other.height === height
  return isSameWindow && a.text === b.text && a.typography === b.typography
}

const isSame = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a.length === b.length && a.every((each, n) => each === b[n] || (each instanceof Cursor && each.isAt(b[n])))

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

import { parseColor } from '../css/color.js'
import { parseLength, parseSides, type LengthContext } from '../css/length.js'
import { mediaHolds } from '../css/media.js'
import type { Presence, SettingPath } from '../model/facets.js'
import type { Json } from '../model/json.js'
import { addToList } from '../model/lists.js'
import type { Viewport } from '../model/site.js'
import type { ChromeElement, ChromePart } from './chrome-tree.js'
import type { SiteStyle, StyleDeclaration } from './style-sheets.js'

/** What style sets for one property: the value it comes to, and the declarations that set it, strongest first. */
export interface StyleEntry {
  readonly value: Json
  readonly declarations: readonly StyleDeclaration[]
  /** How many of the first of them decide together, as clipping and positioning do. */
  readonly together: number
}

/** What style sheets change on a page at a viewport. */
export interface StyleResult {
  /** By property path; `ground.color` and `ground.ink` are the page's. */
  readonly entries: ReadonlyMap<SettingPath, StyleEntry>
  /** What styles set on things that are absent, without effect. */
  readonly passed: ReadonlyMap<SettingPath, readonly StyleDeclaration[]>
  /** Declarations that move or hide a part in a way that is not followed. */
  readonly notUnderstood: readonly { readonly part: ChromePart; readonly declaration: StyleDeclaration }[]
}

/** The settings' value, before style. */
export type SettingsValue = (path: SettingPath) => Json

/** Orders declarations as CSS Cascading 4, section 6 does: importance, specificity, order; strongest first. */
function byCascade(a: StyleDeclaration, b: StyleDeclaration): number {
  return (
    Number(b.important) - Number(a.important) ||
    b.specificity[0] - a.specificity[0] ||
    b.specificity[1] - a.specificity[1] ||
    b.specificity[2] - a.specificity[2] ||
    b.order - a.order
  )
}

/** All declarations on one element, by property, strongest first. */
type Declared = ReadonlyMap<string, readonly StyleDeclaration[]>

function declaredOn(element: ChromeElement, styles: readonly SiteStyle[], viewport: Viewport): Declared {
  const found = new Map<string, StyleDeclaration[]>()
  for (const style of styles)
    for (const rule of style.rules) {
      if (!rule.matches(element) || !rule.media.every((query) => mediaHolds(query, viewport))) continue
      for (const declaration of rule.declarations) {
        addToList(found, declaration.property, declaration)
      }
    }
  for (const list of found.values()) list.sort(byCascade)
  return found
}

/** What styles are matched against. */
export interface StyledPage {
  /** The elements that are in the markup. */
  readonly tree: ReadonlyMap<ChromePart, ChromeElement>
  /** The same with those that are absent, to report what styles set on them without effect. */
  readonly withAbsent: ReadonlyMap<ChromePart, ChromeElement>
  readonly styles: readonly SiteStyle[]
}

/** What styles declare on each part at one viewport, whatever the settings. */
export type MatchedStyles = readonly {
  readonly part: ChromePart
  readonly isInMarkup: boolean
  readonly declared: Declared
}[]

/** The declarations on each part of a page. */
export function matchStyles({ tree, withAbsent, styles }: StyledPage, viewport: Viewport): MatchedStyles {
  return [...withAbsent].flatMap(([part, element]) => {
    const here = tree.get(part)
    const declared = declaredOn(here ?? element, styles, viewport)
    return declared.size === 0 ? [] : [{ part, isInMarkup: here !== undefined, declared }]
  })
}

/** Works out what a page's styles change of what its settings print, at one viewport. */
export function applyStyles(
  matched: MatchedStyles,
  viewport: Viewport,
  rem: number,
  settings: SettingsValue,
): StyleResult {
  const entries = new Map<SettingPath, StyleEntry>()
  const passed = new Map<SettingPath, readonly StyleDeclaration[]>()
  const notUnderstood: { part: ChromePart; declaration: StyleDeclaration }[] = []
  for (const { part, isInMarkup, declared } of matched) {
    const used = new Set<string>()
    READERS[part]({
      ...{ declared, settings, viewport, rem, used },
      effective: (path) => entries.get(path)?.value ?? settings(path),
      // Of what is not in the markup only its absence is reported, which no style ends.
      say: (path, value, declarations, together = 1) => {
        if (isInMarkup) entries.set(path, { value, declarations, together })
      },
      pass: (path, declarations) => void passed.set(path, declarations),
    })
    if (!isInMarkup) continue
    for (const [property, [strongest]] of declared)
      if (strongest && moves(property, strongest.value) && !used.has(property))
        notUnderstood.push({ part, declaration: strongest })
  }
  return { entries, passed, notUnderstood }
}

/** Properties that move or hide what they are on (or change its size); all else is a matter of looks. */
const MOVING = new RegExp(
  `^(${[
    ...[
      'display',
      'visibility',
      'opacity',
      'content-visibility',
      'position',
      'top',
      'right',
      'bottom',
      'left',
      'float',
    ],
    ...['clear', 'transform', 'translate', 'rotate', 'scale', 'zoom', 'clip', 'clip-path', 'mask', 'overflow', 'order'],
    ...[
      'margin(-.*)?',
      'padding(-.*)?',
      'border(-.*)?-width',
      '(min-|max-)?(width|height)',
      'flex(-.*)?',
      'grid(-.*)?',
    ],
    ...['columns?(-.*)?', 'font-size', 'line-height', 'gap', 'inset(-.*)?', 'box-sizing', 'text-indent', 'all'],
  ].join('|')})$`,
)

/** Values that leave a thing where it is. */
const NEUTRAL = new Set(['none', 'visible', 'static', 'relative', 'auto', 'normal', 'border-box', 'nowrap'])
const UNIT_IS_NEUTRAL = new Set(['opacity', 'scale', 'zoom'])

function moves(property: string, value: string): boolean {
  if (!MOVING.test(property) || NEUTRAL.has(value)) return false
  if (UNIT_IS_NEUTRAL.has(property)) return value !== '1' && value !== '100%'
  return value !== '0' && value !== '0px'
}

interface PartContext {
  readonly declared: Declared
  readonly settings: SettingsValue
  /** The settings' value, or style where it has decided already; parts of the header come before the page. */
  readonly effective: SettingsValue
  readonly viewport: Viewport
  readonly rem: number
  /** Properties that were understood. */
  readonly used: Set<string>
  readonly say: (path: SettingPath, value: Json, declarations: readonly StyleDeclaration[], together?: number) => void
  readonly pass: (path: SettingPath, declarations: readonly StyleDeclaration[]) => void
}

type Reader = (context: PartContext) => void

const all =
  (...readers: readonly Reader[]): Reader =>
  (context) =>
    readers.forEach((read) => read(context))

/** The strongest declaration of a property; the property then counts as understood if `accept` takes its value. */
function take(context: PartContext, property: string, accept: (value: string) => boolean): readonly StyleDeclaration[] {
  const list = context.declared.get(property) ?? []
  const [strongest] = list
  if (!strongest || !accept(strongest.value)) return []
  context.used.add(property)
  return list
}

const isLength = (value: string): boolean => parseLength(value) !== null
const isColor = (value: string): boolean => parseColor(value) !== null

/** A property whose value is taken over as it is. */
const plain =
  (property: string, path: SettingPath, accept: (value: string) => boolean): Reader =>
  (context) => {
    const list = take(context, property, accept)
    if (list[0]) context.say(path, list[0].value, list)
  }

/** What a presence is in CSS, on which declarations then work. */
const BASE_OF: Readonly<Record<Presence, Readonly<Record<string, string>>>> = {
  shown: {},
  'visually-hidden': {
    position: 'absolute',
    'clip-path': 'inset(50%)',
    width: '1px',
    height: '1px',
    overflow: 'hidden',
  },
  hidden: { display: 'none' },
  absent: {},
}
const HIDING = ['display', 'clip-path', 'clip', 'position', 'width', 'height', 'overflow'] as const

/** `display: none` is hidden; clipped to nothing and out of flow is visually hidden; anything else is shown. */
function presenceOf(css: (property: string) => string | undefined): Presence {
  if (css('display') === 'none') return 'hidden'
  const outOfFlow = ['absolute', 'fixed'].includes(css('position') ?? '')
  return outOfFlow && isClipped(css) ? 'visually-hidden' : 'shown'
}

function isClipped(css: (property: string) => string | undefined): boolean {
  const path = css('clip-path')?.replace(/\s/g, '')
  if (path === 'inset(50%)' || path === 'inset(100%)' || path === 'circle(0)') return true
  const clip = css('clip')
  if (clip && /^rect\(\s*([01](px)?[\s,]*){4}\)$/.test(clip)) return true
  const tiny = (property: string): boolean => ['0', '0px', '1px'].includes(css(property) ?? '')
  return tiny('width') && tiny('height') && ['hidden', 'clip'].includes(css('overflow') ?? '')
}

const presence =
  (path: SettingPath): Reader =>
  (context) => {
    const said = (context.settings(path) ?? 'shown') as Presence
    const css = (property: string): string | undefined =>
      context.declared.get(property)?.[0]?.value ?? BASE_OF[said][property]
    const relevant = HIDING.filter((property) => context.declared.has(property))
    if (relevant.length === 0) return
    if (said === 'absent') {
      context.pass(path, relevant.flatMap((property) => context.declared.get(property) ?? []).sort(byCascade))
      return
    }
    const value = presenceOf(css)
    // `display: flex` on a shown header leaves it shown: that is no word on presence.
    const isNews = value !== 'shown' || said !== 'shown'
    if (context.declared.has('display')) context.used.add('display')
    if (!isNews) return
    if (value === 'visually-hidden') HIDING.forEach((property) => context.used.add(property))
    const { strongest, others } = parted(context, value === 'hidden' ? ['display'] : relevant)
    if (strongest[0]) context.say(path, value, [...strongest, ...others], strongest.length)
  }

/** The strongest declaration of each of some properties, which decide together, and those they outrank. */
function parted({ declared }: PartContext, properties: readonly string[]) {
  const lists = properties.map((property) => declared.get(property) ?? [])
  const strongest = lists.flatMap((list) => list.slice(0, 1))
  const others = lists.flatMap((list) => list.slice(1)).sort(byCascade)
  return { strongest, others }
}

const POSITIONS: Readonly<Record<string, string>> = {
  static: 'flow',
  relative: 'flow',
  sticky: 'sticky',
  fixed: 'fixed',
  absolute: 'overlay',
}

const headerPosition: Reader = (context) => {
  const list = take(context, 'position', (value) => Object.hasOwn(POSITIONS, value))
  if (list[0]) context.say('header.position', POSITIONS[list[0].value] ?? null, list)
  // Where a header that is out of the flow or sticky is pinned is what the position means.
  for (const side of ['top', 'left', 'right']) take(context, side, (value) => ['0', '0px', 'auto'].includes(value))
}

const contextOf = ({ viewport, rem }: PartContext): LengthContext => ({
  ...{ width: viewport.width, height: viewport.height, rem, percentOf: viewport.width },
})

/** Padding and margin above (or below) the content add up; what style leaves alone the settings give. */
const spacing =
  (side: 'top' | 'bottom', path: SettingPath): Reader =>
  (context) => {
    const padding = take(context, `padding-${side}`, isLength)
    const margin = take(context, `margin-${side}`, isLength)
    if (padding.length + margin.length === 0) return
    const px = (value: Json): number =>
      typeof value === 'string' || typeof value === 'number' ? (parseLength(value)?.px(contextOf(context)) ?? 0) : 0
    const inner = px(padding[0]?.value ?? context.settings(path))
    const { strongest, others } = parted(context, [`padding-${side}`, `margin-${side}`])
    context.say(path, Math.max(0, inner + px(margin[0]?.value ?? 0)), [...strongest, ...others], strongest.length)
  }

const NO_CAP = new Set(['none', '100%'])

/** The container: a length is a maximum, `none` and `100%` are the full window. */
const containerWidth: Reader = (context) => {
  const isWidth = (value: string): boolean => NO_CAP.has(value) || isLength(value)
  const cap = take(context, 'max-width', isWidth)
  const width = take(context, 'width', isWidth)
  const [bound] = [cap, width].filter((list) => list[0] && !NO_CAP.has(list[0].value))
  if (bound?.[0]) {
    context.say('width.max', bound[0].value, bound)
    if (context.settings('width.mode') === 'full') context.say('width.mode', 'boxed', bound)
  } else {
    const open = cap[0] ? cap : width
    if (open[0]) context.say('width.mode', 'full', open)
  }
  // `margin: 0 auto` centers the container, which it is anyway.
  for (const side of ['margin-left', 'margin-right'])
    take(context, side, (value) => ['0px', '0', 'auto'].includes(value))
}

/** Some sides of a padding; those that style leaves alone the settings give. */
const paddings =
  (path: SettingPath, sides: readonly string[]): Reader =>
  (context) => {
    const lists = sides.map((side) => take(context, `padding-${side}`, isLength))
    if (lists.every((list) => list.length === 0)) return
    const said = fourOf(context.settings(path))
    const value = ['top', 'right', 'bottom', 'left'].map((side, n) => lists[sides.indexOf(side)]?.[0]?.value ?? said[n])
    const { strongest, others } = parted(
      context,
      sides.map((side) => `padding-${side}`).filter((_, n) => lists[n]?.[0]),
    )
    context.say(path, value.join(' '), [...strongest, ...others], strongest.length)
  }

function fourOf(value: Json): readonly string[] {
  if (typeof value === 'number') return [value, value, value, value].map((n) => `${n}px`)
  const four = typeof value === 'string' ? parseSides(value) : null
  return four ? [four.top, four.right, four.bottom, four.left].map((l) => l.source) : ['0px', '0px', '0px', '0px']
}

const clearance: Reader = (context) => {
  const position = context.effective('header.position')
  const outOfFlow = position === 'fixed' || position === 'overlay' || context.effective('header.presence') !== 'shown'
  if (!outOfFlow) return // in the flow it moves the header, which is not followed
  plain('padding-top', 'header.clearance', isLength)(context)
}

const READERS: Readonly<Record<ChromePart, Reader>> = {
  page: all(clearance, plain('background-color', 'ground.color', isColor), plain('color', 'ground.ink', isColor)),
  header: all(
    presence('header.presence'),
    headerPosition,
    plain('height', 'header.height', isLength),
    plain('background-color', 'header.background', isColor),
    plain('color', 'header.ink', isColor),
  ),
  footer: presence('footer.presence'),
  title: all(
    presence('title.presence'),
    paddings('title.padding', ['top', 'right', 'bottom', 'left']),
    plain('background-color', 'title.background', isColor),
  ),
  byline: presence('byline.presence'),
  leadImage: presence('leadImage.presence'),
  content: all(spacing('top', 'spacing.before'), spacing('bottom', 'spacing.after')),
  container: all(containerWidth, paddings('width.padding', ['left', 'right'])),
  column: plain('max-width', 'width.columnMax', (value) => value === 'none' || isLength(value)),
  sidebar: all(presence('sidebar.presence'), plain('width', 'sidebar.width', isLength)),
  comments: all(
    presence('comments.presence'),
    plain('max-width', 'comments.maxWidth', (value) => value === 'none' || isLength(value)),
  ),
}

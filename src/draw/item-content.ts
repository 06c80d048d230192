import { h } from 'hastscript'
import type { Element } from 'hast'
import { parseColor, type Color } from '../css/color.js'
import type { Frame } from '../measure/frame.js'
import { assetPath } from '../measure/asset-size.js'
import { DEFAULT_COUNT, itemHeight } from '../measure/item-height.js'
import { own } from '../model/json.js'
import { itemKindOf, type ItemKind } from '../model/item-kinds.js'
import type { Item } from '../model/site-data.js'
import { surroundOf } from '../resolve/extensions.js'
import { dataAddress } from './data-address.js'

type Child = Element | string

/** What an item prints inside its box, which keeps its own size whatever is in it. */
export function itemContent(frame: Frame, item: Item, height: number): Child[] {
  const kind = itemKindOf(item)
  return kind === undefined || kind === 'section' ? [] : (PRINTS[kind]?.(frame, item, height) ?? [])
}

type Prints = (frame: Frame, item: Item, height: number) => Child[]

/** CSS of an element, as a text. Values are numbers, words of ours and colors that were read. */
const look = (style: string): { style: string } => ({ style })

const PRINTS: Readonly<Partial<Record<ItemKind, Prints>>> = {
  menu: (frame, { menu }) => [linksOf((own(frame.site.data.menus, menu ?? '') ?? []).map(({ label }) => label))],
  social: (_frame, { social = [] }) => [linksOf(social.map(({ label }) => label))],
  logo: (frame, { logo }, height) => {
    const size = frame.assetSize(logo)
    if (!size || size.height <= 0) return []
    const width = (size.width * height) / size.height
    return [h('span', { role: 'img', ...look(`display:block;height:100%;width:${width}px;${pictureOf(frame, logo)}`) })]
  },
  image: (frame, { image }) => [
    h('span', { role: 'img', ...look(`display:block;height:100%;${pictureOf(frame, image)}`) }),
  ],
  button: (_frame, { button }) => [
    h('span', look('display:inline-block;padding:11px 22px;border:1px solid currentColor;border-radius:4px'), [
      button ?? '',
    ]),
  ],
  form: (frame, { fields = 1 }) => [
    ...Array.from({ length: fields }, () => h('span', look(`${FIELD};height:${frame.line + 20}px;margin-bottom:12px`))),
    h('span', look(`display:inline-block;padding:11px 22px;border-radius:4px;background:currentColor`), [
      h('span', look('color:Canvas;mix-blend-mode:difference'), ['Send']),
    ]),
  ],
  search: () => [h('span', look(`${FIELD};height:100%;min-width:180px;padding:10px 14px;opacity:.75`), ['Search'])],
  account: () => ['Sign in'],
  byline: () => ['By the author · today'],
  countdown: () => ['12 : 08 : 33'],
  embed: () => [h('span', look(`${TINTED};display:block;height:100%;padding:12px 16px`), ['Embedded content'])],
  comments: () => commentsContent(),
  listing: (frame, { listing, count = DEFAULT_COUNT }) =>
    frame.site
      .published(listing ?? '')
      .slice(0, count)
      .flatMap((id) => entryOf(frame, frame.site.pageData(id)?.title ?? id)),
  use: (frame, { use }) => stackOf(frame, surroundOf(frame.site.data, use)?.items ?? []),
}

const FIELD = 'display:block;border:1px solid currentColor;border-radius:4px'
const TINTED = 'background:color-mix(in srgb, currentColor 12%, transparent)'

const linksOf = (labels: readonly string[]): Element =>
  h(
    'span',
    look('display:flex;gap:24px;white-space:nowrap'),
    labels.map((label) => h('a', [label])),
  )

function entryOf(frame: Frame, title: string): Element[] {
  const { size, line } = frame.heading(3)
  const bar = (width: number): Element =>
    h('span', look(`display:block;height:${frame.line}px;padding:${frame.line / 4}px 0`), [
      h('span', look(`display:block;height:100%;width:${width}%;${TINTED};border-radius:3px`)),
    ])
  return [
    h('strong', look(`display:block;font-weight:600;font-size:${size}px;line-height:${line}`), [title]),
    bar(92),
    h('span', look('display:block;margin-bottom:24px'), [bar(64)]),
  ]
}

/** What stands in for comments. */
export const commentsContent = (): Child[] => [
  h('strong', look('display:block;font-weight:600;margin-bottom:12px'), ['Comments']),
  ...[88, 74, 81].map((width) =>
    h('span', look(`display:block;height:20px;margin-bottom:12px;width:${width}%;${TINTED};border-radius:3px`)),
  ),
]

/** Items of a surround under one another, each in its height. */
export function stackOf(frame: Frame, items: readonly Item[], width = Infinity): Element[] {
  return items
    .filter((item) => !frame.isHidden(item.hide))
    .map((item) => {
      const { px } = itemHeight(frame, item, width)
      const kind = itemKindOf(item)
      const level = kind === 'heading' ? frame.heading(item.heading ?? 2) : undefined
      const text = level ? `font-size:${level.size}px;line-height:${level.line};font-weight:600;` : ''
      const column = kind === 'menu' ? stackedMenu(frame, item) : undefined
      const words = item.text ?? ''
      return h('div', look(`display:flow-root;overflow:clip;height:${px}px;${text}`), [
        ...(column ?? (words === '' ? itemContent(frame, item, px) : [words])),
      ])
    })
}

const stackedMenu = (frame: Frame, { menu }: Item): Element[] => [
  linksOf((own(frame.site.data.menus, menu ?? '') ?? []).map(({ label }) => label)),
]

/** Larger files are shown as their tint, so that a page stays light. */
const LARGEST_PICTURE = 256 * 1024
const TYPES: Readonly<Record<string, string>> = {
  ...{
    svg: 'image/svg+xml',
    png: 'image/png',
    jpg: 'image/jpeg',
    jpeg: 'image/jpeg',
    webp: 'image/webp',
    gif: 'image/gif',
  },
}

/** Background declarations that show an asset: its file, where that is at hand and small, else its tones. */
export function pictureOf(frame: Frame, id: string | undefined | null): string {
  const asset = frame.asset(id)
  if (!asset || id == null) return ''
  const file = asset.file === undefined ? undefined : fileOf(frame, id, asset.file)
  if (file !== undefined) return `background:url(${file}) center/cover no-repeat`
  return `background:${tintOf(frame, id) ?? 'color-mix(in srgb, currentColor 18%, transparent)'}`
}

/** A picture's tones as a gradient; `undefined` where none is known. */
export function tintOf(frame: Frame, id: string | undefined | null): string | undefined {
  const asset = frame.asset(id)
  const tones = (asset?.range ?? (asset?.color === undefined ? [] : [asset.color])).flatMap(
    (tone) => parseColor(tone) ?? [],
  )
  const [first, last = first] = tones
  return first && last
    ? `linear-gradient(160deg, ${cssColor(mixed(first, last, 0.75))}, ${cssColor(mixed(first, last, 0.2))})`
    : undefined
}

const mixed = (a: Color, b: Color, share: number): Color => ({
  r: a.r + (b.r - a.r) * share,
  g: a.g + (b.g - a.g) * share,
  b: a.b + (b.b - a.b) * share,
  alpha: a.alpha,
})

/** A color that was read, as CSS; a text that is none is left out. */
export const cssColor = (color: Color | string | undefined | null): string | undefined => {
  const read = typeof color === 'string' ? parseColor(color) : color
  if (!read) return undefined
  const [r, g, b] = [read.r, read.g, read.b].map((channel) => Math.round(Math.min(1, Math.max(0, channel)) * 255))
  return `rgb(${r} ${g} ${b} / ${Math.round(read.alpha * 1000) / 1000})`
}

/** A picture's file as a data address. */
function fileOf({ site }: Frame, id: string, file: string): string | undefined {
  const type = TYPES[file.slice(file.lastIndexOf('.') + 1).toLowerCase()]
  return type === undefined ? undefined : dataAddress(site, assetPath(site, id, file), type, LARGEST_PICTURE)
}

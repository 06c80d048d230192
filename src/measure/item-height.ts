import { itemKindOf, type ItemKind } from '../model/item-kinds.js'
import type { Item } from '../model/site-data.js'
import type { Certainty } from './box.js'
import type { Frame } from './frame.js'
import { countLines } from './text.js'

export interface Height {
  readonly px: number
  readonly certainty: Certainty
}

/** What a button and a form's field add to a line, in px (contract, section 3). */
const BUTTON_EXTRA = 24
const FIELD_EXTRA = 32
const ENTRY_EXTRA = 24
const EMBED_HEIGHT = 150
const COMMENTS_REM = 15
/** How many entries a listing prints when it does not set. */
export const DEFAULT_COUNT = 10

const estimated = (px: number): Height => ({ px, certainty: 'estimated' })
const NOTHING: Height = { px: 0, certainty: 'computed' }

/** Height of a text of one size within a width, both in px. */
export function textHeight(frame: Frame, text: string, size: number, line: number, width: number): Height {
  return { px: countLines(frame.text, text, size, width) * size * line, certainty: frame.text.certainty }
}

/** Height of a heading's text within a width. */
export function headingHeight(frame: Frame, text: string, level: number, width: number): Height {
  const { size, line } = frame.heading(level)
  return textHeight(frame, text, size, line, width)
}

/**
 * Height of an item (not a section) within a width, in px: its own `height`, else what its kind comes to.
 *
 * @param width - What it is in; `Infinity` in a row, which never wraps.
 */
export function itemHeight(frame: Frame, item: Item, width: number): Height {
  const kind = itemKindOf(item)
  if (kind === undefined || kind === 'section') return NOTHING
  const declared = frame.px(item.height)
  if (declared !== undefined) return { px: declared, certainty: 'declared' }
  const own_ = frame.px(item.width, Number.isFinite(width) ? width : frame.width)
  return HEIGHTS[kind](frame, item, own_ ?? width)
}

type HeightOf = (frame: Frame, item: Item, width: number) => Height
const oneLine: HeightOf = (frame) => estimated(frame.line)

const HEIGHTS: Readonly<Record<Exclude<ItemKind, 'section'>, HeightOf>> = {
  heading: (frame, item, width) => headingHeight(frame, item.text ?? '', item.heading ?? 1, width),
  title: (frame, _item, width) => headingHeight(frame, frame.title, 1, width),
  text: (frame, item, width) => textHeight(frame, item.text ?? '', frame.typography.base, frame.typography.line, width),
  image: (frame, item, width) => pictureHeight(frame, item.image, width),
  gap: (frame, item) => ({ px: frame.px(item.gap) ?? 0, certainty: 'computed' }),
  logo: (frame, item) => {
    const size = frame.assetSize(item.logo)
    return size ? { px: size.height, certainty: 'computed' } : estimated(0)
  },
  menu: (frame, item) => (frame.menu(item.menu ?? '')?.length ? estimated(frame.line) : NOTHING),
  social: (frame, item) => ((item.social?.length ?? 0) > 0 ? estimated(frame.line) : NOTHING),
  byline: oneLine,
  account: oneLine,
  button: (frame) => estimated(frame.line + BUTTON_EXTRA),
  search: (frame) => estimated(frame.line + BUTTON_EXTRA),
  countdown: (frame) => estimated(frame.heading(2).size * frame.heading(2).line),
  form: (frame, item) => estimated((item.fields ?? 1) * (frame.line + FIELD_EXTRA) + frame.line + BUTTON_EXTRA),
  listing: (frame, item) => {
    const entry = frame.heading(3).size * frame.heading(3).line + 2 * frame.line + ENTRY_EXTRA
    return estimated((item.count ?? DEFAULT_COUNT) * entry)
  },
  embed: () => estimated(EMBED_HEIGHT),
  comments: (frame) => estimated(COMMENTS_REM * frame.typography.base),
  use: (frame, item, width) => sumOfItems(frame, frame.surround(item.use)?.items, width),
}

/** Height of a picture that is as wide as what it is in. */
export function pictureHeight(frame: Frame, asset: string | undefined, width: number): Height {
  const size = frame.assetSize(asset)
  if (!size) return estimated(0)
  return { px: Number.isFinite(width) ? (size.height * width) / size.width : size.height, certainty: 'computed' }
}

/** Height of items under one another; those hidden at the viewport take none. */
export function sumOfItems(frame: Frame, items: readonly Item[] | undefined, width: number): Height {
  let px = 0
  let certain: Certainty = 'measured'
  for (const item of items ?? []) {
    if (frame.isHidden(item.hide)) continue
    const height = itemHeight(frame, item, width)
    px += height.px
    if (height.certainty === 'estimated') certain = 'estimated'
    else if (certain !== 'estimated') certain = 'computed'
  }
  return { px, certainty: certain === 'measured' ? 'computed' : certain }
}

/** Height of the comments below the content, in px, when the page does not give it. */
export const commentsHeight = (frame: Frame): Height => estimated(COMMENTS_REM * frame.typography.base)
export const bylineHeight = (frame: Frame): Height => estimated(frame.line)

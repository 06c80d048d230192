import type { BLEND_MODES } from '../css/color.js'
import type { Facet, FacetProperties } from './facets.js'

/** A value, or one for each viewport with `else` for the others. */
export type ByViewport<T> = T | { readonly [viewport: string]: T }
/** A property of a layout, which may also set `inherit` or `revert`. */
export type Said<T> = ByViewport<T | 'inherit' | 'revert'>
/** A length as written: a number of px, or CSS text. */
export type LengthValue = string | number

/** Settings of facets, preview: a property is an atom, a map by viewport included. */
export type Layout = {
  readonly [F in Facet]?: { readonly [P in FacetProperties<F>]?: unknown }
} & { readonly lock?: readonly string[] }

export const LAYERS = ['baseline', 'theme', 'kind', 'template', 'assign', 'builder', 'page'] as const
/** A source of settings that `precedence` orders. */
export type SettingsLayer = (typeof LAYERS)[number]
/** A source of settings, as chains name it. */
export type LayerName = SettingsLayer | 'style'
export const CHOOSERS = ['theme', 'kind', 'assign', 'builder', 'built', 'page'] as const
export type Chooser = (typeof CHOOSERS)[number]
export const INSERT_PLACES = [
  'before-header',
  'after-header',
  'before-content',
  'after-content',
  'before-footer',
] as const
export type InsertPlace = (typeof INSERT_PLACES)[number]
export const LOCATORS = [
  ...[
    'page',
    'header',
    'title',
    'byline',
    'leadImage',
    'content',
    'container',
    'column',
    'sidebar',
    'comments',
    'footer',
  ],
] as const
export const ARRANGE_WORDS = ['title', 'byline', 'leadImage', 'content', 'comments'] as const
/** A slot of `arrange`. */
export type ArrangeWord = (typeof ARRANGE_WORDS)[number]
/** An entry of `arrange`: a slot, the content, a gap or an item. */
export type ArrangeEntry = ArrangeWord | Item

/** What a policy may require beside facets and their properties. */
export const POLICY_FIGURES = [
  ...(['access', 'status', 'exits', 'header.height', 'top', 'words', 'purpose', 'template'] as const),
] as const

/** Which pages are meant: all keys must hold; a list of values holds when one does. */
export interface Selector {
  readonly all?: true
  readonly kind?: string | readonly string[]
  readonly page?: string | readonly string[]
  readonly path?: string | readonly string[]
  readonly under?: string | readonly string[]
  readonly tag?: string | readonly string[]
  readonly purpose?: string | readonly string[]
  readonly builder?: string | readonly string[]
  readonly template?: string | readonly string[]
}
/** Selectors of pages; several mean any of them. */
export type Where = Selector | readonly Selector[]

/** What a section and an insert have in common. */
export interface Box {
  readonly role?: ByViewport<'banner' | 'navigation' | 'contentinfo'>
  readonly band?: ByViewport<'column' | 'full'>
  readonly breakout?: boolean
  readonly maxWidth?: ByViewport<LengthValue>
  readonly padding?: ByViewport<LengthValue>
  readonly margin?: ByViewport<LengthValue>
  readonly height?: ByViewport<LengthValue>
  readonly minHeight?: ByViewport<LengthValue>
  readonly align?: ByViewport<'start' | 'center' | 'end'>
  readonly background?: {
    readonly color?: ByViewport<string>
    readonly image?: string
    readonly blend?: ByViewport<(typeof BLEND_MODES)[number]>
  }
  readonly ink?: ByViewport<string>
  readonly hide?: readonly string[]
  readonly gap?: ByViewport<LengthValue>
  readonly stackAt?: ByViewport<LengthValue>
  readonly columns?: readonly Column[]
  readonly items?: readonly Item[]
}

/** A section put on many pages at a named place outside the body. */
export interface Insert extends Box {
  readonly id: string
  readonly at: InsertPlace
  readonly where: Where
  readonly except?: Where
  readonly from?: string
}

/** A column of a section. */
export interface Column {
  readonly share?: number
  readonly items?: readonly Item[]
}

/** One thing that prints. Which keys are set shows its kind; see `itemKindOf`. */
export interface Item extends Box {
  readonly id?: string
  readonly width?: ByViewport<LengthValue>
  readonly links?: readonly string[]
  readonly heading?: number
  readonly text?: string
  readonly image?: string
  readonly button?: string
  readonly url?: string
  readonly page?: string
  readonly form?: string | true
  readonly fields?: number
  readonly to?: string
  readonly search?: true
  readonly account?: true
  readonly logo?: string
  readonly menu?: string
  readonly use?: string
  readonly embed?: string
  readonly social?: readonly { readonly label: string; readonly url?: string }[]
  readonly countdown?: string
  readonly title?: true
  readonly byline?: true
  readonly listing?: string
  readonly count?: number
  readonly comments?: true
  readonly section?: string
}

import { UnknownNameError, ValueError } from '../model/unknown-name.js'
import { parseLength } from '../css/length.js'
import {
  FACET_NAMES,
  FACETS,
  isPresence,
  partsOf,
  pathOf,
  type Facet,
  type FacetProperties,
  type Presence,
  type PropertyPath,
  type SettingPath,
  type PropertyValue,
} from '../model/facets.js'
import { isObject, toPointer, type Json } from '../model/json.js'
import type { SourcePlace } from '../model/problem.js'
import type { AssignData, PageData } from '../model/schema.js'
import type { Site, Viewport } from '../model/site.js'
import type { Chooser, Insert, LayerName } from '../model/site-data.js'
import type { PageFacts } from '../select/page-facts.js'
import { TemplateChoice, type NamingOptions, type Strongest } from './choose-template.js'
import type { Contribution, Outcome } from './contribution.js'
import type { Decision, Decisions, Layout, LayerEntry } from './layout.js'
import type { StyleResult } from './style-layer.js'
import type { StyleDeclaration } from './style-sheets.js'
import type { Template } from './templates.js'

/** One layer's word on a property, as it is written out. */
export interface ChainStep {
  readonly layer: LayerName | Chooser
  readonly value: Json
  readonly outcome: Outcome
  readonly because: string
  /** Where it was set, for CSS with the selector; `null` for the baseline, which is in no file. */
  readonly at: (SourcePlace & { readonly selector?: string }) | null
}

/** One layer's word on a property; its place is looked up when it is asked for. */
export interface ChainEntry extends ChainStep {
  /** What set it, in the merged site; `null` for the baseline. */
  readonly pointer: string | null
}

/** A property's value with every layer that sets it, strongest first. */
export interface Decided<T> {
  readonly value: T
  readonly chain: readonly ChainEntry[]
}

type FacetViews = {
  readonly [F in Facet]: { readonly [P in FacetProperties<F>]: Decided<PropertyValue<F, P>> }
}

/** A page at one viewport: `visit.at('phone').header.position.value`. */
export interface PageView extends FacetViews {
  readonly page: ResolvedPage
  readonly viewport: Viewport
  /** A property's effective value as it was set; lengths are not yet px. */
  readonly value: (path: PropertyPath) => Json
  /** A presence, `shown` where no layer sets one. @throws {ValueError} For a property that is none. */
  readonly presence: (path: PropertyPath) => Presence
  /** The layers that set a property, strongest first. */
  readonly chain: (path: PropertyPath) => readonly ChainEntry[]
  /** The place of the setting that decides a property; `null` where only the baseline has a value. */
  readonly decider: (path: PropertyPath) => ChainEntry | undefined
  /** Pointer of what decides a property; `undefined` where only the baseline, or no layer, sets it. */
  readonly decidingPointer: (path: PropertyPath) => string | undefined
  /** The layer that decides a property, with its pointer, which is not looked up in the files. */
  readonly decidedBy: (path: PropertyPath) => DecidingLayer | undefined
  /** What lies under the page when nothing else does, style included. */
  readonly ground: { readonly color: string; readonly ink: string }
  /** What the site's style sheets change, and what of them is not followed. */
  readonly style: StyleResult
}

/** The layer that decides a property; the baseline's pointer is empty. */
export interface DecidingLayer {
  readonly layer: LayerName
  readonly pointer: string
  /** The assign entry, where that is the layer. */
  readonly entry?: AssignData | undefined
}

/** A named viewport, or any width and height, which takes the settings of the widest viewport not wider than it. */
export type ViewportChoice = string | { readonly width: number; readonly height: number }

/** An insert with its place in the site file. */
export interface PlacedInsert {
  readonly index: number
  readonly data: Insert
}

/** All of its site that a page needs. */
export interface PageContext extends NamingOptions {
  readonly rem: number
  readonly insertsOn: (facts: PageFacts, template: Template | undefined) => readonly PlacedInsert[]
  readonly styleOf: (page: ResolvedPage, viewport: Viewport) => StyleResult
}

/**
 * What its site's settings decide about a page as a whole. Sites that differ in nothing that decides about a page have
 * the same one, which so stands for all that decides.
 */
export interface PageCore {
  readonly id: string
  readonly data: PageData
  readonly facts: PageFacts
  /** A page whose kind comes from an extension that is off: it has no facets. */
  readonly dormant: boolean
  readonly template: Template | undefined
  /** Who chose the template; `undefined` where that is asked again. @internal */
  readonly decided: Strongest | undefined
  /** Shared by all pages with the same layout. */
  readonly layout: Layout
}

/** One page of a resolved site; what it gets is worked out when it is asked for. */
export class ResolvedPage {
  readonly core: PageCore
  readonly #context: PageContext
  #choice: TemplateChoice | undefined
  #inserts: readonly PlacedInsert[] | undefined
  #bodyPointer: string | undefined
  #layoutPointer: string | undefined
  /** One for each of the site's viewports, in their order, and then others that were asked for. */
  #views: (PageView | undefined)[] | undefined

  constructor(context: PageContext, core: PageCore) {
    this.#context = context
    this.core = core
  }

  get id(): string {
    return this.core.id
  }

  get data(): PageData {
    return this.core.data
  }

  /** Pointer of its body. @internal */
  get bodyPointer(): string {
    return (this.#bodyPointer ??= toPointer(['pages', this.id, 'body']))
  }

  get facts(): PageFacts {
    return this.core.facts
  }

  /** Whether its kind comes from an extension that is off: it has no facets. */
  get dormant(): boolean {
    return this.core.dormant
  }

  /** Shared by all pages with the same layout. */
  get layout(): Layout {
    return this.core.layout
  }

  /** The template that it gets, and who named which. */
  get choice(): TemplateChoice {
    const { facts, data, template, dormant, decided } = this.core
    return (this.#choice ??= dormant
      ? TemplateChoice.dormant(this.#context, facts, data)
      : new TemplateChoice(this.#context, facts, data, template, decided))
  }

  get site(): Site {
    return this.#context.site
  }

  /** Who named a template, strongest first. */
  get templateChain(): readonly ChainEntry[] {
    return this.choice.chain.map((entry) => ({ ...entry, at: this.site.locate(entry.pointer) }))
  }

  /** Pointer of a setting of one of its layers. @internal */
  pointerOf(contribution: Contribution | undefined, pointer: string): string {
    if (contribution?.layer === 'page')
      return (this.#layoutPointer ??= toPointer(['pages', this.id, 'layout'])) + pointer
    return contribution?.entry ? this.#context.pointerTo('assign', contribution.entry) + pointer : pointer
  }

  /** Pointer of an insert. @internal */
  insertPointer(insert: Insert): string {
    return this.#context.pointerTo('inserts', insert)
  }

  /** Who one of its layers is, in words: "template campaign". @internal */
  nameOf({ name, entry }: Contribution): string {
    return entry ? `${this.#context.nameOfEntry(entry)} (${name})` : name
  }

  /** The inserts on the page, in the order of the file. */
  get inserts(): readonly PlacedInsert[] {
    return (this.#inserts ??= this.#context.insertsOn(this.facts, this.core.template))
  }

  /** What lies under the page when nothing else does, by the settings. */
  get ground(): { readonly color: string; readonly ink: string } {
    const { theme } = this.site.data
    const own = this.core.template?.ground
    return { color: own?.color ?? theme.ground?.color ?? '#fff', ink: own?.ink ?? theme.ground?.ink ?? '#000' }
  }

  /** @throws {UnknownNameError} When the site has no viewport of that name. @throws {ValueError} For a width that is none. */
  at(chosen: ViewportChoice): PageView {
    const { viewports } = this.site
    this.#views ??= new Array<PageView | undefined>(viewports.length)
    const named = typeof chosen === 'string' ? viewports.findIndex((v) => v.name === chosen) : -1
    if (named >= 0) return (this.#views[named] ??= createView(this, viewports[named] as Viewport, this.#context))
    const viewport = viewportFor(this.site, chosen)
    const { name, width, height } = viewport
    let view = this.#views.find(
      (v) => v?.viewport.name === name && v.viewport.width === width && v.viewport.height === height,
    )
    if (!view) {
      view = createView(this, viewport, this.#context)
      this.#views.push(view)
    }
    return view
  }
}

/** The viewport whose settings hold at a width: the widest not wider than it, else the narrowest. */
export function viewportFor(site: Site, choice: ViewportChoice): Viewport {
  if (typeof choice === 'string') {
    const found = site.viewports.find((v) => v.name === choice)
    if (found) return found
    throw new UnknownNameError(
      'viewport',
      choice,
      site.viewports.map((v) => v.name),
    )
  }
  for (const side of ['width', 'height'] as const)
    if (!Number.isFinite(choice?.[side]) || choice[side] <= 0)
      throw new ValueError(`expected a ${side} in CSS px above 0, got ${String(choice?.[side])}`)
  const widestFirst = [...site.viewports].sort((a, b) => b.width - a.width)
  const found = widestFirst.find((v) => v.width <= choice.width) ?? widestFirst.at(-1)
  if (!found) throw new ValueError('the site has no viewport')
  return { name: found.name, width: choice.width, height: choice.height }
}

/** Whether two values come to the same at a viewport: lengths by their px, all else by what was set. */
export function sameValue(a: Json, b: Json, viewport: Viewport, rem: number): boolean {
  if (a === b) return true
  if (isObject(a) || isObject(b) || typeof a === 'boolean' || typeof b === 'boolean' || a === null || b === null)
    return false
  const [x, y] = [a, b].map((v) => (typeof v === 'string' || typeof v === 'number' ? parseLength(v) : null))
  if (!x || !y || x.usesPercent !== y.usesPercent) return false
  const context = { width: viewport.width, height: viewport.height, rem, percentOf: viewport.width }
  return Math.abs(x.px(context) - y.px(context)) < 1e-6
}

class View {
  readonly page: ResolvedPage
  readonly viewport: Viewport
  readonly #context: PageContext
  #style: StyleResult | undefined
  #decide: Decisions | undefined

  constructor(page: ResolvedPage, viewport: Viewport, context: PageContext) {
    this.page = page
    this.viewport = viewport
    this.#context = context
  }

  get style(): StyleResult {
    return (this.#style ??= this.#context.styleOf(this.page, this.viewport))
  }

  get ground() {
    const { entries } = this.style
    const said = (path: string, otherwise: string): string => (entries.get(path)?.value ?? otherwise) as string
    const { color, ink } = this.page.ground
    return { color: said('ground.color', color), ink: said('ground.ink', ink) }
  }

  value(path: SettingPath): Json {
    const { entries } = this.style
    const entry = entries.size > 0 ? entries.get(path) : undefined
    if (entry) return entry.value
    return this.#decision(path).value
  }

  /** What the settings decide, before any style. */
  #decision(path: SettingPath): Decision {
    return (this.#decide ??= this.page.layout.at(this.viewport.name))(path)
  }

  presence(path: SettingPath): Presence {
    const value = this.value(path) ?? 'shown'
    if (isPresence(value)) return value
    throw new ValueError(`${path} is not a presence: its value is ${JSON.stringify(value)}`)
  }

  chain(path: SettingPath): readonly ChainEntry[] {
    const { page, viewport } = this
    const same = (a: Json, b: Json): boolean => sameValue(a, b, viewport, this.#context.rem)
    const settings = page.layout.entries(path, viewport.name, same).map((entry) => settingsEntry(page, entry))
    const styled = this.style.entries.get(path)
    const passed = this.style.passed.get(path)
    if (passed)
      return [
        ...passed.map((d) => styleEntry(d, d.value, 'skipped', '; no style brings back what is absent')),
        ...settings,
      ]
    if (!styled) return settings
    const [winner, ...losers] = styled.declarations
    return [
      ...(winner ? [styleEntry(winner, styled.value, 'wins', '')] : []),
      ...losers.map((d, n) => styleEntry(d, d.value, n + 1 < styled.together ? 'same' : 'overridden', '')),
      ...settings.map((entry): ChainEntry =>
        entry.outcome === 'wins' ? withOutcome(entry, same(entry.value, styled.value) ? 'same' : 'overridden') : entry,
      ),
    ]
  }

  decider(path: SettingPath): ChainEntry | undefined {
    const styled = this.style.entries.get(path)
    const [winner] = styled?.declarations ?? []
    if (styled && winner) return styleEntry(winner, styled.value, 'wins', '')
    const entry = this.page.layout.winningEntry(path, this.viewport.name)
    return entry && settingsEntry(this.page, entry)
  }

  decidingPointer(path: SettingPath): string | undefined {
    const styled = this.#styled(path)
    if (styled) return styled.pointer || undefined
    const decision = this.#decision(path)
    return decision.winner === null ? undefined : this.#pointerOf(decision) || undefined
  }

  decidedBy(path: SettingPath): DecidingLayer | undefined {
    const styled = this.#styled(path)
    if (styled) return { layer: 'style', pointer: styled.pointer }
    const decision = this.#decision(path)
    if (decision.winner === null) return undefined
    const contribution = this.#contributionOf(decision)
    return {
      layer: contribution?.layer ?? 'template',
      pointer: this.#pointerOf(decision),
      entry: contribution?.entry,
    }
  }

  /** The declaration of a style sheet that decides a property. */
  #styled(path: SettingPath): StyleDeclaration | undefined {
    const { entries } = this.style
    return entries.size > 0 ? entries.get(path)?.declarations[0] : undefined
  }

  #contributionOf({ winner }: Decision): Contribution | undefined {
    return typeof winner === 'number' ? this.page.layout.contributions[winner] : undefined
  }

  #pointerOf(decision: Decision): string {
    return this.page.pointerOf(this.#contributionOf(decision), decision.pointer)
  }
}

/** A layer's word with its place. */
function settingsEntry(page: ResolvedPage, entry: LayerEntry): ChainEntry {
  const { contribution, value, outcome } = entry
  const pointer = page.pointerOf(contribution, entry.pointer)
  return {
    ...{ layer: contribution?.layer ?? 'template', value, outcome, pointer: pointer === '' ? null : pointer },
    get because() {
      return describeEntry(page, entry)
    },
    get at() {
      return pointer === '' ? null : page.site.locate(pointer)
    },
  }
}

/** A layer's word in words: who set it, and why it ended so. */
export function describeEntry(page: ResolvedPage, { contribution, from, reason, locker }: LayerEntry): string {
  if (!contribution) return reason
  const isOfBase = contribution.layer === 'template' && from !== undefined && contribution.name !== `template ${from}`
  const why = locker ? `locked by ${page.nameOf(locker)}` : reason
  return `${page.nameOf(contribution)}${isOfBase ? `, from its base ${from}` : ''}${why === '' ? '' : `; ${why}`}`
}

/** A chain's entry that ended otherwise; its getters stay such. */
const withOutcome = (entry: ChainEntry, outcome: Outcome): ChainEntry =>
  Object.defineProperties({} as ChainEntry, {
    ...Object.getOwnPropertyDescriptors(entry),
    outcome: { value: outcome, enumerable: true },
  })

function styleEntry(d: StyleDeclaration, value: Json, outcome: Outcome, why: string): ChainEntry {
  const important = d.important ? ' !important' : ''
  return {
    ...{ layer: 'style', value, outcome },
    because: `${d.selector} { ${d.property}: ${d.value}${important} }${why}`,
    pointer: d.pointer,
    get at() {
      return { ...d.place, pointer: d.pointer, selector: d.selector }
    },
  }
}

// One getter a facet, whose object has one getter a property: nothing is worked out before it is asked for.
for (const facet of FACET_NAMES) {
  Object.defineProperty(View.prototype, facet, {
    get(this: View) {
      const decided = {}
      for (const property of Object.keys(FACETS[facet])) {
        const path = pathOf(facet, property)
        Object.defineProperty(decided, property, { enumerable: true, get: () => decide(this, path) })
      }
      return decided
    },
  })
}

function decide(view: View, path: SettingPath): Decided<Json> {
  const { facet, property } = partsOf(path)
  const items =
    property === 'items' && (facet === 'header' || facet === 'footer') ? view.page.layout.itemsOf(facet) : undefined
  const value = items ? Object.fromEntries(items.map((id) => [id, view.presence(`${path}.${id}`)])) : view.value(path)
  return {
    value,
    get chain() {
      return items ? items.flatMap((id) => view.chain(`${path}.${id}`)) : view.chain(path)
    },
  }
}

/** A view of a page; its facets are read through getters. */
const createView = (page: ResolvedPage, viewport: Viewport, context: PageContext): PageView =>
  new View(page, viewport, context) as unknown as PageView

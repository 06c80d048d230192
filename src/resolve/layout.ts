import { definitionOf, PROPERTY_PATHS, type Facet, type SettingPath } from '../model/facets.js'
import { own, type Json } from '../model/json.js'
import { unknownProperty } from '../model/unknown-name.js'
import type { SiteData } from '../model/schema.js'
import type { Contribution, Outcome } from './contribution.js'
import { isOn, surroundOf } from './extensions.js'
import { atViewport, lockOn, settingFor, type Setting } from './settings.js'
import type { Template } from './templates.js'

/** The value of a property at a viewport, and who gave it. */
export interface Decision {
  readonly value: Json
  /** Index of the winning contribution; `gate` where the template's `arrange` decides; `null` where no layer sets it. */
  readonly winner: number | 'gate' | null
  /** Where that was set, as the contribution's pointers are; empty where no layer or the baseline sets it. */
  readonly pointer: string
}

/** The effective value of each property at one viewport. */
export type Decisions = (path: SettingPath) => Decision

/** One layer's word in a chain, before its place in the source is looked up. */
export interface LayerEntry {
  readonly contribution: Contribution | undefined
  readonly value: Json
  /** Relative to what the contribution's pointers are relative to. */
  readonly pointer: string
  readonly outcome: Outcome
  /** The base template that a template takes it from. */
  readonly from?: string | undefined
  /** Why it ended so; empty where the outcome says it all. */
  readonly reason: string
  /** The contribution that locks it. */
  readonly locker?: Contribution | undefined
}

const WITHOUT_GATE = new Set(['baseline', 'theme', 'kind'])
const NOTHING_SHUT: ReadonlySet<string> = new Set()
const REVERTED = 'revert: the value of theme and kind'
const NOTHING: Decision = { value: null, winner: null, pointer: '' }

type Reading =
  | { readonly says: 'nothing' }
  | { readonly says: 'value'; readonly value: Json; readonly reverted: boolean; readonly pointer: string }
  | { readonly says: 'skipped'; readonly value: Json; readonly because: string }

/**
 * The resolved layout of all pages with the same kind, template, matching entries, builder and overrides:
 * contributions weakest first, and each property worked out once.
 */
export class Layout {
  readonly contributions: readonly Contribution[]
  readonly template: Template | undefined
  readonly #site: Omit<SiteData, 'pages'>
  /** The facets that may be set above the kind; all where it is undefined. */
  readonly facets: readonly string[] | undefined
  readonly #shut: ReadonlySet<string>
  readonly #hasLocks: boolean
  readonly #decisions = new Map<string, Decisions>()
  readonly #items = new Map<string, readonly string[]>()

  constructor(
    site: Omit<SiteData, 'pages'>,
    contributions: readonly Contribution[],
    template: Template | undefined,
    facets: readonly Facet[] | undefined,
  ) {
    this.#site = site
    this.contributions = contributions
    this.template = template
    this.facets = facets
    this.#shut = template?.shut ?? NOTHING_SHUT
    this.#hasLocks = contributions.some((c) => c.settings.locks.size > 0)
  }

  /** The effective value of a property at a named viewport, before any style. */
  decide(path: SettingPath, viewport: string): Decision {
    return this.at(viewport)(path)
  }

  /** The same for one viewport, for those who ask for many properties. @internal */
  at(viewport: string): Decisions {
    let decisions = this.#decisions.get(viewport)
    if (!decisions) this.#decisions.set(viewport, (decisions = this.#decisionsAt(viewport)))
    return decisions
  }

  #decisionsAt(viewport: string): Decisions {
    const known = new Map<SettingPath, Decision>()
    return (path) => {
      let decision = known.get(path)
      if (!decision) {
        if (!definitionOf(path)) throw unknownProperty(path)
        decision = this.#shut.has(path) ? this.#shutOut : this.#strongest(path, viewport)
        known.set(path, decision)
      }
      return decision
    }
  }

  /** What a property would be without one layer's word on it, by settings alone. */
  decideWithout(path: SettingPath, viewport: string, without: Contribution): Json {
    if (this.#shut.has(path)) return 'absent'
    return this.#strongest(path, viewport, without).value
  }

  /** The ids of a facet's items that any layer sets. */
  itemsOf(facet: 'header' | 'footer'): readonly string[] {
    let ids = this.#items.get(facet)
    if (!ids) {
      const prefix = `${facet}.items.`
      const paths = this.contributions.flatMap((c) =>
        [...c.settings.values.keys()].filter((path) => path.startsWith(prefix)),
      )
      ids = [...new Set(paths)].map((path) => path.slice(prefix.length))
      this.#items.set(facet, ids)
    }
    return ids
  }

  #strongest(path: SettingPath, viewport: string, without?: Contribution): Decision {
    const lock = this.#lock(path)
    for (let index = this.contributions.length - 1; index >= 0; index--) {
      if ((lock !== undefined && index > lock) || this.contributions[index] === without) continue
      const reading = this.#read(this.contributions[index] as Contribution, path, viewport)
      if (reading.says === 'value') return { value: reading.value, winner: index, pointer: reading.pointer }
    }
    return NOTHING
  }

  /** The weakest contribution that locks a path; every stronger one is locked. */
  #lock(path: SettingPath): number | undefined {
    if (!this.#hasLocks) return undefined
    const index = this.contributions.findIndex((c) => lockOn(c.settings, path) !== undefined)
    return index === -1 ? undefined : index
  }

  #read(contribution: Contribution, path: SettingPath, viewport: string): Reading {
    const setting = settingFor(contribution.settings, path)
    if (!setting) return { says: 'nothing' }
    const value = atViewport(setting.value, viewport)
    if (value === undefined) return { says: 'nothing' }
    if (value === 'inherit') return { says: 'skipped', value, because: 'inherit leaves the property to weaker layers' }
    const barred = this.#notForKind(contribution, path)
    if (barred) return { says: 'skipped', value, because: barred }
    const hole = danglingReason(this.#site, path, value)
    if (hole) return { says: 'skipped', value, because: hole }
    if (value === 'revert' && WITHOUT_GATE.has(contribution.layer))
      return { says: 'skipped', value, because: 'revert takes what theme and kinds set, and has no effect in these' }
    if (value === 'revert')
      return { says: 'value', value: this.#reverted(path, viewport), reverted: true, pointer: setting.pointer }
    return { says: 'value', value, reverted: false, pointer: setting.pointer }
  }

  #notForKind(contribution: Contribution, path: SettingPath): string | undefined {
    if (!this.facets || WITHOUT_GATE.has(contribution.layer)) return undefined
    const facet = path.slice(0, path.indexOf('.'))
    return this.facets.includes(facet) ? undefined : `${facet} cannot be set for pages of this kind`
  }

  /** What baseline, theme and kind alone give. */
  #reverted(path: SettingPath, viewport: string): Json {
    const base = this.contributions.filter((c) => WITHOUT_GATE.has(c.layer))
    const lock = base.findIndex((c) => lockOn(c.settings, path) !== undefined)
    for (const contribution of (lock === -1 ? base : base.slice(0, lock + 1)).reverse()) {
      const reading = this.#read(contribution, path, viewport)
      if (reading.says === 'value') return reading.value
    }
    return null
  }

  /** What decides the presence of a facet that the template's `arrange` leaves out. */
  get #shutOut(): Decision {
    return { value: 'absent', winner: 'gate', pointer: this.template?.arrangePointer ?? '' }
  }

  /** The word that decides a property; `undefined` where no layer sets it. */
  winningEntry(path: SettingPath, viewport: string): LayerEntry | undefined {
    const { value, winner } = this.decide(path, viewport)
    if (winner === null) return undefined
    if (winner === 'gate') return this.#gateEntry()
    const contribution = this.contributions[winner] as Contribution
    const { pointer, from, value: own } = settingFor(contribution.settings, path) as Setting
    const reverted = atViewport(own, viewport) === 'revert' && !WITHOUT_GATE.has(contribution.layer)
    const reason = reverted ? REVERTED : ''
    return { contribution, value: reverted ? 'revert' : value, pointer, outcome: 'wins', from, reason }
  }

  /** Every layer that set it, strongest first, with its outcome and the reason. */
  entries(path: SettingPath, viewport: string, same: (a: Json, b: Json) => boolean): LayerEntry[] {
    const { value: winning, winner } = this.decide(path, viewport)
    const lock = this.#lock(path)
    const locker = lock === undefined ? undefined : this.contributions[lock]
    const entries: LayerEntry[] = []
    for (let index = this.contributions.length - 1; index >= 0; index--) {
      const contribution = this.contributions[index] as Contribution
      const reading = this.#read(contribution, path, viewport)
      if (reading.says === 'nothing') continue
      const { value } = reading
      const { pointer, from } = settingFor(contribution.settings, path) as Setting
      const entry = (outcome: Outcome, reason: string, by?: Contribution): void =>
        void entries.push({ contribution, value, pointer, outcome, from, reason, locker: by })
      if (winner === 'gate') entry('locked', this.#gateReason())
      else if (reading.says === 'skipped') entry('skipped', reading.because)
      else if (lock !== undefined && index > lock) entry('locked', '', locker)
      else if (index === winner) entry('wins', reading.reverted ? REVERTED : '')
      else entry(same(value, winning) ? 'same' : 'overridden', '')
    }
    if (winner !== 'gate') return entries
    return [this.#gateEntry(), ...entries]
  }

  #gateEntry(): LayerEntry {
    return {
      contribution: undefined,
      value: 'absent',
      pointer: this.template?.arrangePointer ?? '',
      outcome: 'wins',
      reason: this.#gateReason(),
    }
  }

  #gateReason(): string {
    return `the arrange of template ${this.template?.id ?? ''} does not list it`
  }
}

/** What the properties that name something name. */
const NAMING: ReadonlyMap<SettingPath, 'header' | 'footer' | 'sidebar' | 'asset' | 'menu'> = new Map(
  PROPERTY_PATHS.flatMap((path) => {
    const definition = definitionOf(path)
    return definition?.type === 'id' ? [[path, definition.of] as const] : []
  }),
)

/** Why a name is not defined, and so counts as not set. */
function danglingReason(site: Omit<SiteData, 'pages'>, path: SettingPath, value: Json): string | undefined {
  const of = typeof value === 'string' && value !== 'revert' ? NAMING.get(path) : undefined
  if (of === undefined) return undefined
  const name = value as string
  switch (of) {
    case 'asset':
      return own(site.assets, name) ? undefined : `there is no asset "${name}"`
    case 'menu':
      return own(site.menus, name) ? undefined : `there is no menu "${name}"`
    default: {
      const surround = surroundOf(site, name)
      if (surround) return surround.as === of ? undefined : `"${name}" is a ${surround.as}, not a ${of}`
      const off = own(site.surrounds, name)
      return off && !isOn(site, off.from) ? `the extension of "${name}" is off` : `there is no ${of} "${name}"`
    }
  }
}

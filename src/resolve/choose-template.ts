import type { EntryList } from '../model/entries.js'
import { own, toPointer } from '../model/json.js'
import type { AssignData, PageData } from '../model/schema.js'
import type { Site } from '../model/site.js'
import { CHOOSERS, type Chooser } from '../model/site-data.js'
import type { PageFacts } from '../select/page-facts.js'
import type { Matched } from '../select/where-index.js'
import { describeSelector, type Assignment, type Assignments } from './assignments.js'
import type { Outcome } from './contribution.js'
import { isOn } from './extensions.js'
import { unusable, type Template } from './templates.js'

/** One who names a template, with how that ended. */
export interface TemplateEntry {
  readonly layer: Chooser
  /** A template's id, or `none`. */
  readonly value: string
  readonly pointer: string
  readonly outcome: Outcome
  readonly because: string
}

/** Who decides which template a page gets. */
export type DecidingChoice = Pick<TemplateEntry, 'layer' | 'value' | 'pointer'> & {
  /** The assign entry that names it, where one does. @internal */
  readonly entry: AssignData | undefined
}

/** A template that a chooser names. */
interface Named {
  readonly value: string
  /** The assign entry that names it, and its selector that means the page. */
  readonly matched?: Matched<Assignment>
  /** Why this one is ignored, whatever it names. */
  readonly barred?: string | undefined
}

/** Why a page's builder is ignored; `undefined` when it is not. */
export function builderBarred(site: Site, facts: PageFacts): string | undefined {
  const builder = own(site.data.builders, facts.builder ?? '')
  if (!builder) return `there is no builder "${facts.builder}"`
  if (!isOn(site.data, builder.from)) return `the builder "${facts.builder}" comes from an extension that is off`
  if (builder.kinds && !builder.kinds.includes(facts.kind))
    return `the builder "${facts.builder}" is not for kind ${facts.kind}`
  return undefined
}

/**
 * A page's template: the strongest candidate that can be used; `none` is a choice. Which choices were overridden is worked out
 * only when somebody asks.
 */
export class TemplateChoice {
  /** `undefined` when no template is used. */
  readonly template: Template | undefined
  readonly #options: NamingOptions
  readonly #facts: PageFacts
  readonly #page: PageData
  #explained: { readonly because: () => string; readonly chain: readonly TemplateEntry[] } | undefined
  #strongest: Strongest | undefined

  /** @param decided - Who decided it, where that is known. */
  constructor(
    options: NamingOptions,
    facts: PageFacts,
    page: PageData,
    template: Template | undefined,
    decided?: Strongest,
  ) {
    this.#options = options
    this.#facts = facts
    this.#page = page
    this.template = template
    this.#strongest = decided
  }

  /** No template, since the page is dormant. */
  static dormant(options: NamingOptions, facts: PageFacts, page: PageData): TemplateChoice {
    const choice = new TemplateChoice(options, facts, page, undefined)
    choice.#explained = { because: () => 'its kind comes from an extension that is off', chain: [] }
    choice.#strongest = NOBODY
    return choice
  }

  /** Who names the template, or `none`; `undefined` where nobody names one that can be used. Costs less than the chain. */
  get winner(): DecidingChoice | undefined {
    const { layer, named } = this.#decided
    if (!layer || !named) return undefined
    const pointer = pointerOf(layer, named, this.#facts, this.#options)
    return { layer, value: named.value, pointer, entry: named.matched?.entry.data }
  }

  /** Whether a stronger choice is skipped, since the template that it names cannot be used. */
  get hasSkipped(): boolean {
    return this.#decided.hasSkipped
  }

  get #decided(): Strongest {
    return (this.#strongest ??= strongest(this.#options, this.#facts, this.#page))
  }

  get because(): string {
    return this.#explain().because()
  }

  /** Strongest first. */
  get chain(): readonly TemplateEntry[] {
    return this.#explain().chain
  }

  #explain() {
    return (this.#explained ??= explainChoice(this.#options, this.#facts, this.#page))
  }
}

/** What a site has to choose from. */
export interface TemplateOptions {
  readonly site: Site
  readonly templates: ReadonlyMap<string, Template>
  readonly assignments: Assignments
}

/** What it takes to name those who choose. */
export interface NamingOptions extends TemplateOptions {
  /** A pointer to an entry of a list, by its position or by its identity. */
  readonly pointerTo: (list: EntryList, entry: object) => string
  /** An assign entry in words: "assign entry 3". */
  readonly nameOfEntry: (entry: AssignData) => string
}

/** The strongest choice of a template that can be used. */
export interface Strongest {
  readonly layer?: Chooser
  readonly named?: Named
  readonly template?: Template
  readonly hasSkipped: boolean
}

const NOBODY: Strongest = { hasSkipped: false }

/** Asks the choosers from the strongest down, and stops at the first that names one that can be used. */
export function strongest(options: TemplateOptions, facts: PageFacts, page: PageData): Strongest {
  const { site, templates } = options
  const order = site.data.choose ?? CHOOSERS
  let hasSkipped = false
  for (let n = order.length - 1; n >= 0; n--) {
    const layer = order[n] as Chooser
    for (const named of namedBy(layer, options, facts, page)) {
      if (named.barred === undefined) {
        if (named.value === 'none') return { layer, named, hasSkipped }
        const template = templates.get(named.value)
        if (template?.isOn && (!template.for || template.for.includes(facts.kind)))
          return { layer, named, template, hasSkipped }
      }
      hasSkipped = true
    }
  }
  return hasSkipped ? { hasSkipped } : NOBODY
}

/** What one chooser names, strongest first. */
function namedBy(
  chooser: Chooser,
  { site, assignments }: TemplateOptions,
  facts: PageFacts,
  page: PageData,
): readonly Named[] {
  switch (chooser) {
    case 'page':
      return one(page.template)
    case 'built':
      return facts.builder === undefined ? NONE : one(page.built?.template, builderBarred(site, facts))
    case 'builder': {
      const { builder } = facts
      return builder === undefined ? NONE : one(own(site.data.builders, builder)?.template, builderBarred(site, facts))
    }
    case 'assign': {
      const matched = assignments.templatesFor(facts)
      if (matched.length === 0) return NONE
      return matched.map((each): Named => ({ value: each.entry.data.template as string, matched: each })).reverse()
    }
    case 'kind':
      return one(own(site.data.kinds, facts.kind)?.template)
    case 'theme':
      return one(site.data.theme.template)
  }
}

const NONE: readonly Named[] = []

const one = (value: string | undefined, barred?: string): readonly Named[] =>
  value === undefined ? NONE : [{ value, barred }]

/** Where a chooser names a template. */
function pointerOf(layer: Chooser, { matched }: Named, facts: PageFacts, { pointerTo }: NamingOptions): string {
  switch (layer) {
    case 'page':
      return toPointer(['pages', facts.id, 'template'])
    case 'built':
      return toPointer(['pages', facts.id, 'built', 'template'])
    case 'builder':
      return toPointer(['builders', facts.builder ?? '', 'template'])
    case 'assign':
      return matched ? `${pointerTo('assign', matched.entry.data)}/template` : ''
    case 'kind':
      return toPointer(['kinds', facts.kind, 'template'])
    case 'theme':
      return '/theme/template'
  }
}

/** A chooser in words. */
function nameOf(layer: Chooser, { matched }: Named, facts: PageFacts, { nameOfEntry }: NamingOptions): string {
  switch (layer) {
    case 'page':
      return "the page's own choice"
    case 'built':
      return 'what the builder stored'
    case 'builder':
      return `builder ${facts.builder}`
    case 'assign':
      return matched ? `${nameOfEntry(matched.entry.data)} (${describeSelector(matched.selector.source)})` : ''
    case 'kind':
      return `kind ${facts.kind}`
    case 'theme':
      return 'theme options'
  }
}

/** The whole chain, with a reason for each candidate that lost. */
function explainChoice(options: NamingOptions, facts: PageFacts, page: PageData) {
  const { site, templates } = options
  const weakestFirst = site.data.choose ?? CHOOSERS
  const all = [...weakestFirst].reverse().flatMap((layer) =>
    namedBy(layer, options, facts, page).map((named) => {
      const { value, barred } = named
      const reason = barred ?? (value === 'none' ? undefined : unusable(site.data, templates, value, facts.kind))
      return { layer, named, reason }
    }),
  )
  const winner = all.find(({ reason }) => reason === undefined)
  const chain = all.map((each): TemplateEntry => {
    const { layer, named, reason } = each
    const { value } = named
    const isSame = value === winner?.named.value
    return {
      layer,
      value,
      pointer: pointerOf(layer, named, facts, options),
      outcome: each === winner ? 'wins' : reason ? 'skipped' : isSame ? 'same' : 'overridden',
      get because() {
        const name = nameOf(layer, named, facts, options)
        return reason ? `${name}; ${reason}` : name
      },
    }
  })
  return {
    because: () => (winner ? nameOf(winner.layer, winner.named, facts, options) : 'no layer names a template'),
    chain,
  }
}

/** Every template that any chooser names for a page, whether it wins or not, for a dormant page too. */
export function namedTemplates(options: TemplateOptions, facts: PageFacts, page: PageData): readonly string[] {
  const { data } = options.site
  const assigned = options.assignments.templatesFor(facts).map(({ entry }) => entry.data.template)
  const builder = facts.builder === undefined ? undefined : own(data.builders, facts.builder)?.template
  const named = [data.theme.template, own(data.kinds, facts.kind)?.template, ...assigned, builder]
  return [...named, page.built?.template, page.template].filter((id) => id !== undefined)
}

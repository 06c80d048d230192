import { own, toPointer } from '../model/json.js'
import { addToList } from '../model/lists.js'
import type { PageData } from '../model/schema.js'
import type { Site } from '../model/site.js'
import { CHOOSERS, type Chooser } from '../model/site-data.js'
import type { PageFacts } from '../select/page-facts.js'
import { describeSelector, type Assignments } from './assignments.js'
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

interface Candidate {
  readonly layer: Chooser
  readonly value: string
  readonly pointer: string
  /** In words, which few ask for. */
  readonly name: () => string
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

function candidatesOf(
  site: Site,
  facts: PageFacts,
  page: PageData,
  assignments: Assignments,
): Map<Chooser, Candidate[]> {
  const { data } = site
  const found = new Map<Chooser, Candidate[]>()
  const add = (
    layer: Chooser,
    value: string | undefined,
    pointer: string,
    name: Candidate['name'],
    barred?: string,
  ): void => {
    if (value !== undefined) addToList(found, layer, { layer, value, pointer, name, barred })
  }
  add('theme', data.theme.template, '/theme/template', () => 'theme options')
  const kind = own(data.kinds, facts.kind)
  add('kind', kind?.template, toPointer(['kinds', facts.kind, 'template']), () => `kind ${facts.kind}`)
  for (const { entry, selector } of assignments.templatesFor(facts))
    add(
      'assign',
      entry.data.template,
      `/assign/${entry.index}/template`,
      () => `assign entry ${entry.index + 1} (${describeSelector(selector.source)})`,
    )
  if (facts.builder !== undefined) {
    const barred = builderBarred(site, facts)
    const builder = own(data.builders, facts.builder)
    add(
      'builder',
      builder?.template,
      toPointer(['builders', facts.builder, 'template']),
      () => `builder ${facts.builder}`,
      barred,
    )
    add(
      'built',
      page.built?.template,
      toPointer(['pages', facts.id, 'built', 'template']),
      () => 'what the builder stored',
      barred,
    )
  }
  add('page', page.template, toPointer(['pages', facts.id, 'template']), () => "the page's own choice")
  return found
}

/**
 * A page's template: the strongest candidate that can be used; `none` is a choice. Which choices were overridden is worked out
 * only when somebody asks.
 */
export class TemplateChoice {
  /** `undefined` when no template is used. */
  readonly template: Template | undefined
  readonly #options: TemplateOptions
  readonly #facts: PageFacts
  readonly #page: PageData
  #told: { readonly because: () => string; readonly chain: readonly TemplateEntry[] } | undefined

  constructor(options: TemplateOptions, facts: PageFacts, page: PageData, template: Template | undefined) {
    this.#options = options
    this.#facts = facts
    this.#page = page
    this.template = template
  }

  /** No template, since the page is dormant. */
  static dormant(options: TemplateOptions, facts: PageFacts, page: PageData): TemplateChoice {
    const choice = new TemplateChoice(options, facts, page, undefined)
    choice.#told = { because: () => 'its kind comes from an extension that is off', chain: [] }
    return choice
  }

  get because(): string {
    return this.#tell().because()
  }

  /** Strongest first. */
  get chain(): readonly TemplateEntry[] {
    return this.#tell().chain
  }

  #tell() {
    return (this.#told ??= tellChoice(this.#options, this.#facts, this.#page))
  }
}

/** What a site has to choose from. */
export interface TemplateOptions {
  readonly site: Site
  readonly templates: ReadonlyMap<string, Template>
  readonly assignments: Assignments
}

/** Asks the choosers from the strongest down, and stops at the first that names one that can be used. */
export function chooseTemplate(options: TemplateOptions, facts: PageFacts, page: PageData): Template | undefined {
  const { site, templates } = options
  const order = site.data.choose ?? CHOOSERS
  for (let n = order.length - 1; n >= 0; n--)
    for (const named of namedBy(order[n] as Chooser, options, facts, page)) {
      if (named === 'none') return undefined
      const template = templates.get(named)
      if (template?.isOn && (!template.for || template.for.includes(facts.kind))) return template
    }
  return undefined
}

/** What one chooser names, strongest first. */
function namedBy(
  chooser: Chooser,
  { site, assignments }: TemplateOptions,
  facts: PageFacts,
  page: PageData,
): readonly string[] {
  const one = (id: string | undefined): readonly string[] => (id === undefined ? NONE : [id])
  switch (chooser) {
    case 'page':
      return one(page.template)
    case 'built':
      return page.built?.template !== undefined && !builderBarred(site, facts) ? [page.built.template] : NONE
    case 'builder':
      return facts.builder !== undefined && !builderBarred(site, facts)
        ? one(own(site.data.builders, facts.builder)?.template)
        : NONE
    case 'assign': {
      const matched = assignments.templatesFor(facts)
      return matched.length === 0 ? NONE : matched.map(({ entry }) => entry.data.template as string).reverse()
    }
    case 'kind':
      return one(own(site.data.kinds, facts.kind)?.template)
    case 'theme':
      return one(site.data.theme.template)
  }
}

const NONE: readonly string[] = []

/** The whole chain, with a reason for each candidate that lost. */
function tellChoice({ site, templates, assignments }: TemplateOptions, facts: PageFacts, page: PageData) {
  const byLayer = candidatesOf(site, facts, page, assignments)
  const order = site.data.choose ?? CHOOSERS
  const strongestFirst = order.flatMap((layer) => byLayer.get(layer) ?? []).reverse()
  const hole = (c: Candidate): string | undefined =>
    c.barred ?? (c.value === 'none' ? undefined : unusable(site.data, templates, c.value, facts.kind))
  const winner = strongestFirst.find((c) => hole(c) === undefined)
  const chain = strongestFirst.map((c): TemplateEntry => {
    const reason = hole(c)
    const outcome = c === winner ? 'wins' : reason ? 'skipped' : c.value === winner?.value ? 'same' : 'overridden'
    const { layer, value, pointer, name } = c
    return {
      layer,
      value,
      pointer,
      outcome,
      get because() {
        return reason ? `${name()}; ${reason}` : name()
      },
    }
  })
  return { because: () => (winner ? winner.name() : 'no layer names a template'), chain }
}

/** Every template that any chooser names for a page, whether it wins or not, for a dormant page too. */
export function namedTemplates(options: TemplateOptions, facts: PageFacts, page: PageData): readonly string[] {
  const { data } = options.site
  const assigned = options.assignments.templatesFor(facts).map(({ entry }) => entry.data.template)
  const builder = facts.builder === undefined ? undefined : own(data.builders, facts.builder)?.template
  const named = [data.theme.template, own(data.kinds, facts.kind)?.template, ...assigned, builder]
  return [...named, page.built?.template, page.template].filter((id) => id !== undefined)
}

import { own, toPointer } from '../model/json.js'
import type { PageData } from '../model/schema.js'
import type { Site } from '../model/site.js'
import { CHOOSERS, type Chooser } from '../model/site-data.js'
import type { PageFacts } from '../select/page-facts.js'
import { describeSelector, type Assignments } from './assignments.js'
import type { Outcome } from './contribution.js'
import { isOn } from './extensions.js'
import { unusable, type Template } from './templates.js'

/** One who names a template, with how that ended. */
export interface TemplateVoice {
  readonly layer: Chooser
  /** A template's id, or `none`. */
  readonly value: string
  readonly pointer: string
  readonly outcome: Outcome
  readonly because: string
}

export interface TemplateChoice {
  /** `undefined` when no template is used. */
  readonly template: Template | undefined
  readonly because: string
  /** Strongest first. */
  readonly chain: readonly TemplateVoice[]
}

interface Candidate {
  readonly layer: Chooser
  readonly value: string
  readonly pointer: string
  readonly name: string
  /** Why this one has no say, whatever it names. */
  readonly barred?: string | undefined
}

/** Why a page's builder has no say; `undefined` when it has. */
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
  const add = (layer: Chooser, value: string | undefined, pointer: string, name: string, barred?: string): void => {
    if (value !== undefined) found.set(layer, [...(found.get(layer) ?? []), { layer, value, pointer, name, barred }])
  }
  add('theme', data.theme.template, '/theme/template', 'theme options')
  const kind = own(data.kinds, facts.kind)
  add('kind', kind?.template, toPointer(['kinds', facts.kind, 'template']), `kind ${facts.kind}`)
  for (const { entry, selector } of assignments.templatesFor(facts))
    add(
      'assign',
      entry.data.template,
      `/assign/${entry.index}/template`,
      `assign entry ${entry.index + 1} (${describeSelector(selector.source)})`,
    )
  if (facts.builder !== undefined) {
    const barred = builderBarred(site, facts)
    const builder = own(data.builders, facts.builder)
    add(
      'builder',
      builder?.template,
      toPointer(['builders', facts.builder, 'template']),
      `builder ${facts.builder}`,
      barred,
    )
    add(
      'built',
      page.built?.template,
      toPointer(['pages', facts.id, 'built', 'template']),
      'what the builder stored',
      barred,
    )
  }
  add('page', page.template, toPointer(['pages', facts.id, 'template']), "the page's own choice")
  return found
}

/** Chooses a page's template: the strongest candidate that can be used; `none` is a choice. */
export function chooseTemplate(
  site: Site,
  templates: ReadonlyMap<string, Template>,
  assignments: Assignments,
  facts: PageFacts,
  page: PageData,
): TemplateChoice {
  const byLayer = candidatesOf(site, facts, page, assignments)
  const order = site.data.choose ?? CHOOSERS
  const strongestFirst = order.flatMap((layer) => byLayer.get(layer) ?? []).reverse()
  const usable = (c: Candidate): string | undefined =>
    c.barred ?? (c.value === 'none' ? undefined : unusable(site.data, templates, c.value, facts.kind))
  const winner = strongestFirst.find((c) => usable(c) === undefined)
  const chain = strongestFirst.map((c): TemplateVoice => {
    const hole = usable(c)
    const outcome = c === winner ? 'wins' : hole ? 'passed over' : c.value === winner?.value ? 'same' : 'outranked'
    const { layer, value, pointer, name } = c
    return { layer, value, pointer, outcome, because: hole ? `${name}; ${hole}` : name }
  })
  return {
    template: winner && winner.value !== 'none' ? templates.get(winner.value) : undefined,
    because: winner ? winner.name : 'nobody names a template',
    chain,
  }
}

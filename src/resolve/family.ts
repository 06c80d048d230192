import { UnknownNameError } from '../model/unknown-name.js'
import type { Facet } from '../model/facets.js'
import { own } from '../model/json.js'
import type { PageData } from '../model/schema.js'
import { sitePartsOf, type Site } from '../model/site.js'
import { LAYERS, type SettingsLayer } from '../model/site-data.js'
import { PageFacts } from '../select/page-facts.js'
import type { EarlierCore } from './carried-choice.js'
import { builderBarred, namedTemplates, strongest } from './choose-template.js'
import { BASELINE, type Contribution } from './contribution.js'
import { Layout } from './layout.js'
import type { PageCore } from './page.js'
import { PageIndex } from './page-index.js'
import type { Prepared } from './prepare.js'
import type { SiteState } from './reach.js'
import { readSettings } from './settings.js'
import type { Template } from './templates.js'

/** What all states of a site share that differ from one another in few pages. */
export class Family implements SiteState {
  readonly site: Site
  readonly prepared: Prepared
  readonly #cores: Map<string, PageCore>
  readonly #earlier: EarlierCore | undefined
  #index: PageIndex | undefined

  constructor(site: Site, prepared: Prepared, cores = new Map<string, PageCore>(), earlier?: EarlierCore) {
    this.site = site
    this.prepared = prepared
    this.#cores = cores
    this.#earlier = earlier
  }

  core(id: string): PageCore {
    let core = this.#cores.get(id)
    if (!core) this.#cores.set(id, (core = makeCore(this, id, true, this.#earlier?.(id))))
    return core
  }

  get known(): ReadonlyMap<string, PageCore> {
    return this.#cores
  }

  get index(): PageIndex {
    const { site, prepared } = this
    const options = { site, templates: prepared.templates, assignments: prepared.assignments }
    return (this.#index ??= new PageIndex(new Map(site.pageIds.map((id) => [id, this.core(id)])), ({ facts, data }) =>
      namedTemplates(options, facts, data),
    ))
  }
}

/**
 * What a state of a site decides about one of its pages.
 *
 * @param earlier - What an earlier state decided, where facts and the choice of a template are as they were.
 */
export function makeCore({ site, prepared }: SiteState, id: string, isShared: boolean, earlier?: PageCore): PageCore {
  const data = site.pageData(id)
  if (!data) throw new UnknownNameError('page', id, site.pageIds)
  if (earlier?.data === data) {
    const { facts, dormant } = earlier
    const template = earlier.template && prepared.templates.get(earlier.template.id)
    const layout = layoutOf({ site, prepared }, facts, data, template, isShared)
    // Who decided it may have another number now.
    return { id, data, facts, dormant, template, decided: undefined, layout }
  }
  const facts = new PageFacts(site, id, data, prepared.purposes.get(id))
  const dormant = prepared.asleep.has(facts.kind)
  const options = { site, templates: prepared.templates, assignments: prepared.assignments }
  const decided = dormant ? undefined : strongest(options, facts, data)
  const template = decided?.template
  const layout = layoutOf({ site, prepared }, facts, data, template, isShared)
  return { id, data, facts, dormant, template, decided, layout }
}

function layoutOf(
  { site, prepared }: SiteState,
  facts: PageFacts,
  data: PageData,
  template: Template | undefined,
  isShared: boolean,
): Layout {
  const assigned = prepared.assignments.settingsFor(facts, template?.id ?? null)
  const builder = facts.builder !== undefined && !builderBarred(site, facts) ? facts.builder : undefined
  const keys: unknown[] = [template, facts.kind, builder, ...assigned.map(({ entry }) => entry.index)]
  if (data.layout) keys.push(JSON.stringify(data.layout))
  const { layouts, fixed: known } = prepared
  const old = layouts.find(keys)
  if (old) return old
  const fixed = (name: string): Contribution[] => [known.get(name) ?? []].flat()
  const bySource: Readonly<Record<SettingsLayer, readonly Contribution[]>> = {
    baseline: [BASELINE],
    theme: fixed('theme'),
    kind: fixed(`kind ${facts.kind}`),
    template: template ? fixed(`template ${template.id}`) : [],
    assign: assigned.flatMap((m) => m.entry.contribution ?? []),
    builder: builder === undefined ? [] : fixed(`builder ${builder}`),
    page: data.layout
      ? [{ layer: 'page', settings: readSettings(data.layout, ''), name: "this page's own setting" }]
      : [],
  }
  const order = site.data.precedence ?? LAYERS
  const contributions = order.flatMap((layer) => bySource[layer])
  const facets = own(site.data.kinds, facts.kind)?.facets as readonly Facet[] | undefined
  const layout = new Layout(sitePartsOf(site).rest, contributions, template, facets)
  if (isShared) layouts.keep(keys, layout)
  return layout
}

import type { Facet } from '../model/facets.js'
import { own } from '../model/json.js'
import type { PageData } from '../model/schema.js'
import { sitePartsOf } from '../model/site.js'
import { LAYERS, type SettingsLayer } from '../model/site-data.js'
import { UnknownNameError } from '../model/unknown-name.js'
import { PageFacts } from '../select/page-facts.js'
import { builderBarred, strongest } from './choose-template.js'
import { BASELINE, type Contribution } from './contribution.js'
import { Layout } from './layout.js'
import type { PageCore } from './page.js'
import type { SiteState } from './prepare.js'
import { readSettings } from './settings.js'
import type { Template } from './templates.js'

/** Resolves the facts, template and layout of a page. */
export function pageCore({ site, prepared }: SiteState, id: string): PageCore {
  const data = site.pageData(id)
  if (!data) throw new UnknownNameError('page', id, site.pageIds)
  const facts = new PageFacts(site, id, data, prepared.purposes.get(id))
  const dormant = prepared.asleep.has(facts.kind)
  const options = { site, templates: prepared.templates, assignments: prepared.assignments }
  const decided = dormant ? undefined : strongest(options, facts, data)
  const template = decided?.template
  return { id, data, facts, dormant, template, decided, layout: layoutOf({ site, prepared }, facts, data, template) }
}

/** The layout of all pages with the same layers. */
function layoutOf(
  { site, prepared }: SiteState,
  facts: PageFacts,
  data: PageData,
  template: Template | undefined,
): Layout {
  const assigned = prepared.assignments
    .settingsFor(facts, template?.id ?? null)
    .flatMap(({ entry }) => entry.contribution ?? [])
  const builder = facts.builder !== undefined && !builderBarred(site, facts) ? facts.builder : undefined
  const { layouts, fixed } = prepared
  const keys: unknown[] = [template, facts.kind, builder, ...assigned]
  if (data.layout) keys.push(JSON.stringify(data.layout))
  const known = layouts.find(keys)
  if (known) return known
  const fixedOf = (name: string): readonly Contribution[] => [fixed.get(name) ?? []].flat()
  const byLayer: Readonly<Record<SettingsLayer, readonly Contribution[]>> = {
    baseline: [BASELINE],
    theme: fixedOf('theme'),
    kind: fixedOf(`kind ${facts.kind}`),
    template: template ? fixedOf(`template ${template.id}`) : [],
    assign: assigned,
    builder: builder === undefined ? [] : fixedOf(`builder ${builder}`),
    page: data.layout
      ? [{ layer: 'page', settings: readSettings(data.layout, ''), name: "this page's own setting" }]
      : [],
  }
  const contributions = (site.data.precedence ?? LAYERS).flatMap((layer) => byLayer[layer])
  const facets = own(site.data.kinds, facts.kind)?.facets as readonly Facet[] | undefined
  const layout = new Layout(sitePartsOf(site).rest, contributions, template, facets)
  layouts.keep(keys, layout)
  return layout
}

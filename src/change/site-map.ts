import type { ResolvedSite } from '../resolve/resolve-site.js'

/** A template or surround, with the pages that get it and those for which it was assigned but overridden. */
export interface MappedThing {
  readonly id: string
  readonly label: string
  /** `template`, or what a surround is for. */
  readonly as: 'template' | 'header' | 'footer' | 'sidebar'
  readonly wins: readonly string[]
  readonly overridden: readonly { readonly page: string; readonly because: string }[]
}

/** Which pages get each template and surround at some viewport, and for which another wins. One pass over the pages. */
export function mapSite(resolved: ResolvedSite): readonly MappedThing[] {
  const { templates = {}, surrounds = {} } = resolved.site.data
  const things = new Map<string, MappedThing & { wins: string[]; overridden: { page: string; because: string }[] }>()
  const add = (as: MappedThing['as'], id: string, label: string | undefined): void =>
    void things.set(`${as === 'template' ? as : 'surround'} ${id}`, {
      id,
      as,
      label: label ?? id,
      wins: [],
      overridden: [],
    })
  for (const [id, { label }] of Object.entries(templates)) add('template', id, label)
  for (const [id, { as, label }] of Object.entries(surrounds)) add(as, id, label)
  for (const page of resolved.pages()) {
    if (page.dormant) continue
    const won = new Set<string>()
    const lost = new Map<string, string>()
    const template = page.choice.template?.id
    if (template !== undefined) won.add(`template ${template}`)
    for (const { value, because } of page.choice.chain) lost.set(`template ${value}`, because)
    for (const { name } of resolved.site.viewports) {
      const view = page.at(name)
      for (const facet of ['header', 'footer', 'sidebar'] as const) {
        const isPrinted =
          view.presence(`${facet}.presence`) !== 'absent' &&
          (facet !== 'sidebar' || view.value('sidebar.side') !== 'none')
        for (const { value, outcome, because } of view.chain(`${facet}.use`)) {
          if (typeof value !== 'string') continue
          if (outcome === 'wins' && isPrinted) won.add(`surround ${value}`)
          else lost.set(`surround ${value}`, outcome === 'wins' ? `${because}; the ${facet} is not printed` : because)
        }
      }
    }
    for (const key of won) things.get(key)?.wins.push(page.id)
    for (const [key, because] of lost) if (!won.has(key)) things.get(key)?.overridden.push({ page: page.id, because })
  }
  return [...things.values()]
}

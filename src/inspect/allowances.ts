import { toPointer } from '../model/json.js'
import type { Where } from '../model/site-data.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { compileWhere } from '../select/selector.js'
import type { RuleFact } from './facts.js'
import type { Allowance } from './rule.js'

interface Gate extends Allowance {
  /** Whether it speaks of a page; of what is about no page where it has no `where`. */
  readonly covers: (page: ResolvedPage | undefined) => boolean
}

interface AllowData {
  readonly rule: string | readonly string[]
  readonly where?: Where | undefined
  readonly reason: string
}

function gatesOf(resolved: ResolvedSite): readonly Gate[] {
  const { site } = resolved
  const gates = (list: readonly AllowData[] | undefined, at: string, only?: (page: ResolvedPage) => boolean): Gate[] =>
    (list ?? []).map(({ rule, where, reason }, index) => {
      const asked = where === undefined ? undefined : compileWhere(site, where)
      return {
        pointer: `${at}/${index}`,
        rules: [rule].flat(),
        reason,
        covers: (page) => {
          if (!page) return asked === undefined && only === undefined
          const matches = !asked || asked.match(page.facts, page.choice.template?.id ?? null) !== undefined
          return matches && (only?.(page) ?? true)
        },
      }
    })
  return [
    ...gates(site.data.allow as readonly AllowData[] | undefined, '/allow'),
    ...Object.entries(site.data.templates ?? {}).flatMap(([id, { allow }]) =>
      gates(
        allow as readonly AllowData[] | undefined,
        toPointer(['templates', id, 'allow']),
        (page) => page.choice.template?.id === id,
      ),
    ),
    ...resolved.pageIds.flatMap((id) => {
      const allow = site.pageData(id)?.allow as readonly AllowData[] | undefined
      return allow ? gates(allow, toPointer(['pages', id, 'allow']), (page) => page.id === id) : []
    }),
  ]
}

/** Whether the site's `allow` entries permit a rule's finding on a page. */
export function isAllowedOn(resolved: ResolvedSite, rule: string, page: string): boolean {
  return gatesOf(resolved).some((gate) => gate.rules.includes(rule) && gate.covers(resolved.page(page)))
}

/** Takes out what the site's `allow` entries permit, and tells which of them permitted nothing. */
export function withoutAllowed(
  resolved: ResolvedSite,
  facts: readonly RuleFact[],
): { readonly facts: readonly RuleFact[]; readonly unused: readonly Allowance[] } {
  const gates = gatesOf(resolved)
  if (gates.length === 0) return { facts, unused: [] }
  const used = new Set<Gate>()
  const isAllowed = (rule: string, page: string | undefined): boolean => {
    const opened = gates.filter(
      (gate) => gate.rules.includes(rule) && gate.covers(page === undefined ? undefined : resolved.page(page)),
    )
    for (const gate of opened) used.add(gate)
    return opened.length > 0
  }
  const kept = facts.flatMap((each): RuleFact[] => {
    if (each.cases.length === 0) return isAllowed(each.rule.id, undefined) ? [] : [each]
    const cases = each.cases.filter(({ page }) => !isAllowed(each.rule.id, page))
    return cases.length > 0 ? [{ ...each, cases }] : []
  })
  return { facts: kept, unused: gates.filter((gate) => !used.has(gate)) }
}

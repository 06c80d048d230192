import type { ResolvedSite } from '../resolve/resolve-site.js'
import { withoutAllowed } from './allowances.js'
import { siteFact, type FactFinder, type RuleFact } from './facts.js'
import type { Allowance, Rule } from './rule.js'
import { RULES } from './rules/index.js'

const OF_REALITY = new Set(RULES.filter((rule) => rule.scope === 'reality').map((rule) => rule.id))
/** What only observing real pages may find is not known to be permitted in vain. */
const isHeard = ({ rules }: Allowance): boolean => !rules.every((rule) => OF_REALITY.has(rule))

/** What all rules see, less what is allowed. */
export function allFacts(
  resolved: ResolvedSite,
  finder: FactFinder,
  rules: readonly Rule[],
  onPage?: (done: number, all: number) => void,
): readonly RuleFact[] {
  const ofPages = rules.filter((rule) => rule.scope === 'view' || rule.scope === 'page')
  const siteRules = rules.filter((rule) => rule.scope === 'site')
  const digests = siteRules.flatMap((rule) => rule.digests ?? [])
  const ids = resolved.pageIds
  const found = ids.flatMap((id, index) => {
    const facts = finder.onPage(resolved, resolved.page(id), ofPages, digests)
    onPage?.(index + 1, ids.length)
    return facts
  })
  const ofSite = finder.onSite(resolved, siteRules)
  const { facts, unused } = withoutAllowed(resolved, [...found, ...ofSite])
  const last = rules.filter((rule) => rule.scope === 'allow')
  const late: RuleFact[] = []
  // Whether an entry of `allow` is of use is known only when every rule was asked.
  if (RULES.every((rule) => rules.includes(rule) || resolved.site.data.severity?.[rule.id] === 'none'))
    for (const rule of last) rule.check(unused.filter(isHeard), (fact) => void late.push(siteFact(rule, fact, [])))
  return [...facts, ...late]
}

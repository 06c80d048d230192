import { toEnd } from '../inspect/turns.js'
import { changedFindings } from './changed-findings.js'
import type { Finding } from '../inspect/rule.js'
import { STEPS, stepOf, type Step } from '../inspect/steps.js'
import { tryPatch } from '../inspect/engine/step.js'
import { own } from '../model/json.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

/** A finding in the order of the work, with what its fix would remove beside it. */
export interface OrderedFinding {
  readonly finding: Finding
  /** Keys of other findings that are gone once its first fix (else its first choice) is applied. */
  readonly vanish: readonly string[]
}

/** One step of the work: what is to be fixed at it, first things first, and what nobody has decided yet. */
export interface WorkStep {
  readonly step: Step
  readonly findings: readonly OrderedFinding[]
  /** Kinds without a template, purposes without a page. */
  readonly open: readonly string[]
}

/**
 * Findings by the step of the work at which their cause is set, steps in their order. Within a step a finding comes
 * first whose fix removes most others; without fixes, the most harmful.
 *
 * @example
 * workOrder(resolved, inspect(resolved))[0]?.step // => 'Theme'
 */
export function workOrder(resolved: ResolvedSite, findings: readonly Finding[], now?: Date): readonly WorkStep[] {
  const ordered = findings.map((finding): OrderedFinding => ({
    finding,
    vanish: vanishingWith(resolved, finding, now),
  }))
  const steps = STEPS.map((step) => ({
    step,
    findings: ordered
      .filter(({ finding }) => stepOf(finding) === step)
      .sort((a, b) => b.vanish.length - a.vanish.length),
    open: OPEN[step]?.(resolved) ?? [],
  }))
  return steps.filter(({ findings: found, open }) => found.length + open.length > 0)
}

function vanishingWith(resolved: ResolvedSite, { key, fixes }: Finding, now: Date | undefined): readonly string[] {
  const fix = fixes.find(({ choice, others }) => !choice && !others) ?? fixes[0]
  const after = fix && tryPatch(resolved, fix.patch)
  if (!after) return []
  const changed = toEnd(changedFindings(resolved, after, now))
  return Object.keys(changed.before).filter((each) => each !== key && !Object.hasOwn(changed.after, each))
}

/** Purposes of one page each (design, section 3). */
const PURPOSES = ['front', 'search', 'notFound', 'signIn'] as const

const OPEN: Readonly<Partial<Record<Step, (resolved: ResolvedSite) => readonly string[]>>> = {
  Assignment: (resolved) => {
    const awake = [...resolved.pages()].filter((page) => !page.dormant)
    const kinds = [...new Set(awake.map(({ facts }) => facts.kind))]
    return kinds
      .filter((kind) => awake.every((page) => page.facts.kind !== kind || page.choice.template === undefined))
      .map((kind) => `no page of kind ${kind} has a template`)
  },
  Site: ({ site }) =>
    PURPOSES.filter((purpose) => own(site.data.purposes, purpose) === undefined).map(
      (purpose) => `no page has the purpose ${purpose}`,
    ),
}

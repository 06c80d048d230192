import type { ResolvedSite } from 'wembra'
import type { Texts } from './project.ts'

/** One state of the site, and what led to it. */
export interface Version {
  readonly texts: Texts
  readonly site: ResolvedSite
  readonly label: string
  /** Edits of one text within a short time of each other are one version. */
  readonly at: number
}

/** The states before and after the present one, nearest last and first. */
export interface History {
  readonly past: readonly Version[]
  readonly present: Version
  readonly future: readonly Version[]
}

const TOGETHER = 1500
/** So many states are kept of a site of a few hundred pages, and fewer of a larger one, for each may hold all of it. */
const MOST_KEPT = 200
const FEWEST_KEPT = 20
const PAGES_KEPT = 100_000

const keptOf = ({ pageIds }: ResolvedSite): number =>
  Math.max(FEWEST_KEPT, Math.min(MOST_KEPT, Math.floor(PAGES_KEPT / pageIds.length)))

export const begin = (texts: Texts, site: ResolvedSite): History => ({
  past: [],
  present: { texts, site, label: 'opened', at: 0 },
  future: [],
})

export function record({ past, present }: History, version: Version): History {
  const isOneEdit =
    version.label.startsWith('edit ') && version.label === present.label && version.at - present.at < TOGETHER
  return {
    past: isOneEdit ? past : [...past, present].slice(-keptOf(version.site)),
    present: version,
    future: [],
  }
}

export function undo({ past, present, future }: History): History {
  const last = past.at(-1)
  return last ? { past: past.slice(0, -1), present: last, future: [present, ...future] } : { past, present, future }
}

export function redo({ past, present, future }: History): History {
  const [next, ...rest] = future
  return next ? { past: [...past, present], present: next, future: rest } : { past, present, future }
}

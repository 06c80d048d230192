import type { Texts } from './project.ts'

/** One state of the site's texts, and what led to it. */
export interface Version {
  readonly texts: Texts
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
const KEPT = 200

export const begin = (texts: Texts): History => ({ past: [], present: { texts, label: 'opened', at: 0 }, future: [] })

export function record({ past, present }: History, texts: Texts, label: string, now: number): History {
  const isOneEdit = label.startsWith('edit ') && label === present.label && now - present.at < TOGETHER
  return {
    past: isOneEdit ? past : [...past, present].slice(-KEPT),
    present: { texts, label, at: now },
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

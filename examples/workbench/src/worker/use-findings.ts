import { proxy, type Remote } from 'comlink'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { formatProblem, type Finding, type InspectProgress } from 'wembra'
import type { Work } from './site.worker.ts'

/** The conflicts of the present texts. */
export interface Findings {
  /** As they were found, without fixes and cases. */
  readonly findings: readonly Finding[]
  /** What is being done, for people; empty when all is done. */
  readonly busy: string
  /** Why there are none, for people; empty where nothing went wrong. */
  readonly problem: string
  /** What they could not be measured by, for people; empty where all could be read. */
  readonly unread: string
  /** Whether the findings are those of the present texts. */
  readonly isCurrent: boolean
  /** A conflict with its fixes: they are tried once somebody asks. */
  readonly fixed: Details
  /** A conflict with each page and viewport it is at. */
  readonly whole: Details
}

/** What is asked about one conflict, by its key, once. */
export type Details = (key: string) => Promise<Finding | undefined>

type State = Omit<Findings, 'fixed' | 'whole'>

const LOOKING = { busy: 'Looking at the pages', problem: '', unread: '', isCurrent: false } as const

/** Looks for conflicts beside the app, anew for each state of the site. */
export function useFindings(ask: () => Promise<Remote<Work>>): Findings {
  const [state, setState] = useState<State>({ findings: [], ...LOOKING })
  const known = useRef(new Map<string, ReturnType<Details>>())
  useEffect(() => {
    let isOver = false
    known.current = new Map()
    const tell = (next: Partial<State>): void => {
      if (!isOver) setState((before) => ({ ...before, ...next }))
    }
    tell(LOOKING)
    void (async () => {
      const work = await ask()
      let isDone = false
      // What is reported on the way may arrive after the result.
      const onProgress = proxy(({ done, all }: InspectProgress) => {
        if (!isDone) tell({ busy: `Looked at ${done} of ${all} pages` })
      })
      const findings: Finding[] = []
      const onFound = proxy((some: readonly Finding[]) => {
        findings.push(...some)
        return Promise.resolve()
      })
      const unread = await work.findings(onProgress, onFound)
      isDone = true
      tell({ findings, busy: '', unread: unread ? formatProblem(unread) : '', isCurrent: true })
    })().catch((error: unknown) => {
      const why = error instanceof Error ? error.message : String(error)
      tell({ busy: '', problem: `Could not look at the pages: ${why}` })
    })
    return () => {
      isOver = true
    }
  }, [ask])
  const details = useCallback(
    (what: 'fixed' | 'whole'): Details =>
      (key) => {
        const name = `${what} ${key}`
        const { current } = known
        const asked = current.get(name) ?? ask().then((work) => work[what](key))
        current.set(name, asked)
        // What was ended is asked again by whoever comes back to it.
        asked.catch(() => current.delete(name))
        return asked
      },
    [ask],
  )
  const [fixed, whole] = useMemo(() => [details('fixed'), details('whole')], [details])
  return { ...state, fixed, whole }
}

/** What was asked about one conflict; `undefined` until it is known, and again whenever another is asked about. */
export function useDetails(ask: Details, finding: Finding | undefined): Finding | undefined {
  const [known, setKnown] = useState<{ readonly of: Finding; readonly found: Finding }>()
  useEffect(() => {
    if (!finding) return undefined
    let isOver = false
    void ask(finding.key)
      .then((found) => !isOver && setKnown({ of: finding, found: found ?? finding }))
      .catch(() => undefined)
    return () => {
      isOver = true
    }
  }, [ask, finding])
  return finding && known?.of === finding ? known.found : undefined
}

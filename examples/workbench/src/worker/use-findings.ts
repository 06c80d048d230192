import { proxy, type Remote } from 'comlink'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { Finding, InspectProgress } from 'wembra'
import type { Work } from './site.worker.ts'

/** The conflicts of the present texts. */
export interface Findings {
  /** As they were found, without fixes. */
  readonly findings: readonly Finding[]
  /** What is being done, for people; empty when all is done. */
  readonly busy: string
  /** Whether the findings are those of the present texts. */
  readonly isCurrent: boolean
  /** A conflict with its fixes: they are tried once somebody asks. */
  readonly fixed: (key: string) => Promise<Finding | undefined>
}

type State = Omit<Findings, 'fixed'>

/** Looks for conflicts beside the app, anew for each state of the site. */
export function useFindings(ask: () => Promise<Remote<Work>>): Findings {
  const [state, setState] = useState<State>({ findings: [], busy: 'Looking at the pages', isCurrent: false })
  const known = useRef(new Map<string, Promise<Finding | undefined>>())
  useEffect(() => {
    let isOver = false
    known.current = new Map()
    const tell = (next: Partial<State>): void => {
      if (!isOver) setState((before) => ({ ...before, ...next }))
    }
    tell({ busy: 'Looking at the pages', isCurrent: false })
    void (async () => {
      const work = await ask()
      let isDone = false
      // What is reported on the way may arrive after the result.
      const onProgress = proxy(({ done, all }: InspectProgress) => {
        if (!isDone) tell({ busy: `Looked at ${done} of ${all} pages` })
      })
      const findings = await work.findings(onProgress)
      isDone = true
      tell({ findings, busy: '', isCurrent: true })
    })().catch((error: unknown) => tell({ busy: `Could not look: ${String(error)}` }))
    return () => {
      isOver = true
    }
  }, [ask])
  const fixed = useCallback(
    (key: string): Promise<Finding | undefined> => {
      const before = known.current.get(key)
      if (before) return before
      const asked = ask().then((work) => work.fixed(key))
      known.current.set(key, asked)
      return asked
    },
    [ask],
  )
  return { ...state, fixed }
}

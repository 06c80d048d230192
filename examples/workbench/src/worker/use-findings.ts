import { proxy } from 'comlink'
import { useEffect, useState } from 'react'
import type { Finding, InspectProgress } from 'wembra'
import type { Project, Texts } from '../session/project.ts'
import { Asker } from './asker.ts'

export interface Findings {
  readonly findings: readonly Finding[]
  /** What is being done, for people; empty when all is done. */
  readonly busy: string
  /** Whether the findings are those of the present texts. */
  readonly isCurrent: boolean
}

/** The conflicts: at once without fixes, and with those that hold as soon as they were tried. */
export function useFindings(project: Project, texts: Texts): Findings {
  const [state, setState] = useState<Findings>({ findings: [], busy: 'Looking at the pages', isCurrent: false })
  useEffect(() => {
    const asker = new Asker()
    let isOver = false
    const tell = (next: Partial<Findings>): void => {
      if (!isOver) setState((before) => ({ ...before, ...next }))
    }
    tell({ busy: 'Looking at the pages', isCurrent: false })
    void (async () => {
      const work = await asker.about(project, texts)
      let isDone = false
      // What is reported on the way may arrive after the result.
      const onProgress = proxy(({ step, done, all }: InspectProgress) => {
        if (isDone) return
        tell({ busy: step === 'pages' ? `Looked at ${done} of ${all} pages` : `Tried the fixes of ${done} of ${all}` })
      })
      tell({ findings: await work.findings(false, onProgress), busy: 'Trying the fixes', isCurrent: true })
      const findings = await work.findings(true, onProgress)
      isDone = true
      tell({ findings, busy: '' })
      asker.stop()
    })().catch((error: unknown) => tell({ busy: `Could not look: ${String(error)}` }))
    return () => {
      isOver = true
      asker.stop()
    }
  }, [project, texts])
  return state
}

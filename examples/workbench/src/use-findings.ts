import { useEffect, useState } from 'react'
import type { Finding } from 'wembra'
import type { OpenSite } from './demo-site.ts'

interface Findings {
  readonly findings: readonly Finding[]
  /** Whether their mends are still being tried. */
  readonly isTrying: boolean
}

/** What is in conflict at once, and with the mends that hold as soon as these were tried. */
export function useFindings(site: OpenSite): Findings {
  const [state, setState] = useState<Findings>({ findings: site.findings, isTrying: true })
  useEffect(() => {
    const worker = new Worker(new URL('./mends.worker.ts', import.meta.url), { type: 'module' })
    worker.onmessage = (event: MessageEvent<readonly Finding[]>) => {
      setState({ findings: event.data, isTrying: false })
      worker.terminate()
    }
    worker.onerror = () => setState((before) => ({ ...before, isTrying: false }))
    return () => worker.terminate()
  }, [site])
  return state
}

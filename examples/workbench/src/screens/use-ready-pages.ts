import { startTransition, useEffect, useMemo, useRef, useState } from 'react'
import type { ResolvedPage, ResolvedSite } from 'wembra'

/** A site with all its pages. */
export interface ReadyPages {
  readonly resolved: ResolvedSite
  readonly pages: readonly ResolvedPage[]
}

/** For how long pages are made ready before others get a turn; ms, half a frame at 60 Hz. */
const TURN = 8

/** Pages are worked out when they are asked for: here all of them, a few at a time. */
class Readying implements ReadyPages {
  readonly resolved: ResolvedSite
  readonly pages: ResolvedPage[] = []

  constructor(resolved: ResolvedSite) {
    this.resolved = resolved
  }

  /** Goes on for a turn; returns whether all are ready. */
  turn(): boolean {
    const { pageIds } = this.resolved
    for (const until = performance.now() + TURN; this.pages.length < pageIds.length;) {
      this.pages.push(this.resolved.page(pageIds[this.pages.length] as string))
      if (performance.now() > until) break
    }
    return this.pages.length === pageIds.length
  }
}

/** All pages of a site; until they are ready those of the state before, and at first none. */
export function useReadyPages(resolved: ResolvedSite): ReadyPages | undefined {
  const readying = useMemo(() => {
    const begun = new Readying(resolved)
    begun.turn()
    return begun
  }, [resolved])
  const [, setReady] = useState<ReadyPages>()
  useEffect(() => {
    let later: ReturnType<typeof setTimeout> | undefined
    const goOn = (): void => {
      if (readying.turn()) startTransition(() => setReady(readying))
      else later = setTimeout(goOn)
    }
    goOn()
    return () => clearTimeout(later)
  }, [readying])
  const last = useRef<ReadyPages>(undefined)
  if (readying.pages.length === resolved.pageIds.length) last.current = readying
  return last.current
}

import type { Remote } from 'comlink'
import type { PlannedChange } from '../../parts/ChangeDialog.tsx'
import type { DrawPage } from '../../session/draw.ts'
import type { Session } from '../../session/use-session.ts'
import type { Work } from '../../worker/site.worker.ts'

/** What each layer's screen is given. */
export interface LayerProps {
  readonly session: Session
  readonly ask: () => Promise<Remote<Work>>
  readonly plan: (change: PlannedChange) => void
  readonly params: URLSearchParams
  readonly draw: DrawPage
}

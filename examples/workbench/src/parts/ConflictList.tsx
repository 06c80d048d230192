import { Badge } from '@mantine/core'
import { useRef } from 'react'
import type { Finding } from 'wembra'
import type { Findings } from '../worker/use-findings.ts'
import type { PlannedChange } from './ChangeDialog.tsx'
import { FindingCard } from './FindingCard.tsx'
import { count, sentence, SEVERITY_COLORS } from './words.ts'

interface Props {
  readonly label: string
  readonly findings: readonly Finding[]
  readonly chosen: string | undefined
  readonly onChoose: (key: string | undefined) => void
  readonly plan: (change: PlannedChange) => void
  /** On which page they are looked at, where they are those of one. */
  readonly page?: string
  readonly found: Findings
}

/** Conflicts in short, one of them in full; the arrow keys go from one to the next. */
export function ConflictList({ label, findings, chosen, onChoose, plan, page, found }: Props) {
  const list = useRef<HTMLUListElement>(null)
  const step = (by: number): void => {
    const at = findings.findIndex(({ key }) => key === chosen)
    const next = findings[Math.min(findings.length - 1, Math.max(0, at + by))]
    if (!next) return
    onChoose(next.key)
    const buttons = list.current?.querySelectorAll<HTMLElement>('.conflict-button')
    buttons?.[findings.indexOf(next)]?.focus()
  }
  return (
    <ul
      ref={list}
      className="plain-list conflicts"
      aria-label={label}
      onKeyDown={(event) => {
        const by = { ArrowDown: 1, ArrowUp: -1 }[event.key]
        if (by === undefined || !(event.target as HTMLElement).matches('.conflict-button')) return
        event.preventDefault()
        step(by)
      }}
    >
      {findings.map((finding) => {
        const isChosen = finding.key === chosen
        return (
          <li key={finding.key} className={`finding ${isChosen ? 'is-chosen' : ''}`} data-key={finding.key}>
            <button
              type="button"
              className="conflict-button"
              aria-expanded={isChosen}
              onClick={() => onChoose(isChosen ? undefined : finding.key)}
            >
              <Badge size="sm" style={SEVERITY_COLORS[finding.severity]}>
                {finding.severity}
              </Badge>
              <span className="conflict-rule">{finding.rule}</span>
              {page === undefined && finding.pages.length > 0 && (
                <span className="conflict-pages">{count(finding.pages.length, 'page')}</span>
              )}
              <span className="conflict-message">{sentence(finding.message)}</span>
            </button>
            {isChosen && (
              <FindingCard finding={finding} plan={plan} found={found} {...(page !== undefined && { page })} />
            )}
          </li>
        )
      })}
    </ul>
  )
}

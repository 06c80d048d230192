import { Anchor, Button, Group, Text } from '@mantine/core'
import { memo } from 'react'
import type { Finding } from 'wembra'
import { pageAddress } from '../session/use-route.ts'
import { useDetails, type Findings } from '../worker/use-findings.ts'
import { Busy } from './Busy.tsx'
import type { PlannedChange } from './ChangeDialog.tsx'
import { SourceLink } from './SourceLink.tsx'
import { count } from './words.ts'

interface Props {
  readonly finding: Finding
  readonly plan: (change: PlannedChange) => void
  /** Reports the numbers on this page, beside the worst ones. */
  readonly page?: string
  readonly found: Findings
}

const PAGES_NAMED = 10

/** What a conflict comes from, how much it is, and what would fix it. */
export const FindingCard = memo(function FindingCard({ finding, plan, page, found }: Props) {
  const { at, advice, pages, viewports } = finding
  const whole = useDetails(found.whole, finding)
  const tried = useDetails(found.fixed, finding)
  const { fixes, refused = [] } = tried ?? finding
  const usable = fixes.filter((fix) => fix.patch.length > 0)
  return (
    <div className="conflict-details">
      <Text size="sm">
        Decided at <SourceLink at={at} isExact />
      </Text>
      {page !== undefined && pages.length > 1 && whole && <Text size="sm">{onPage(whole, page)}</Text>}
      {!tried ? (
        <Busy with="Trying the fixes" mt={6} />
      ) : usable.length === 0 ? (
        <Text size="sm" mt={2}>
          To do: {advice}.{refused.slice(0, 2).map(({ title, because }) => ` “${title}” was tried: ${because}.`)}
        </Text>
      ) : (
        <Group gap={8} mt={8}>
          {usable.map((fix) => (
            <Button
              key={fix.title}
              size="compact-sm"
              variant={fix.choice ? 'default' : 'light'}
              className="fix"
              onClick={() => plan({ title: fix.title, patch: fix.patch, isProven: true })}
            >
              {fix.choice ? 'Choose' : 'Fix'}: {fix.title}
            </Button>
          ))}
        </Group>
      )}
      {page === undefined && pages.length > 0 && (
        <Group gap={8} mt={6}>
          <Text size="sm" c="dimmed">
            {viewports.join(', ')}:
          </Text>
          {pages.slice(0, PAGES_NAMED).map((id) => (
            <Anchor key={id} href={pageAddress(id, { finding: finding.key })} size="sm" underline="always">
              {id}
            </Anchor>
          ))}
          {pages.length > PAGES_NAMED && <Text size="sm">and {count(pages.length - PAGES_NAMED, 'more page')}</Text>}
        </Group>
      )}
    </div>
  )
})

/** "On this page: covered 42, room 90, needed 132 at desk." */
function onPage(finding: Finding, page: string): string {
  const groups = new Map<string, string[]>()
  for (const { viewport, numbers, ...rest } of finding.cases) {
    if (rest.page !== page) continue
    const words = Object.entries(numbers)
      .map(([name, n]) => `${name} ${Math.round(n * 10) / 10}`)
      .join(', ')
    groups.set(words, [...(groups.get(words) ?? []), viewport])
  }
  return `On this page: ${[...groups].map(([words, viewports]) => `${words} at ${viewports.join(', ')}`).join('; ')}.`
}

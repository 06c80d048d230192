import {
  Anchor,
  Badge,
  Button,
  Group,
  List,
  Loader,
  NativeSelect,
  Paper,
  SegmentedControl,
  Stack,
  Text,
  Title,
} from '@mantine/core'
import { useMemo, useState } from 'react'
import { SEVERITIES, STEPS, stepOf, type Finding } from 'wembra'
import type { PlannedChange } from '../parts/ChangeDialog.tsx'
import { FindingCard } from '../parts/FindingCard.tsx'
import { count } from '../parts/words.ts'
import { pageAddress, replaceParams } from '../session/use-route.ts'
import type { Session } from '../session/use-session.ts'
import type { Findings } from '../worker/use-findings.ts'

interface Props {
  readonly session: Session
  readonly found: Findings
  readonly params: URLSearchParams
  readonly plan: (change: PlannedChange) => void
}

const BY = [
  { value: 'cause', label: 'By cause' },
  { value: 'page', label: 'By page' },
  { value: 'step', label: 'By step of work' },
]
const FIRST = 60

/** All conflicts. */
export function FindingsScreen({ session, found, params, plan }: Props) {
  const by = params.get('by') ?? 'cause'
  const severity = params.get('severity') ?? ''
  const shown = useMemo(
    () => found.findings.filter((finding) => severity === '' || finding.severity === severity),
    [found.findings, severity],
  )
  const counts = SEVERITIES.map((name) => count(found.findings.filter((f) => f.severity === name).length, name)).join(
    ', ',
  )
  return (
    <Stack gap="md">
      <Group justify="space-between">
        <Title order={2}>All conflicts</Title>
        <Text size="sm">{found.isCurrent ? counts : ''}</Text>
      </Group>
      <Group align="flex-end">
        <SegmentedControl
          data={BY}
          value={by}
          onChange={(value) => replaceParams({ by: value })}
          aria-label="Sort by"
        />
        <NativeSelect
          aria-label="Severity"
          value={severity}
          onChange={(event) => replaceParams({ severity: event.currentTarget.value || undefined })}
          data={[
            { value: '', label: 'errors, warnings and notes' },
            ...SEVERITIES.map((name) => ({ value: name, label: `${name}s only` })),
          ]}
        />
      </Group>
      <Policies session={session} found={found} />
      {!found.isCurrent ? (
        <Group p="md" role="status">
          <Loader size="sm" />
          <Text>{found.busy}…</Text>
        </Group>
      ) : shown.length === 0 ? (
        <Text p="md">No conflicts found.</Text>
      ) : by === 'page' ? (
        <ByPage findings={shown} session={session} />
      ) : by === 'step' ? (
        STEPS.map((step) => {
          const mine = shown.filter((finding) => stepOf(finding) === step)
          return mine.length === 0 ? null : (
            <section key={step} aria-label={step}>
              <Title order={3} size="h4" mb="xs">
                {step} <Badge className="count">{mine.length}</Badge>
              </Title>
              <Cards findings={mine} plan={plan} />
            </section>
          )
        })
      ) : (
        <Cards findings={shown} plan={plan} />
      )}
    </Stack>
  )
}

function Cards({ findings, plan }: { readonly findings: readonly Finding[]; readonly plan: Props['plan'] }) {
  const [most, setMost] = useState(FIRST)
  return (
    <>
      <Stack gap="xs" component="ul" className="plain-list">
        {findings.slice(0, most).map((finding) => (
          <FindingCard key={finding.key} finding={finding} plan={plan} />
        ))}
      </Stack>
      {findings.length > most && (
        <Button variant="default" mt="sm" onClick={() => setMost(most + 5 * FIRST)}>
          Show more ({findings.length - most} left)
        </Button>
      )}
    </>
  )
}

const PAGES_FIRST = 150

function ByPage({ findings, session }: { readonly findings: readonly Finding[]; readonly session: Session }) {
  const byPage = useMemo(() => {
    const pages = new Map<string, Finding[]>()
    for (const finding of findings)
      for (const page of finding.pages) {
        const mine = pages.get(page) ?? []
        mine.push(finding)
        pages.set(page, mine)
      }
    return [...pages].sort((a, b) => b[1].length - a[1].length)
  }, [findings])
  return (
    <Stack gap={6} component="ul" className="plain-list" aria-label="Pages with these conflicts">
      {byPage.slice(0, PAGES_FIRST).map(([page, mine]) => (
        <Paper key={page} component="li" withBorder p="xs">
          <Group gap="xs">
            <Anchor href={pageAddress(page)} fw={600}>
              {session.resolved.site.pageData(page)?.title ?? page}
            </Anchor>
            <Badge className="count">{mine.length}</Badge>
            <Text size="sm">{[...new Set(mine.map((finding) => finding.rule))].join(', ')}</Text>
          </Group>
        </Paper>
      ))}
      {byPage.length > PAGES_FIRST && (
        <Text size="sm">and {count(byPage.length - PAGES_FIRST, 'more page')}: the table of pages lists all</Text>
      )}
    </Stack>
  )
}

/** The site's policies, and whether they hold. */
function Policies({ session, found }: { readonly session: Session; readonly found: Findings }) {
  const policies = session.resolved.site.data.policies ?? []
  if (policies.length === 0) return null
  return (
    <section aria-label="Policies">
      <Title order={3} size="h4" mb={4}>
        Policies
      </Title>
      <List size="sm" listStyleType="none" spacing={4}>
        {policies.map(({ name }, n) => {
          const broken = found.findings.filter(
            (f) => f.rule === 'policy-broken' && f.at.pointer.startsWith(`/policies/${n}/`),
          )
          const pages = new Set(broken.flatMap((f) => f.pages))
          return (
            <List.Item key={name}>
              <Badge className={!found.isCurrent ? 'count' : broken.length > 0 ? 'broken' : 'kept'} mr={8}>
                {!found.isCurrent ? 'not yet known' : broken.length > 0 ? 'broken' : 'kept'}
              </Badge>
              {name}
              {pages.size > 0 && ` (${[...pages].slice(0, 6).join(', ')})`}
            </List.Item>
          )
        })}
      </List>
    </section>
  )
}

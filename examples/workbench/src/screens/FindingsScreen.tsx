import {
  Alert,
  Anchor,
  Badge,
  Button,
  Code,
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
import { useViewportSize } from '@mantine/hooks'
import { useMemo, useState } from 'react'
import { measurePage, SEVERITIES, STEPS, stepOf, type Finding } from 'wembra'
import { placesOf } from 'wembra/report'
import { Busy } from '../parts/Busy.tsx'
import type { PlannedChange } from '../parts/ChangeDialog.tsx'
import { ConflictList } from '../parts/ConflictList.tsx'
import { Preview } from '../parts/Preview.tsx'
import { count } from '../parts/words.ts'
import { pageAddress, replaceParams } from '../session/use-route.ts'
import type { Session } from '../session/use-session.ts'
import { useDetails, type Findings } from '../worker/use-findings.ts'

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
  const asked = params.get('finding')
  const chosen = by === 'page' ? undefined : (shown.find(({ key }) => key === asked) ?? shown[0])
  const counts = SEVERITIES.map((name) => count(found.findings.filter((f) => f.severity === name).length, name)).join(
    ', ',
  )
  return (
    <Stack gap="md">
      <Group justify="space-between">
        <Title order={2}>Conflicts</Title>
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
      {found.unread && (
        <Alert color="yellow" role="status" title="A font file could not be read">
          <Code>{found.unread}</Code>
        </Alert>
      )}
      <div className={chosen ? 'list-and-page' : undefined}>
        <div>
          {found.problem ? (
            <Alert color="red" role="alert" title={found.problem} />
          ) : !found.isCurrent ? (
            <Busy with={found.busy} p="md" />
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
                  <Cards label={step} findings={mine} plan={plan} found={found} chosen={chosen?.key} />
                </section>
              )
            })
          ) : (
            <Cards label="Conflicts" findings={shown} plan={plan} found={found} chosen={chosen?.key} />
          )}
        </div>
        {chosen && (
          <section aria-label="Where it is" className="where">
            <OnAPage finding={chosen} found={found} session={session} params={params} />
          </section>
        )}
      </div>
    </Stack>
  )
}

/** One of the pages that a conflict is on, with the place on it. */
function OnAPage({
  finding,
  found,
  session,
  params,
}: {
  readonly finding: Finding
  readonly found: Findings
  readonly session: Session
  readonly params: URLSearchParams
}) {
  const { resolved } = session
  const seen = resolved.site.viewports
  const { height } = useViewportSize()
  const asked = params.get('page')
  const id = finding.pages.find((page) => page === asked) ?? finding.pages[0]
  const whole = useDetails(found.whole, finding)
  const viewport = whole?.cases.find((c) => c.page === id)?.viewport ?? finding.viewports[0] ?? seen[0]?.name ?? ''
  const page = id !== undefined && resolved.site.pageData(id) ? resolved.page(id) : undefined
  const areas = useMemo(
    () => (page && !page.dormant ? placesOf(measurePage(page, viewport), whole ?? finding) : []),
    [page, viewport, whole, finding],
  )
  if (!page || page.dormant)
    return <Text c="dimmed">This conflict is about the site as a whole; there is no page to show it on.</Text>
  if (!whole) return <Loader size="sm" aria-label="Looking where it is" />
  return (
    <>
      <Group justify="space-between" mb={8}>
        <Anchor href={pageAddress(page.id, { finding: finding.key, viewport })} fw={600}>
          {page.data.title}
        </Anchor>
        <NativeSelect
          size="xs"
          aria-label="Page of the preview"
          value={page.id}
          onChange={(event) => replaceParams({ page: event.currentTarget.value })}
          data={finding.pages.map((each) => each)}
        />
      </Group>
      <Preview page={page} at={viewport} areas={areas} height={Math.max(300, height - 220)} />
      <Text size="sm" c="dimmed" mt={4}>
        at {viewport}
      </Text>
    </>
  )
}

function Cards({
  label,
  findings,
  plan,
  found,
  chosen,
}: {
  readonly label: string
  readonly findings: readonly Finding[]
  readonly plan: Props['plan']
  readonly found: Findings
  readonly chosen: string | undefined
}) {
  const [most, setMost] = useState(FIRST)
  return (
    <>
      <ConflictList
        label={label}
        findings={findings.slice(0, most)}
        chosen={chosen}
        onChoose={(key) => replaceParams({ finding: key, page: undefined })}
        plan={plan}
        found={found}
      />
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

import { Alert, AppShell, Badge, Group, NavLink, Text, Title } from '@mantine/core'
import { useMemo } from 'react'
import { formatProblem, SiteError } from 'wembra'
import { openDemoSite, type OpenSite } from './demo-site.ts'
import { FindingList } from './FindingList.tsx'
import { PageList } from './PageList.tsx'
import { PageScreen } from './PageScreen.tsx'
import { useFindings } from './use-findings.ts'
import { FINDINGS_ADDRESS, useRoute } from './use-route.ts'

type Opened = { readonly site: OpenSite } | { readonly problems: readonly string[] }

function open(): Opened {
  try {
    return { site: openDemoSite() }
  } catch (error) {
    if (error instanceof SiteError) return { problems: error.problems.map(formatProblem) }
    throw error
  }
}

export function App() {
  const opened = useMemo(open, [])
  return 'site' in opened ? <Workbench site={opened.site} /> : <Problems problems={opened.problems} />
}

/** What stands in the way of opening a site, with places. */
function Problems({ problems }: { readonly problems: readonly string[] }) {
  return (
    <Alert color="red" title="The site file cannot be read" m="xl" role="alert">
      {problems.map((problem) => (
        <Text key={problem} ff="monospace" size="sm">
          {problem}
        </Text>
      ))}
    </Alert>
  )
}

function Workbench({ site }: { readonly site: OpenSite }) {
  const { resolved } = site
  const { findings, isTrying } = useFindings(site)
  const route = useRoute(resolved.pageIds[0] ?? '')
  const current = route.screen === 'page' ? route.page : undefined
  return (
    <AppShell navbar={{ width: 288, breakpoint: 'sm' }} padding="lg">
      <AppShell.Navbar p="md" aria-label="Pages">
        <Title order={1} size="h4">
          {resolved.site.data.site.name}
        </Title>
        <Text size="xs" c="dimmed" mb="sm">
          Wembra workbench
        </Text>
        <NavLink
          href={FINDINGS_ADDRESS}
          active={route.screen === 'findings'}
          label="Everything in conflict"
          rightSection={
            <Badge color={findings.length > 0 ? 'red' : 'teal'} variant="light">
              {findings.length}
            </Badge>
          }
        />
        <Text size="xs" c="dimmed" px="sm" role="status">
          {isTrying ? 'Trying the mends…' : ''}
        </Text>
        <PageList resolved={resolved} findings={findings} current={current} />
      </AppShell.Navbar>
      <AppShell.Main>
        {current === undefined ? (
          <>
            <Group mb="md">
              <Title order={2}>Everything in conflict</Title>
            </Group>
            <FindingList findings={findings} />
          </>
        ) : (
          <PageScreen resolved={resolved} findings={findings} id={current} />
        )}
      </AppShell.Main>
    </AppShell>
  )
}

import { Alert, Group, SegmentedControl, Stack, Text, Title } from '@mantine/core'
import { toJsxRuntime } from 'hast-util-to-jsx-runtime'
import { useMemo, useState } from 'react'
import { Fragment, jsx, jsxs } from 'react/jsx-runtime'
import { measurePage, wireframeTree, type Finding, type ResolvedPage, type ResolvedSite } from 'wembra'
import { FacetTable } from './FacetTable.tsx'
import { FindingList } from './FindingList.tsx'

interface Props {
  readonly resolved: ResolvedSite
  readonly findings: readonly Finding[]
  readonly id: string
}

const ALL = 'all widths'

/** One page: its drawing, what is in conflict on it, and every facet with its chain. */
export function PageScreen({ resolved, findings, id }: Props) {
  if (!resolved.pageIds.includes(id))
    return (
      <Alert color="yellow" title="No such page">
        The site has no page “{id}”. Choose one from the list.
      </Alert>
    )
  const page = resolved.page(id)
  const mine = findings.filter((finding) => finding.pages.includes(id))
  const { template } = page.choice
  return (
    <Stack gap="lg">
      <header>
        <Title order={2}>{page.data.title}</Title>
        <Text c="dimmed">
          {page.facts.path} · {page.facts.kind} · template {template?.data.label ?? template?.id ?? 'none'} (
          {page.choice.because})
        </Text>
      </header>
      {page.dormant ? (
        <Alert title="This page is dormant">Its kind comes from an extension that is off.</Alert>
      ) : (
        <>
          <Drawing page={page} resolved={resolved} />
          <section aria-label="In conflict on this page">
            <Title order={3} size="h4" mb="xs">
              In conflict on this page
            </Title>
            <FindingList findings={mine} page={id} empty="Nothing is in conflict on this page." />
          </section>
          <FacetTable page={page} viewports={resolved.site.viewports} />
        </>
      )}
    </Stack>
  )
}

/** The wireframe at all viewports or at one. */
function Drawing({ page, resolved }: { readonly page: ResolvedPage; readonly resolved: ResolvedSite }) {
  const names = resolved.site.viewports.map((v) => v.name)
  const [chosen, choose] = useState(ALL)
  const drawing = useMemo(() => {
    const measures = (chosen === ALL ? names : [chosen]).map((name) => measurePage(page, name))
    // One viewport alone would be drawn as wide as three; it is kept near the size it has among them.
    const tree = wireframeTree(measures, { width: chosen === ALL ? 1100 : 700, heading: false })
    return toJsxRuntime(tree, { Fragment, jsx, jsxs })
  }, [page, chosen, names.join()])
  return (
    <section aria-label="Drawing">
      <Group justify="space-between" mb={4}>
        <Title order={3} size="h4">
          Where things stand
        </Title>
        <SegmentedControl size="xs" data={[ALL, ...names]} value={chosen} onChange={choose} aria-label="Width" />
      </Group>
      <div className="drawing" data-width={chosen === ALL ? 'all' : 'one'}>
        {drawing}
      </div>
    </section>
  )
}

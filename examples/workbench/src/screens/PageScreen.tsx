import { Alert, Anchor, Button, Group, SegmentedControl, Slider, Stack, Switch, Text, Title } from '@mantine/core'
import type { Remote } from 'comlink'
import { useDeferredValue, useMemo, useState } from 'react'
import { measurePage, type Finding, type ResolvedPage, type ViewportChoice } from 'wembra'
import { drawWireframe, renderHtml, type Mark } from 'wembra/report'
import type { PlannedChange } from '../parts/ChangeDialog.tsx'
import { Drawing } from '../parts/Drawing.tsx'
import { FacetTable } from '../parts/FacetTable.tsx'
import { FindingCard } from '../parts/FindingCard.tsx'
import { Ledger } from '../parts/Ledger.tsx'
import { WaysPanel } from '../parts/WaysPanel.tsx'
import { download } from '../session/open-files.ts'
import { pageAddress, replaceParams } from '../session/use-route.ts'
import type { Session } from '../session/use-session.ts'
import type { Work } from '../worker/site.worker.ts'
import type { Findings } from '../worker/use-findings.ts'

interface Props {
  readonly session: Session
  readonly found: Findings
  readonly id: string
  readonly params: URLSearchParams
  readonly plan: (change: PlannedChange) => void
  readonly ask: () => Promise<Remote<Work>>
}

/** One page: drawn at any width, its conflicts, and every facet with what decides it. */
export function PageScreen({ session, found, id, params, plan, ask }: Props) {
  const { resolved } = session
  const chosen = params.get('finding')
  const sorted = useMemo(() => {
    const mine = found.findings.filter((finding) => finding.pages.includes(id))
    return mine.sort((a, b) => Number(b.key === chosen) - Number(a.key === chosen))
  }, [found.findings, id, chosen])
  if (!resolved.site.pageData(id))
    return (
      <Alert color="yellow" title="No such page">
        The site has no page “{id}”. <Anchor href="#/pages">The table of pages</Anchor> lists them all.
      </Alert>
    )
  const page = resolved.page(id)
  const { template } = page.choice
  const at = resolved.pageIds.indexOf(id)
  const [before, after] = [resolved.pageIds[at - 1], resolved.pageIds[at + 1]]
  return (
    <Stack gap="lg">
      <header>
        <Group justify="space-between" align="flex-start">
          <Title order={2}>{page.data.title}</Title>
          <Group gap="xs" component="nav" aria-label="Other pages">
            {before !== undefined && <Anchor href={pageAddress(before)}>← {before}</Anchor>}
            {after !== undefined && <Anchor href={pageAddress(after)}>{after} →</Anchor>}
          </Group>
        </Group>
        <Text c="dimmed">
          {page.facts.path} · {page.facts.kind} · template {template?.data.label ?? template?.id ?? 'none'} (
          {page.choice.because})
        </Text>
      </header>
      {page.dormant ? (
        <Alert title="This page is dormant">Its kind comes from an extension that is off.</Alert>
      ) : (
        <>
          <Looks page={page} findings={sorted} params={params} />
          <section aria-label="Conflicts on this page">
            <Title order={3} size="h4" mb="xs">
              Conflicts on this page
            </Title>
            {sorted.length === 0 ? (
              <Text c="dimmed">{found.isCurrent ? 'No conflicts found on this page.' : `${found.busy}…`}</Text>
            ) : (
              <Stack gap="xs" component="ul" className="plain-list">
                {sorted.map((finding, n) => (
                  <FindingCard key={finding.key} finding={finding} plan={plan} page={id} number={n + 1} />
                ))}
              </Stack>
            )}
          </section>
          <WaysPanel page={id} session={session} plan={plan} ask={ask} />
          <FacetTable page={page} session={session} plan={plan} />
        </>
      )}
    </Stack>
  )
}

const [NARROWEST, WIDEST] = [320, 1920]
const ALL = 'all'

/** The page drawn, at all viewports or at a width that is dragged. */
function Looks({
  page,
  findings,
  params,
}: {
  readonly page: ResolvedPage
  readonly findings: readonly Finding[]
  readonly params: URLSearchParams
}) {
  const { viewports } = page.site
  const width =
    params.get('width') === null ? undefined : Math.min(WIDEST, Math.max(NARROWEST, Number(params.get('width'))))
  const asked = params.get('viewport')
  const named = width !== undefined ? '' : viewports.some((v) => v.name === asked) ? (asked as string) : ALL
  const [labels, setLabels] = useState(true)
  const [isWritten, setWritten] = useState(false)
  const [box, setBox] = useState<string>()
  // The drawing follows the slider, and lets it go first.
  const shown = useDeferredValue(width ?? named)
  const at = useMemo((): readonly ViewportChoice[] => {
    if (typeof shown === 'number')
      return [{ width: shown, height: viewports.find((v) => v.width <= shown)?.height ?? 800 }]
    return viewports.filter((v) => shown === ALL || v.name === shown).map((v) => v.name)
  }, [shown, viewports])
  const one = at.length === 1 ? at[0] : undefined
  const marks = useMemo(() => marksOf(page, findings), [page, findings])
  const value = width ?? viewports.find((v) => v.name === named)?.width ?? viewports[0]?.width ?? WIDEST
  return (
    <section aria-label="Drawing">
      <Group justify="space-between" mb={6}>
        <Title order={3} size="h4">
          Boxes
        </Title>
        <Group gap="md">
          <SegmentedControl
            size="xs"
            data={[{ value: ALL, label: 'all widths' }, ...viewports.map(({ name }) => ({ value: name, label: name }))]}
            value={named}
            onChange={(name) => replaceParams({ viewport: name, width: undefined })}
            aria-label="Viewport"
          />
          <Switch
            size="xs"
            label="Measures"
            checked={labels}
            onChange={(event) => setLabels(event.currentTarget.checked)}
          />
          <Switch
            size="xs"
            label="Preview"
            checked={isWritten}
            onChange={(event) => setWritten(event.currentTarget.checked)}
          />
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => download(`${page.id}.svg`, svgOf(page, at), 'image/svg+xml')}
          >
            SVG
          </Button>
          <Button size="compact-xs" variant="default" onClick={() => void savePng(page, at)}>
            PNG
          </Button>
        </Group>
      </Group>
      <Group gap="md" mb={10} wrap="nowrap">
        <Text size="sm" w={84} className="width-shown">
          {Math.round(value)} px
        </Text>
        <Slider
          flex={1}
          min={NARROWEST}
          max={WIDEST}
          value={value}
          onChange={(next) => replaceParams({ width: next, viewport: undefined })}
          label={null}
          thumbLabel="Width of the window"
          marks={viewports.map((v) => ({ value: v.width }))}
        />
      </Group>
      <div className={isWritten && one !== undefined ? 'side-by-side' : undefined}>
        {/* A click on a box is for the pointer alone: the list below does the same by keyboard. */}
        <div
          onClick={(event) => {
            const found = (event.target as Element).getAttribute('data-box')
            if (found) setBox(found)
          }}
        >
          <Drawing
            page={page}
            at={at}
            labels={labels}
            marks={marks}
            width={isWritten ? 620 : one === undefined ? 1100 : 860}
          />
        </div>
        {isWritten && one !== undefined && <WrittenOut page={page} at={one} />}
      </div>
      {isWritten && one === undefined && <Text size="sm">Choose one viewport to see the page itself beside it.</Text>}
      <Ledger page={page} at={one ?? (viewports[0]?.name as string)} box={box} onBox={setBox} />
    </section>
  )
}

/** The page as plain HTML, in a frame that may do nothing. */
function WrittenOut({ page, at }: { readonly page: ResolvedPage; readonly at: ViewportChoice }) {
  const measure = useMemo(() => measurePage(page, at), [page, at])
  const html = useMemo(() => renderHtml(measure), [measure])
  const { width } = measure.viewport
  const scale = Math.min(1, 560 / width)
  return (
    <div className="written-out" style={{ height: (measure.box('page')?.height ?? 600) * scale }}>
      <iframe
        title={`${page.data.title}, preview`}
        sandbox=""
        srcDoc={html}
        style={{ width, height: measure.box('page')?.height ?? 600, transform: `scale(${scale})` }}
      />
    </div>
  )
}

/** Where on the drawing each finding belongs: the section its cause is in, else its facet. */
function marksOf(page: ResolvedPage, findings: readonly Finding[]): readonly Mark[] {
  return findings.flatMap(({ at, facet }, n): Mark[] => {
    const [section, id, key, index] = at.pointer.split('/').slice(1)
    const body =
      section === 'pages' && id === page.id && key === 'body' ? page.data.body?.[Number(index)]?.section : undefined
    const box = body !== undefined ? `section:${body}` : BOX_OF[facet]
    return box === undefined ? [] : [{ box, number: n + 1 }]
  })
}

const BOX_OF: Readonly<Record<string, string>> = {
  header: 'header',
  footer: 'footer',
  title: 'title',
  byline: 'byline',
  leadImage: 'leadImage',
  sidebar: 'sidebar',
  width: 'container',
  spacing: 'main',
  comments: 'comments',
}

const svgOf = (page: ResolvedPage, at: readonly ViewportChoice[]): string =>
  drawWireframe(at.map((viewport) => measurePage(page, viewport)))

async function savePng(page: ResolvedPage, at: readonly ViewportChoice[]): Promise<void> {
  const image = new Image()
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svgOf(page, at))}`
  await image.decode()
  const canvas = document.createElement('canvas')
  canvas.width = image.naturalWidth
  canvas.height = image.naturalHeight
  canvas.getContext('2d')?.drawImage(image, 0, 0)
  canvas.toBlob((blob) => blob && download(`${page.id}.png`, blob))
}

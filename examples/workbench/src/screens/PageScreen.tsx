import { Alert, Anchor, Button, Group, Menu, SegmentedControl, Slider, Stack, Switch, Text, Title } from '@mantine/core'
import { useViewportSize } from '@mantine/hooks'
import type { Remote } from 'comlink'
import { useCallback, useDeferredValue, useMemo, useState } from 'react'
import { measurePage, type Finding, type ResolvedPage, type Viewport, type ViewportChoice } from 'wembra'
import { drawWireframe, placesOf, renderHtml } from 'wembra/report'
import type { PlannedChange } from '../parts/ChangeDialog.tsx'
import { ConflictList } from '../parts/ConflictList.tsx'
import { FacetRows } from '../parts/FacetRows.tsx'
import { FacetTable } from '../parts/FacetTable.tsx'
import { Ledger } from '../parts/Ledger.tsx'
import { Picture } from '../parts/Picture.tsx'
import { Preview } from '../parts/Preview.tsx'
import { RealPage } from '../parts/RealPage.tsx'
import { WaysPanel } from '../parts/WaysPanel.tsx'
import { count } from '../parts/words.ts'
import type { DrawPage } from '../session/draw.ts'
import { download } from '../session/open-files.ts'
import { pageAddress, replaceParams } from '../session/use-route.ts'
import type { Session } from '../session/use-session.ts'
import type { Work } from '../worker/site.worker.ts'
import { useDetails, type Findings } from '../worker/use-findings.ts'

interface Props {
  readonly session: Session
  readonly found: Findings
  readonly id: string
  readonly params: URLSearchParams
  readonly plan: (change: PlannedChange) => void
  readonly ask: () => Promise<Remote<Work>>
  readonly draw: DrawPage
}

/** One page as a visitor sees it, its conflicts on it, and every facet with what decides it. */
export function PageScreen({ session, found, id, params, plan, ask, draw }: Props) {
  const { resolved } = session
  const mine = useMemo(() => found.findings.filter((finding) => finding.pages.includes(id)), [found.findings, id])
  const chosen = params.get('finding') ?? undefined
  const pointed = mine.find(({ key }) => key === chosen)
  const whole = useDetails(found.whole, pointed)
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
  const facet = params.get('facet') ?? undefined
  const { viewports } = resolved.site
  const viewport = (viewports.find(({ name }) => name === params.get('viewport')) ?? viewports[0])?.name ?? ''
  return (
    <Stack gap="lg">
      <header className="page-head">
        <div>
          <Title order={2}>{page.data.title}</Title>
          <Text c="dimmed" size="sm">
            {page.facts.path} · {page.facts.kind} · template {template?.data.label ?? template?.id ?? 'none'} (
            {page.choice.because})
          </Text>
        </div>
        <Group gap="xs" component="nav" aria-label="Other pages">
          {before !== undefined && <Anchor href={pageAddress(before)}>← {before}</Anchor>}
          {after !== undefined && <Anchor href={pageAddress(after)}>{after} →</Anchor>}
        </Group>
      </header>
      {page.dormant ? (
        <Alert title="This page is dormant">Its kind comes from an extension that is off.</Alert>
      ) : (
        <>
          <div className="stage-and-side">
            <Stage
              page={page}
              finding={whole ?? pointed}
              params={params}
              draw={draw}
              hasReal={session.project.live === true}
            />
            <div className="side">
              <section aria-label="Conflicts on this page">
                <Title order={3} size="h5" mb={6}>
                  {mine.length > 0 ? count(mine.length, 'conflict') : 'Conflicts'}
                </Title>
                {mine.length === 0 ? (
                  <Text c="dimmed" size="sm">
                    {found.isCurrent ? 'No conflicts found on this page.' : found.problem || `${found.busy}…`}
                  </Text>
                ) : (
                  <ConflictList
                    label="Conflicts, one of them shown on the preview"
                    findings={mine}
                    chosen={chosen}
                    onChoose={(key) => replaceParams({ finding: key })}
                    plan={plan}
                    found={found}
                    page={id}
                  />
                )}
              </section>
            </div>
          </div>
          <section aria-label="Six facets">
            <Title order={3} size="h4" mb="xs">
              What it gets
            </Title>
            <FacetRows page={page} chosen={facet} onChoose={(next) => replaceParams({ facet: next })} />
          </section>
          <FacetTable page={page} session={session} plan={plan} viewport={viewport} facet={facet} />
          <WaysPanel page={id} session={session} plan={plan} ask={ask} />
        </>
      )}
    </Stack>
  )
}

const [NARROWEST, WIDEST] = [320, 1920]
/** Px of the window that bar, page head and tools take above the preview. */
const ABOVE = 250

/** The page at one width, large, and at the other viewports beside it. */
function Stage({
  page,
  finding,
  params,
  draw,
  hasReal,
}: {
  readonly page: ResolvedPage
  readonly finding: Finding | undefined
  readonly params: URLSearchParams
  readonly draw: DrawPage
  /** Whether the real page can be looked at. */
  readonly hasReal: boolean
}) {
  const { viewports } = page.site
  const dragged = params.get('width')
  const width = dragged === null ? undefined : Math.min(WIDEST, Math.max(NARROWEST, Number(dragged) || NARROWEST))
  const asked = params.get('viewport')
  const holds = finding?.viewports[0]
  const named =
    width !== undefined ? '' : (viewports.find((v) => v.name === asked)?.name ?? holds ?? viewports[0]?.name ?? '')
  const [boxes, setBoxes] = useState(false)
  const [isReal, setReal] = useState(false)
  const [box, setBox] = useState<string>()
  // The preview follows the slider, and lets it go first.
  const shown = useDeferredValue(width ?? named)
  const at = useMemo(
    (): ViewportChoice =>
      typeof shown === 'number'
        ? { width: shown, height: viewports.find((v) => v.width <= shown)?.height ?? 800 }
        : shown,
    [shown, viewports],
  )
  const areas = useMemo(() => {
    const measure = measurePage(page, at)
    const pointed = box === undefined ? undefined : measure.box(box)
    if (pointed) return [{ ...pointed, label: pointed.id, look: 'frame' as const }]
    return finding ? placesOf(measure, finding) : []
  }, [page, at, finding, box])
  const value = width ?? viewports.find((v) => v.name === named)?.width ?? WIDEST
  const { height } = useViewportSize()
  return (
    <section aria-label="Preview" className="stage">
      <Group justify="space-between" mb={8} gap="sm">
        <SegmentedControl
          size="xs"
          data={viewports.map((v) => ({ value: v.name, label: `${v.name} ${v.width}` }))}
          value={named}
          onChange={(name) => replaceParams({ viewport: name, width: undefined })}
          aria-label="Viewport"
        />
        <Group gap="md">
          <Switch
            size="xs"
            label="Boxes and measures"
            checked={boxes}
            onChange={(event) => setBoxes(event.currentTarget.checked)}
          />
          {hasReal && (
            <Switch
              size="xs"
              label="Real page"
              checked={isReal}
              onChange={(event) => setReal(event.currentTarget.checked)}
            />
          )}
          <SaveAs page={page} at={at} />
        </Group>
      </Group>
      <Group gap="md" mb={10} wrap="nowrap">
        <Text size="sm" w={64} className="width-shown">
          {Math.round(value)} px
        </Text>
        <Slider
          flex={1}
          size="sm"
          min={NARROWEST}
          max={WIDEST}
          value={value}
          onChange={(next) => replaceParams({ width: next, viewport: undefined })}
          label={null}
          thumbLabel="Width of the window"
          marks={viewports.map((v) => ({ value: v.width }))}
        />
      </Group>
      <div className={isReal ? 'stage-views is-compared' : 'stage-views'}>
        <Preview page={page} at={at} areas={areas} boxes={boxes} height={Math.max(320, height - ABOVE)} />
        {isReal ? <RealPage page={page.id} viewport={named} /> : <Others page={page} named={named} draw={draw} />}
      </div>
      <Ledger page={page} at={at} box={box} onBox={setBox} />
    </section>
  )
}

/** The page at the other viewports, small; a click makes one the large one. */
function Others({
  page,
  named,
  draw,
}: {
  readonly page: ResolvedPage
  readonly named: string
  readonly draw: DrawPage
}) {
  const others = page.site.viewports.filter(({ name }) => name !== named)
  return (
    <div className="others" role="group" aria-label="The page at other widths">
      {others.map((viewport) => (
        <Other key={viewport.name} page={page} viewport={viewport} draw={draw} />
      ))}
    </div>
  )
}

function Other({
  page,
  viewport,
  draw,
}: {
  readonly page: ResolvedPage
  readonly viewport: Viewport
  readonly draw: DrawPage
}) {
  const picture = useCallback(() => draw(page, viewport.name), [draw, page, viewport.name])
  return (
    <button
      type="button"
      className="other"
      onClick={() => replaceParams({ viewport: viewport.name, width: undefined })}
    >
      <Picture label="" viewport={viewport} draw={picture} />
      <span>
        {viewport.name} {viewport.width}
      </span>
    </button>
  )
}

/** What can be handed on of a page. */
function SaveAs({ page, at }: { readonly page: ResolvedPage; readonly at: ViewportChoice }) {
  return (
    <Menu position="bottom-end" keepMounted>
      <Menu.Target>
        <Button size="compact-xs" variant="default">
          Download
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => download(`${page.id}.html`, renderHtml(measurePage(page, at)), 'text/html')}>
          The page (HTML)
        </Menu.Item>
        <Menu.Item onClick={() => download(`${page.id}.svg`, svgOf(page), 'image/svg+xml')}>Wireframes (SVG)</Menu.Item>
        <Menu.Item onClick={() => void savePng(page)}>Wireframes (PNG)</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  )
}

const svgOf = (page: ResolvedPage): string =>
  drawWireframe(page.site.viewports.map(({ name }) => measurePage(page, name)))

async function savePng(page: ResolvedPage): Promise<void> {
  const image = new Image()
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svgOf(page))}`
  await image.decode()
  const canvas = document.createElement('canvas')
  canvas.width = image.naturalWidth
  canvas.height = image.naturalHeight
  canvas.getContext('2d')?.drawImage(image, 0, 0)
  canvas.toBlob((blob) => blob && download(`${page.id}.png`, blob))
}

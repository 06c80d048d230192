import { Group, NativeSelect, SegmentedControl, Text, TextInput, Title } from '@mantine/core'
import { useVirtualizer } from '@tanstack/react-virtual'
import type { Remote } from 'comlink'
import { memo, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react'
import {
  facetRecord,
  pagesWhere,
  parseSelector,
  SelectorError,
  type Finding,
  type LayoutGroup,
  type ResolvedPage,
  type ResolvedSite,
} from 'wembra'
import { Busy } from '../parts/Busy.tsx'
import { ContactSheet, type SheetGroup } from '../parts/ContactSheet.tsx'
import { count, shortFacets } from '../parts/words.ts'
import type { DrawPage } from '../session/draw.ts'
import { pageAddress, replaceParams } from '../session/use-route.ts'
import type { Session } from '../session/use-session.ts'
import type { Work } from '../worker/site.worker.ts'
import type { Findings } from '../worker/use-findings.ts'
import { useReadyPages, type ReadyPages } from './use-ready-pages.ts'

interface Props {
  readonly session: Session
  readonly found: Findings
  readonly params: URLSearchParams
  readonly draw: DrawPage
  readonly ask: () => Promise<Remote<Work>>
}

const ROW = 44
const COLUMNS = [
  'Page',
  'Kind',
  'Template',
  'Header',
  'Footer',
  'Title',
  'Sidebar',
  'Width',
  'Space',
  'Conflicts',
] as const

type Row = { readonly group: string } | { readonly page: ResolvedPage }

/** What pages are grouped by. */
const GROUPS = [
  { value: '', label: 'not grouped' },
  { value: 'template', label: 'template' },
  { value: 'kind', label: 'kind' },
  { value: 'layout', label: 'identical layout' },
  { value: 'conflict', label: 'conflict' },
]

/** All pages at once: as they look, or by what they get. */
export function PagesScreen({ session, ...rest }: Props) {
  const ready = useReadyPages(session.resolved)
  if (!ready) return <Busy with="Going through the pages" />
  return <Pages {...ready} {...rest} />
}

function Pages({ resolved, pages, found, params, draw, ask }: Omit<Props, 'session'> & ReadyPages) {
  const viewports = resolved.site.viewports.map((v) => v.name)
  const viewport = params.get('viewport') ?? viewports[0] ?? ''
  const words = params.get('find') ?? ''
  const [kind, template, rule] = [params.get('kind') ?? '', params.get('template') ?? '', params.get('rule') ?? '']
  const by = params.get('group') ?? ''
  const isTable = params.get('as') === 'table'
  const wanted = useDeferredValue(words)
  useEffect(() => void performance.mark('wembra-shown'), [pages])
  useEffect(() => (isTable ? workAhead(pages) : undefined), [pages, isTable])
  const byPage = useMemo(() => countByPage(found.findings), [found.findings])
  const asked = useMemo(() => search(resolved, pages, wanted), [resolved, pages, wanted])
  const shown = useMemo(() => {
    const holds =
      rule === '' ? undefined : new Set(found.findings.filter((f) => f.rule === rule).flatMap((f) => f.pages))
    return asked.pages.filter(
      (page) =>
        (kind === '' || page.facts.kind === kind) &&
        (template === '' || (page.choice.template?.id ?? 'none') === template) &&
        (!holds || holds.has(page.id)),
    )
  }, [asked, kind, template, rule, found.findings])
  const layouts = useLayouts(ask, by === 'layout')
  const groups = useMemo(() => grouped(shown, by, found.findings, layouts), [shown, by, found.findings, layouts])
  const rows = useMemo(
    () =>
      groups.flatMap(({ heading, pages: mine }): Row[] => [
        ...(heading === undefined ? [] : [{ group: heading }]),
        ...mine.map((page): Row => ({ page })),
      ]),
    [groups],
  )
  const odd = useMemo(
    () => new Set(found.findings.filter((f) => f.rule === 'odd-one-out').flatMap((f) => f.pages)),
    [found.findings],
  )
  const seen = resolved.site.viewports.find((each) => each.name === viewport) ?? resolved.site.viewports[0]
  const kinds = useMemo(() => [...new Set(pages.map((page) => page.facts.kind))], [pages])
  const rules = useMemo(
    () => [...new Set(found.findings.filter((f) => f.pages.length > 0).map((f) => f.rule))].sort(),
    [found.findings],
  )
  return (
    <>
      <Group justify="space-between" mb="sm">
        <Title order={2}>Pages</Title>
        <Text size="sm" role="status" aria-label="Pages shown">
          {shown.length === pages.length
            ? count(pages.length, 'page')
            : `${shown.length} of ${count(pages.length, 'page')}`}
        </Text>
      </Group>
      <Group align="flex-end" mb="sm" gap="sm">
        <TextInput
          type="search"
          label="Find"
          placeholder="words, or kind=article,tag=meteors"
          w={280}
          value={words}
          error={asked.problem}
          onChange={(event) => replaceParams({ find: event.currentTarget.value || undefined })}
        />
        <NativeSelect
          label="Kind"
          value={kind}
          onChange={(event) => replaceParams({ kind: event.currentTarget.value || undefined })}
          data={[
            { value: '', label: 'any' },
            ...kinds.map((id) => ({ value: id, label: resolved.site.data.kinds?.[id]?.label ?? id })),
          ]}
        />
        <NativeSelect
          label="Template"
          value={template}
          onChange={(event) => replaceParams({ template: event.currentTarget.value || undefined })}
          data={[{ value: '', label: 'any' }, 'none', ...Object.keys(resolved.site.data.templates ?? {})]}
        />
        <NativeSelect
          label="Conflicts"
          value={rule}
          onChange={(event) => replaceParams({ rule: event.currentTarget.value || undefined })}
          data={[{ value: '', label: 'any' }, ...rules]}
        />
        <NativeSelect
          label="Viewport"
          value={viewport}
          onChange={(event) => replaceParams({ viewport: event.currentTarget.value })}
          data={resolved.site.viewports.map(({ name, width }) => ({ value: name, label: `${name}, ${width} px` }))}
        />
        <NativeSelect
          label="Group by"
          value={by}
          onChange={(event) => replaceParams({ group: event.currentTarget.value || undefined })}
          data={GROUPS}
        />
        <SegmentedControl
          ml="auto"
          aria-label="Show pages as"
          data={[
            { value: 'previews', label: 'Previews' },
            { value: 'table', label: 'Table' },
          ]}
          value={isTable ? 'table' : 'previews'}
          onChange={(value) => replaceParams({ as: value === 'table' ? 'table' : undefined })}
        />
      </Group>
      {shown.length === 0 ? (
        <Text c="dimmed" p="md">
          No page matches. Remove a filter.
        </Text>
      ) : isTable || !seen ? (
        <PageTable rows={rows} viewport={viewport} byPage={byPage} />
      ) : (
        <ContactSheet
          groups={groups}
          viewport={seen}
          draw={draw}
          conflicts={found.isCurrent ? byPage : undefined}
          odd={odd}
        />
      )}
    </>
  )
}

/** Works facets out while nothing else is to be done, so that rows which scroll into sight are ready. */
function workAhead(pages: readonly ResolvedPage[]): () => void {
  let next = 0
  let handle = 0
  const some = (deadline: IdleDeadline): void => {
    for (; next < pages.length && deadline.timeRemaining() > 3; next++) {
      const page = pages[next]
      if (page && !page.dormant) facetRecord(page)
    }
    if (next < pages.length) handle = requestIdleCallback(some)
  }
  handle = requestIdleCallback(some)
  return () => cancelIdleCallback(handle)
}

/** Pages by a selector, else by their words. */
function search(resolved: ResolvedSite, pages: readonly ResolvedPage[], words: string) {
  const text = words.trim()
  if (text === '') return { pages }
  if (/^\w+=/.test(text)) {
    try {
      return { pages: pagesWhere(resolved, parseSelector(text)) }
    } catch (error) {
      if (!(error instanceof SelectorError)) throw error
      return { pages, problem: error.message }
    }
  }
  const wanted = text.toLowerCase().split(/\s+/)
  return {
    pages: pages.filter(({ id, data: { title, tags = [] }, facts }) => {
      const all = [id, title, facts.path, facts.kind, ...tags].join(' ').toLowerCase()
      return wanted.every((word) => all.includes(word))
    }),
  }
}

/** Pages by what they get: all of every page is compared, which is done beside the page. */
function useLayouts(ask: Props['ask'], isAsked: boolean): readonly LayoutGroup[] | undefined {
  const [known, setKnown] = useState<{ readonly of: Props['ask']; readonly layouts: readonly LayoutGroup[] }>()
  useEffect(() => {
    if (!isAsked) return undefined
    let isOver = false
    void ask()
      .then((work) => work.layouts())
      .then((layouts) => !isOver && setKnown({ of: ask, layouts }))
      .catch(() => undefined)
    return () => {
      isOver = true
    }
  }, [ask, isAsked])
  return known?.of === ask ? known.layouts : undefined
}

function grouped(
  shown: readonly ResolvedPage[],
  by: string,
  findings: readonly Finding[],
  layouts: readonly LayoutGroup[] | undefined,
): readonly SheetGroup[] {
  switch (by) {
    case 'layout':
      return layouts ? byLayout(layouts, shown) : [{ heading: 'Comparing the pages…', pages: shown }]
    case 'template':
      return byWord(shown, (page) => page.choice.template?.id ?? 'none', 'Template')
    case 'kind':
      return byWord(shown, (page) => page.facts.kind, 'Kind')
    case 'conflict':
      return byConflict(shown, findings)
    default:
      return [{ pages: shown }]
  }
}

function groupedBy(
  shown: readonly ResolvedPage[],
  word: (page: ResolvedPage) => string,
): ReadonlyMap<string, readonly ResolvedPage[]> {
  const groups = new Map<string, ResolvedPage[]>()
  for (const page of shown) {
    const group = groups.get(word(page))
    if (group) group.push(page)
    else groups.set(word(page), [page])
  }
  return groups
}

/** The largest group first; one of a single page is easily the odd one. */
function byWord(
  shown: readonly ResolvedPage[],
  word: (page: ResolvedPage) => string,
  what: string,
): readonly SheetGroup[] {
  const groups = groupedBy(shown, word)
  return [...groups]
    .sort((a, b) => b[1].length - a[1].length)
    .map(([name, pages]) => ({ heading: `${what} ${name}: ${count(pages.length, 'page')}`, pages }))
}

function byConflict(shown: readonly ResolvedPage[], findings: readonly Finding[]): readonly SheetGroup[] {
  const rules = new Map<string, Set<string>>()
  for (const { rule, pages } of findings) {
    const known = rules.get(rule) ?? new Set<string>()
    rules.set(rule, known)
    for (const page of pages) known.add(page)
  }
  const groups = [...rules].flatMap(([rule, ids]) => {
    const pages = shown.filter(({ id }) => ids.has(id))
    return pages.length > 0 ? [{ heading: `${rule}: ${count(pages.length, 'page')}`, pages }] : []
  })
  const free = shown.filter(({ id }) => [...rules.values()].every((ids) => !ids.has(id)))
  return [
    ...groups,
    ...(free.length > 0 ? [{ heading: `No conflict: ${count(free.length, 'page')}`, pages: free }] : []),
  ]
}

function byLayout(layouts: readonly LayoutGroup[], shown: readonly ResolvedPage[]): readonly SheetGroup[] {
  const wanted = new Map(shown.map((page) => [page.id, page]))
  return layouts.flatMap(({ pages, nearest }, n): SheetGroup[] => {
    const mine = pages.flatMap((id) => wanted.get(id) ?? [])
    if (mine.length === 0) return []
    const apart = nearest
      ? `; nearest to group ${nearest.group + 1}, which differs in ${nearest.differ.slice(0, 3).join(', ')}`
      : ''
    return [{ heading: `Group ${n + 1}: ${count(mine.length, 'page')} with one layout${apart}`, pages: mine }]
  })
}

function countByPage(findings: readonly Finding[]): ReadonlyMap<string, number> {
  const counts = new Map<string, number>()
  for (const finding of findings) for (const page of finding.pages) counts.set(page, (counts.get(page) ?? 0) + 1)
  return counts
}

/** Only the rows in sight are in the document, so that ten thousand pages scroll like ten. */
function PageTable({
  rows,
  viewport,
  byPage,
}: {
  readonly rows: readonly Row[]
  readonly viewport: string
  readonly byPage: ReadonlyMap<string, number>
}) {
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 8,
    useFlushSync: false,
  })
  return (
    <div
      className="page-table"
      role="table"
      aria-label="Pages"
      aria-rowcount={rows.length + 1}
      aria-colcount={COLUMNS.length}
    >
      <div ref={scroller} className="page-rows" tabIndex={0} role="rowgroup">
        <div role="row" className="page-row head" aria-rowindex={1}>
          {COLUMNS.map((name) => (
            <div key={name} role="columnheader">
              {name}
            </div>
          ))}
        </div>
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }} role="presentation">
          {virtual.getVirtualItems().map(({ index, start }) => {
            const row = rows[index]
            if (!row) return null
            return (
              <div
                key={index}
                role="row"
                aria-rowindex={index + 2}
                className={`page-row ${'group' in row ? 'group' : ''}`}
                style={{ position: 'absolute', top: 0, transform: `translateY(${start}px)`, height: ROW }}
              >
                {'group' in row ? (
                  <div role="cell" aria-colspan={COLUMNS.length}>
                    {row.group}
                  </div>
                ) : (
                  <PageCells page={row.page} viewport={viewport} found={byPage.get(row.page.id) ?? 0} />
                )}
              </div>
            )
          })}
        </div>
      </div>
    </div>
  )
}

const PageCells = memo(function PageCells({
  page,
  viewport,
  found,
}: {
  readonly page: ResolvedPage
  readonly viewport: string
  readonly found: number
}) {
  const { data, facts, choice, id } = page
  const cells = page.dormant ? ['dormant', '', '', '', '', ''] : shortFacets(facetRecord(page)[viewport] ?? {})
  const template = choice.template?.id ?? 'none'
  return (
    <>
      <div role="cell">
        <a href={pageAddress(id)} title={`${data.title} ${facts.path}`}>
          {data.title}
        </a>
      </div>
      {[facts.kind, template, ...cells].map((text, n) => (
        <div key={n} role="cell" title={text}>
          {text}
        </div>
      ))}
      <div role="cell">{found > 0 ? <span className="count small">{found}</span> : ''}</div>
    </>
  )
})

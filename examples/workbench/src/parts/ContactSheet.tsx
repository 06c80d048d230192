import { useElementSize } from '@mantine/hooks'
import { useVirtualizer } from '@tanstack/react-virtual'
import { memo, useCallback, useMemo, useRef } from 'react'
import type { ResolvedPage, Viewport } from 'wembra'
import type { DrawPage } from '../session/draw.ts'
import { pageAddress } from '../session/use-route.ts'
import { Picture } from './Picture.tsx'
import { count } from './words.ts'

/** Pages under a heading, or all of them without one. */
export interface SheetGroup {
  readonly heading?: string
  readonly pages: readonly ResolvedPage[]
}

interface Props {
  readonly groups: readonly SheetGroup[]
  readonly viewport: Viewport
  readonly draw: DrawPage
  /** How many each page has; `undefined` while they are looked for. */
  readonly conflicts: ReadonlyMap<string, number> | undefined
  /** Pages that differ from most pages of their kind. */
  readonly odd: ReadonlySet<string>
}

/** Cards are about so wide, whatever the room, in px: a page is recognized at a fifth of its size. */
const CARD = 236
const NARROW_CARD = 132
const GAP = 16
/** Px of a card below its picture: title and marks. */
const CAPTION = 62
const HEADING = 44

type Line = { readonly heading: string } | { readonly pages: readonly ResolvedPage[] }

/** All pages as they look, in rows; only the rows in sight are in the document and drawn. */
export function ContactSheet({ groups, viewport, draw, conflicts, odd }: Props) {
  // Of what is in it: a scroll bar takes its room from that.
  const { ref: inside, width } = useElementSize<HTMLDivElement>()
  const scroller = useRef<HTMLDivElement>(null)
  const isTall = viewport.height > viewport.width
  const across = Math.max(1, Math.floor((width + GAP) / ((isTall ? NARROW_CARD : CARD) + GAP)))
  const card = Math.max(80, (width - GAP * (across - 1)) / across)
  const lines = useMemo(
    () =>
      groups.flatMap(({ heading, pages }): Line[] => [
        ...(heading === undefined ? [] : [{ heading }]),
        ...Array.from({ length: Math.ceil(pages.length / across) }, (_, n) => ({
          pages: pages.slice(n * across, (n + 1) * across),
        })),
      ]),
    [groups, across],
  )
  const tall = (card * viewport.height) / viewport.width + CAPTION + GAP
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: useCallback((n: number) => (lines[n] && 'heading' in lines[n] ? HEADING : tall), [lines, tall]),
    overscan: 1,
    useFlushSync: false,
  })
  useMemo(() => virtual.measure(), [virtual, tall, lines])
  return (
    <div ref={scroller} className="sheet" role="list" aria-label="Pages as they look" tabIndex={0}>
      <div ref={inside} style={{ height: virtual.getTotalSize(), position: 'relative' }} role="presentation">
        {virtual.getVirtualItems().map(({ index, start }) => {
          const line = lines[index]
          if (!line) return null
          const place = {
            position: 'absolute',
            top: 0,
            left: 0,
            right: 0,
            transform: `translateY(${start}px)`,
          } as const
          if ('heading' in line)
            return (
              <div key={index} style={{ ...place, height: HEADING }} className="sheet-heading" role="presentation">
                {line.heading}
              </div>
            )
          return (
            <div key={index} style={place} className="sheet-row" role="presentation">
              {line.pages.map((page) => (
                <Card
                  key={page.id}
                  page={page}
                  viewport={viewport}
                  width={card}
                  draw={draw}
                  found={conflicts && (conflicts.get(page.id) ?? 0)}
                  isOdd={odd.has(page.id)}
                />
              ))}
            </div>
          )
        })}
      </div>
    </div>
  )
}

const Card = memo(function Card({
  page,
  viewport,
  width,
  draw,
  found,
  isOdd,
}: {
  readonly page: ResolvedPage
  readonly viewport: Viewport
  readonly width: number
  readonly draw: DrawPage
  readonly found: number | undefined
  readonly isOdd: boolean
}) {
  const picture = useCallback(() => draw(page, viewport.name), [draw, page, viewport.name])
  const { title } = page.data
  return (
    <div role="listitem" className="card" style={{ width }}>
      <a href={pageAddress(page.id, { viewport: viewport.name })} title={`${title} ${page.facts.path}`}>
        {page.dormant ? (
          <span className="picture is-empty" style={{ aspectRatio: `${viewport.width} / ${viewport.height}` }}>
            dormant
          </span>
        ) : (
          <Picture label="" viewport={viewport} draw={picture} />
        )}
        <span className="card-title">{title}</span>
      </a>
      <span className="card-marks">
        {found === undefined ? (
          <span className="mark">…</span>
        ) : found > 0 ? (
          <span className="mark is-conflict">{count(found, 'conflict')}</span>
        ) : (
          <span className="mark">no conflict</span>
        )}
        {isOdd && <span className="mark is-odd">differs from its kind</span>}
        {page.data.status === 'draft' && <span className="mark">draft</span>}
      </span>
    </div>
  )
})

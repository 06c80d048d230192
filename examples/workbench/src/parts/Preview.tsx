import { useElementSize } from '@mantine/hooks'
import { memo, useEffect, useMemo, useRef, useState } from 'react'
import { measurePage, type ResolvedPage, type ViewportChoice } from 'wembra'
import { fontFace, previewHtml, type Area } from 'wembra/report'

interface Props {
  readonly page: ResolvedPage
  readonly at: ViewportChoice
  /** What is pointed at; the first is scrolled to. */
  readonly areas?: readonly Area[]
  readonly boxes?: boolean
  /** Px of the screen that the preview may take. */
  readonly height: number
  /** What people are told that it is. */
  readonly what?: string
}

/** What of a document's head stays when another page comes into it. */
const FONT_SHEET = 'style[data-font]'

/** Puts another page into a document, in its place and beside its font. */
function replacePage(document: Document, next: Document): void {
  document.documentElement.lang = next.documentElement.lang
  for (const child of [...document.head.children]) if (!child.matches(FONT_SHEET)) child.remove()
  document.head.prepend(...[...next.head.children].map((child) => document.adoptNode(child)))
  document.body.replaceWith(document.adoptNode(next.body))
}

/** Sets the font of the pages in a document. */
function setFont(document: Document, face: string | undefined): void {
  document.head.querySelector(FONT_SHEET)?.remove()
  if (face === undefined) return
  const sheet = document.createElement('style')
  sheet.dataset['font'] = ''
  sheet.textContent = face
  document.head.append(sheet)
}

const NO_AREAS: readonly Area[] = []

/** The page as a visitor sees it in a window of that width, in true proportion and as large as there is room. */
export const Preview = memo(function Preview({
  page,
  at,
  areas = NO_AREAS,
  boxes = false,
  height,
  what = 'Preview of',
}: Props) {
  const { ref, width: room } = useElementSize()
  const frame = useRef<HTMLIFrameElement>(null)
  const [isLoaded, setLoaded] = useState(false)
  const measure = useMemo(() => measurePage(page, at), [page, at])
  const html = useMemo(() => previewHtml(measure, { areas, boxes, font: false }), [measure, areas, boxes])
  const face = useMemo(() => fontFace(measure), [measure])
  const { width, height: tall } = measure.viewport
  const scale = room === 0 ? 0 : Math.min(1, room / width)
  // A window of another height shows more or less of the page, never another page.
  const windowHeight = scale === 0 ? tall : Math.max(200, Math.min(height / scale, Math.max(tall, height / scale)))

  // The font is read once for all states of the page: it is by far the largest part.
  useEffect(() => {
    const view = frame.current?.contentDocument
    if (view && isLoaded) setFont(view, face)
  }, [face, isLoaded])
  // The document is changed in place: the frame neither flickers nor loses where it is scrolled to.
  useEffect(() => {
    const view = frame.current?.contentDocument
    if (!view || !isLoaded) return
    const next = new DOMParser().parseFromString(html, 'text/html')
    const { scrollTop } = view.documentElement
    replacePage(view, next)
    view.documentElement.scrollTop = scrollTop
  }, [html, isLoaded])
  useEffect(() => {
    const [first] = areas
    const view = frame.current?.contentDocument?.documentElement
    if (!first || !view) return
    const isSeen = first.y >= view.scrollTop && first.y + Math.min(first.height, 80) <= view.scrollTop + windowHeight
    if (!isSeen) view.scrollTop = Math.max(0, first.y - windowHeight / 3)
  }, [areas, html, windowHeight, isLoaded])

  return (
    <div ref={ref} className="preview" style={{ height: windowHeight * scale || height }}>
      <iframe
        ref={frame}
        title={`${what} ${page.data.title} at ${width} px`}
        // No script runs in it. The app itself reaches into it, to change it in place.
        sandbox="allow-same-origin"
        // A document of its own, in standards mode as pages are.
        srcDoc="<!doctype html>"
        onLoad={() => setLoaded(true)}
        style={{ width, height: windowHeight, transform: `scale(${scale})` }}
      />
    </div>
  )
})

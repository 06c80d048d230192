import { useEffect, useState } from 'react'
import type { Viewport } from 'wembra'

interface Props {
  /** What is in it, for people. */
  readonly label: string
  readonly viewport: Viewport
  /** The address of the picture; another function is another picture. */
  readonly draw: () => Promise<string>
}

/** The first screen of a page, drawn beside the app and kept. */
export function Picture({ label, viewport, draw }: Props) {
  const [source, setSource] = useState<string>()
  useEffect(() => {
    let isOver = false
    setSource(undefined)
    void draw()
      .then((address) => !isOver && setSource(address))
      .catch(() => undefined)
    return () => {
      isOver = true
    }
  }, [draw])
  const ratio = `${viewport.width} / ${viewport.height}`
  return source === undefined ? (
    <span className="picture is-empty" style={{ aspectRatio: ratio }} />
  ) : (
    <img className="picture" src={source} alt={label} style={{ aspectRatio: ratio }} decoding="async" />
  )
}

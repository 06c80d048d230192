import { Button, Stack } from '@mantine/core'
import { useState, type ReactNode } from 'react'

/** So many rows are drawn within a frame or two. */
const AT_ONCE = 50

interface Props<T> {
  readonly label: string
  readonly of: readonly T[]
  /** One row, as an item of a list, with its key. */
  readonly row: (each: T, index: number) => ReactNode
  readonly component?: 'ul' | 'ol'
  readonly gap?: number | string
}

/** The first rows of a list; more of them on demand. */
export function LongList<T>({ label, of, row, component = 'ul', gap = 6 }: Props<T>) {
  const [shown, setShown] = useState(AT_ONCE)
  const left = of.length - shown
  return (
    <>
      <Stack gap={gap} component={component} className="plain-list" aria-label={label}>
        {of.slice(0, shown).map(row)}
      </Stack>
      {left > 0 && (
        <Button variant="default" size="xs" mt="sm" onClick={() => setShown(shown + AT_ONCE)}>
          Show {Math.min(AT_ONCE, left)} more of {left} left
        </Button>
      )}
    </>
  )
}

import { Anchor } from '@mantine/core'
import { sourceAddress } from '../session/use-route.ts'

interface Props {
  readonly at: { readonly file: string; readonly line: number; readonly column: number }
  /** Whether the column is named as well, in the size of the text around; default false. */
  readonly isExact?: boolean
}

/** A place in the site's files, which leads to the editor. */
export function SourceLink({ at, isExact = false }: Props) {
  return (
    <Anchor href={sourceAddress(at.file, at.line)} size={isExact ? 'sm' : 'xs'} ff="monospace" underline="always">
      {at.file}:{at.line}
      {isExact && `:${at.column}`}
    </Anchor>
  )
}

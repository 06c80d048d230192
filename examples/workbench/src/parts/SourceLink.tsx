import { Anchor } from '@mantine/core'
import { sourceAddress } from '../session/use-route.ts'

interface Props {
  /** A file, and where in it, once that is known. */
  readonly at: { readonly file: string; readonly line?: number; readonly column?: number }
  /** Whether the column is named as well, in the size of the text around; default false. */
  readonly isExact?: boolean
}

/** A place in the site's files, which leads to the editor. */
export function SourceLink({ at: { file, line, column }, isExact = false }: Props) {
  return (
    <Anchor href={sourceAddress(file, line ?? 1)} size={isExact ? 'sm' : 'xs'} ff="monospace" underline="always">
      {file}
      {line !== undefined && `:${line}`}
      {line !== undefined && isExact && `:${column}`}
    </Anchor>
  )
}

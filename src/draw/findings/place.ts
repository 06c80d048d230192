import type { SourcePlace } from '../../model/problem.js'

/** `file:line:column`, as editors jump to; of a real page its address and the element. */
export const placeOf = ({ file, line, column, selector }: SourcePlace): string =>
  selector === undefined ? `${file}:${line}:${column}` : `${file} ${selector}`

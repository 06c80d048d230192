import type { Place } from '../../model/problem.js'

/** `file:line:column`, as editors jump to. */
export const placeOf = ({ file, line, column }: Place): string => `${file}:${line}:${column}`

import type { SourcePlace } from '../model/problem.js'

/** The setting that decides, and would have to change. Facts spread it last: V8 is slow to add properties after a spread. */
export interface Deciding {
  readonly at: string
  /** Where it is, when that is not where the pointer is written: in a style sheet. */
  readonly place?: SourcePlace | undefined
}

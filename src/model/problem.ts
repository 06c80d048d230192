import { WembraError } from './wembra-error.js'
/** A place in a file, counted from 1. */
export interface Place {
  readonly file: string
  readonly line: number
  readonly column: number
}

/** A place with the JSON Pointer of what is there, in the merged site. */
export interface SourcePlace extends Place {
  readonly pointer: string
  /** Of a real page, whose address is the file: the element, as a CSS selector. */
  readonly selector?: string
}

/** What is wrong at a place of a file; stable. */
export type ProblemCode =
  | 'unreadable'
  | 'empty'
  | 'bad-syntax'
  | 'too-deep'
  | 'too-large'
  | 'unknown-key'
  | 'wrong-type'
  | 'wrong-value'
  | 'missing-key'
  | 'duplicate-id'
  | 'duplicate-path'
  | 'circle'
  | 'unknown-viewport'
  | 'unknown-token'
  | 'newer-format'
  | 'altered'

/** One reason why a site file cannot be used, with its place and, in the message, the way out. */
export interface Problem extends Place {
  readonly code: ProblemCode
  readonly message: string
}

/** A problem of a document as a whole, at a pointer of it. */
export interface NameProblem {
  readonly code: ProblemCode
  readonly pointer: string
  readonly message: string
  /** The earlier place that this one collides with. */
  readonly other?: string
}

/** A problem as editors read it: `file:line:column: code: message`. */
export const formatProblem = (p: Problem): string => `${p.file}:${p.line}:${p.column}: ${p.code}: ${p.message}`

/** Thrown when a site cannot be read at all; holds every problem found, in order of place. */
export class SiteError extends WembraError {
  override readonly name = 'SiteError'
  readonly code = 'site'
  readonly problems: readonly Problem[]

  constructor(problems: readonly Problem[]) {
    const readable = problems.map((problem) => ({ ...problem, message: shortened(problem.message) }))
    const left = readable.length - TOLD
    const more = left > 0 ? [`and ${left} more problem${left === 1 ? '' : 's'}`] : []
    super([...readable.slice(0, TOLD).map(formatProblem), ...more].join('\n'))
    this.problems = readable
  }
}

/** More problems than this nobody reads in one message; all are in `problems`. */
const TOLD = 200
/** Longer messages quote something enormous, which is cut to so many characters. */
const LONG_MESSAGE = 1000
const QUOTED = 160

const shortened = (message: string): string =>
  message.length <= LONG_MESSAGE
    ? message
    : message
        .split('"')
        .map((part) => (part.length > QUOTED ? `${part.slice(0, QUOTED)}…` : part))
        .join('"')
        .slice(0, 2 * LONG_MESSAGE)

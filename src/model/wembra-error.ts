/** What went wrong, for programs; messages may be reworded. */
export type ErrorCode =
  | 'site'
  | 'patch'
  | 'path'
  | 'selector'
  | 'edit'
  | 'pack'
  | 'token'
  | 'observation'
  | 'draft'
  | 'fetch'
  | 'usage'
  | 'not-written'

/** The base of every error that is the input's fault: its message explains what is wrong and what to do. */
export abstract class WembraError extends Error {
  /** Stable: branch on this, never on `message`. */
  abstract readonly code: ErrorCode | string
}

import type { Json } from '../model/json.js'
import { WembraError } from '../model/wembra-error.js'

/** An operation that sets or removes what is at a pointer of one file. */
export type TextOperation =
  | { readonly op: 'add' | 'replace'; readonly path: string; readonly value: Json }
  | { readonly op: 'remove'; readonly path: string }

/** Thrown where a text cannot be edited in place without touching more than was asked. */
export class EditError extends WembraError {
  override readonly name = 'EditError'
  readonly code = 'edit'
}

/** A text that operations are applied to one after the other. */
export interface EditedText {
  /** @throws {EditError} Where it cannot be done without touching more than was asked. */
  readonly apply: (operation: TextOperation) => EditedText
  readonly text: string
}

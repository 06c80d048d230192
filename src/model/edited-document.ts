import { applyPatch, type Operation } from 'rfc6902'
import { fromPointer, own, valueAt, type Json } from './json.js'
import { WembraError } from './wembra-error.js'

/** Thrown for a patch that cannot be applied. */
export class PatchError extends WembraError {
  override readonly name = 'PatchError'
  readonly code = 'patch'
  /** Index of the operation at fault. */
  readonly operation: number

  constructor(operation: number, reason: string) {
    super(`operation ${operation + 1} of the patch: ${reason}`)
    this.operation = operation
  }
}

const OPERATIONS = new Set(['add', 'remove', 'replace', 'move', 'copy', 'test'])
/** JSON Pointer (RFC 6901): `~` is written `~0`, and `/` within a key `~1`. */
const POINTER = /^(?:\/(?:[^~/]|~[01])*)*$/

/**
 * Refuses what is no operation: patches come from files that anybody may have written.
 *
 * @throws {PatchError} With what is wrong with it.
 */
export function expectOperation(operation: Operation, index: number): void {
  const given = operation as unknown as Readonly<Record<string, unknown>>
  const { op } = given
  if (typeof op !== 'string' || !OPERATIONS.has(op))
    throw new PatchError(index, `${JSON.stringify(op)} is no operation; known are ${[...OPERATIONS].join(', ')}`)
  for (const key of op === 'move' || op === 'copy' ? ['path', 'from'] : ['path']) {
    const pointer = given[key]
    if (typeof pointer === 'string' && fromPointer(pointer).includes('__proto__'))
      throw new PatchError(index, `${key} ${JSON.stringify(pointer)}: "__proto__" cannot be a key`)
    if (typeof pointer !== 'string' || !POINTER.test(pointer))
      throw new PatchError(
        index,
        `${key} ${JSON.stringify(pointer)} is no JSON Pointer, such as "/theme/layout/spacing"`,
      )
  }
  if ((op === 'add' || op === 'replace' || op === 'test') && given['value'] === undefined)
    throw new PatchError(index, `${op} ${given['path'] as string}: a value is missing`)
}

/**
 * A document with one operation applied; what it does not touch is shared.
 *
 * @throws {PatchError} When it does not apply; `index` is what the message counts it as.
 */
export function applyOperation(document: Json, operation: Operation, index: number): Json {
  const edited = new EditedDocument(document)
  edited.apply(operation, index)
  return edited.value
}

/** A document that operations are applied to, each of which costs what it changes; what none of them touches is shared. */
export class EditedDocument {
  #root: Json
  /** Maps and lists that are this one's own, and may be changed. */
  readonly #own = new WeakSet<object>()

  constructor(document: Json) {
    this.#root = document
  }

  /** The document as it is now; what is applied next may change it. */
  get value(): Json {
    return this.#root
  }

  /** @throws {PatchError} When what an operation is about is not there. */
  expect(operation: Operation, index: number): void {
    const above = valueAt(this.#root, operation.path.slice(0, Math.max(0, operation.path.lastIndexOf('/'))))
    // The library takes what every object has, such as toString, for keys of the document.
    const needed = 'from' in operation ? operation.from : operation.op === 'add' ? undefined : operation.path
    if (above === undefined || (needed !== undefined && valueAt(this.#root, needed) === undefined))
      throw new PatchError(index, `${operation.op} ${operation.path}: ${MISSING}`)
    if (typeof above !== 'object' || above === null)
      throw new PatchError(index, `${operation.op} ${operation.path}: ${JSON.stringify(above)} is no map or list`)
  }

  /** @throws {PatchError} When it does not apply. */
  apply(operation: Operation, index: number): void {
    this.expect(operation, index)
    // The library changes its argument; only the way to what changes is copied.
    this.#root = this.#owned(this.#root, fromPointer(operation.path))
    if ('from' in operation) this.#root = this.#owned(this.#root, fromPointer(operation.from))
    const [error] = applyPatch(this.#root, [operation])
    if (error) throw new PatchError(index, `${operation.op} ${operation.path}: ${reasonOf(error)}`)
  }

  /** A value of which everything along a path may be changed. */
  #owned(value: Json, [key, ...rest]: readonly string[]): Json {
    if (typeof value !== 'object' || value === null) return value
    const mine = this.#copied(value)
    const child = key === undefined ? undefined : own(mine, key)
    if (key !== undefined && rest.length > 0 && child !== undefined) mine[key] = this.#owned(child, rest)
    return mine as Json
  }

  #copied(value: object): Record<string, Json> {
    if (this.#own.has(value)) return value as Record<string, Json>
    const copy = Array.isArray(value) ? [...(value as Json[])] : { ...value }
    this.#own.add(copy)
    return copy as Record<string, Json>
  }
}

const MISSING = 'path does not exist'

const reasonOf = (error: Error): string =>
  error.name === 'MissingError'
    ? MISSING
    : error.name === 'TestError'
      ? 'the value there is another one'
      : error.message

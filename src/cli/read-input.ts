import { readFileSync } from 'node:fs'
import { whyUnreadable } from '../node/why-unreadable.js'
import { UsageError } from './io.js'

/** The text of a file that a command was given. @throws {UsageError} With why it cannot be read, and what to do. */
export function readInput(file: string, whatToDo: string): string {
  try {
    return readFileSync(file, 'utf8')
  } catch (error) {
    throw new UsageError(`${file}:1:1: ${whyUnreadable(error)}; ${whatToDo}`)
  }
}

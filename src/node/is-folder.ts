import { statSync } from 'node:fs'

/** Whether a path is a folder; one that is not there, or may not be looked at, is none. */
export function isFolder(path: string): boolean {
  try {
    return statSync(path).isDirectory()
  } catch {
    return false
  }
}

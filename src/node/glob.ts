import picomatch from 'picomatch'

/** A test of paths against a glob, as the disk is searched. */
export function matchesGlob(pattern: string): (path: string) => boolean {
  const matches = picomatch(pattern)
  return (path) => matches(path)
}

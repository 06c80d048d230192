/** Whether `own` marks something as meant to differ: by its property path, its facet, its last word or its id. */
export function isOwn(own: readonly string[] | undefined, path: string): boolean {
  if (!own) return false
  const parts = path.split('.')
  return own.some((name) => name === path || parts.includes(name) || path.startsWith(`${name}.`))
}

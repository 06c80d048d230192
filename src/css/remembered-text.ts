/**
 * Work that is done once for each text. It must rest on nothing else.
 *
 * @param most - For how many texts its results are held; past that all are let go.
 * @param work - Never gives `undefined`.
 * @param sizeOf - As how many a text counts; one that alone is too many is not held.
 */
export function rememberedText<T extends NonNullable<unknown> | null>(
  most: number,
  work: (text: string) => T,
  sizeOf: (text: string) => number = () => 1,
): (text: string) => T {
  const known = new Map<string, T>()
  let held = 0
  return (text) => {
    let result = known.get(text)
    if (result !== undefined) return result
    result = work(text)
    const size = sizeOf(text)
    if (held + size > most) {
      known.clear()
      held = 0
    }
    if (size > most) return result
    known.set(text, result)
    held += size
    return result
  }
}

/**
 * Work that is done once for each text. It must rest on nothing else.
 *
 * @param most - For how many texts its results are held; past that all are let go.
 * @param work - Never gives `undefined`.
 */
export function rememberedText<T extends NonNullable<unknown> | null>(
  most: number,
  work: (text: string) => T,
): (text: string) => T {
  const known = new Map<string, T>()
  return (text) => {
    let result = known.get(text)
    if (result === undefined) {
      if (known.size >= most) known.clear()
      known.set(text, (result = work(text)))
    }
    return result
  }
}

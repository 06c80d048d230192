/** A number of px for people. */
export const px = (n: number | undefined): string => String(Math.round((n ?? 0) * 10) / 10)

/** "1 word", "2 words". */
export const plural = (n: number | undefined, word: string): string => `${n ?? 0} ${word}${n === 1 ? '' : 's'}`

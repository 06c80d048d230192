/** What one page contributes under a key, with what the rule will want to know of it. */
export interface TallyMark {
  readonly value: string
  readonly page: string
  readonly detail: unknown
}

/** What the pages of a site together contribute under one key of a rule. */
export interface Tally {
  /** How many marks there are, of one value or of all. */
  readonly count: (value?: string) => number
  /** The values that were marked. */
  readonly values: () => readonly string[]
  /** The marks of one value, or all, in the order of the site's pages. */
  readonly marks: (value?: string) => readonly TallyMark[]
}

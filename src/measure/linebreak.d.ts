declare module 'linebreak' {
  /** Finds where UAX #14 allows a line to be broken. */
  export default class LineBreaker {
    constructor(text: string)
    nextBreak(): { readonly position: number; readonly required: boolean } | null
  }
}

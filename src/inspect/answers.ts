/** Work about one thing that several rules ask for. */
type Work<S, T> = (subject: S) => T

/** What was worked out about one thing, each time once. */
export class Answers<S> {
  #known: Map<Work<S, unknown>, unknown> | undefined

  of<T>(subject: S, work: Work<S, T>): T {
    const known = (this.#known ??= new Map<Work<S, unknown>, unknown>())
    const before = known.get(work)
    if (before !== undefined || known.has(work)) return before as T
    const answer = work(subject)
    known.set(work, answer)
    return answer
  }
}

/** Work in steps, between which others may go on. */
export type Steps<T> = Generator<unknown, T>

/** Runs work that is done in steps to its end. */
export function toEnd<T>(steps: Steps<T>): T {
  for (;;) {
    const step = steps.next()
    if (step.done) return step.value
  }
}

/** For how long the work goes on before others get a turn; ms, half a frame at 60 Hz. */
const TURN = 8

/** Runs it in turns, so that others are answered meanwhile. @throws The reason of an aborted signal. */
export async function inTurns<T>(steps: Steps<T>, signal?: AbortSignal): Promise<T> {
  for (let until = performance.now() + TURN; ;) {
    signal?.throwIfAborted()
    const step = steps.next()
    if (step.done) return step.value
    if (performance.now() < until) continue
    await new Promise((resolve) => setTimeout(resolve))
    until = performance.now() + TURN
  }
}

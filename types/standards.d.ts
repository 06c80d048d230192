// What every place that the core runs in has (browsers, workers, Node), for compiling it without the types of any.
declare class TextEncoder {
  encode(text?: string): Uint8Array
}
declare class TextDecoder {
  decode(bytes?: Uint8Array): string
}
declare function structuredClone<T>(value: T): T
declare function setTimeout(work: (value?: unknown) => void, ms?: number): unknown
declare const performance: { now(): number }
interface AbortSignal {
  readonly aborted: boolean
  readonly reason: unknown
  throwIfAborted(): void
}

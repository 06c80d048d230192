export const CHROMIUM: string
export const CHROMIUM_ARGS: readonly string[]
export function ensureChromium(): void

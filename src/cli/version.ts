import { readFileSync } from 'node:fs'

/** The package's version. */
export const VERSION = (
  JSON.parse(readFileSync(new URL('../../package.json', import.meta.url), 'utf8')) as { version: string }
).version

import pc from 'picocolors'

/** What a command may touch of the world; a test passes its own. */
export interface Io {
  readonly out: (text: string) => void
  readonly err: (text: string) => void
  readonly readStdin: () => string
  /** Columns of the terminal. */
  readonly columns: number
  readonly colours: ReturnType<typeof pc.createColors>
}

export const ExitCode = { fine: 0, findings: 1, badInput: 2 } as const
export type ExitCode = (typeof ExitCode)[keyof typeof ExitCode]

/** Thrown by a command for words that do not fit together; exit 2. */
export class UsageError extends Error {
  override readonly name = 'UsageError'
}

const DEFAULT_COLUMNS = 100

/** The real terminal. Colour only where there is one, and never with NO_COLOR. */
export function processIo(readStdin: () => string): Io {
  const colourful = process.stdout.isTTY && !process.env['NO_COLOR'] && process.env['TERM'] !== 'dumb'
  return {
    out: (text) => void process.stdout.write(text),
    err: (text) => void process.stderr.write(text),
    readStdin,
    columns: process.stdout.columns ?? (Number(process.env['COLUMNS']) || DEFAULT_COLUMNS),
    colours: pc.createColors(Boolean(colourful || process.env['FORCE_COLOR'])),
  }
}

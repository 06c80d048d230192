import { WembraError } from '../model/wembra-error.js'
import { Presets, SingleBar } from 'cli-progress'
import pc from 'picocolors'

/** What a command may touch of the world; a test passes its own. */
export interface Io {
  readonly out: (text: string) => void
  readonly err: (text: string) => void
  readonly readStdin: () => string
  /** Columns of the terminal. */
  readonly columns: number
  readonly colours: ReturnType<typeof pc.createColors>
  /** Shows how far long work is, where somebody watches; nothing is shown for work of few steps. */
  readonly progress?: (what: string, steps: number, fewSteps?: number) => Progress
}

export interface Progress {
  readonly update: (done: number) => void
  readonly stop: () => void
}

export const ExitCode = { fine: 0, findings: 1, badInput: 2 } as const
export type ExitCode = (typeof ExitCode)[keyof typeof ExitCode]

/** Thrown by a command for words that do not fit together; exit 2. */
export class UsageError extends WembraError {
  override readonly name = 'UsageError'
  readonly code = 'usage'
}

const DEFAULT_COLUMNS = 100
/** Work of fewer steps is done before a bar could be read. */
const FEW_STEPS = 500
const NO_PROGRESS: Progress = { update: () => undefined, stop: () => undefined }

function terminalProgress(what: string, steps: number, fewSteps = FEW_STEPS): Progress {
  if (!process.stderr.isTTY || steps < fewSteps) return NO_PROGRESS
  const format = `{bar} {value} of {total} ${what}, {eta_formatted} left`
  const bar = new SingleBar({ format, stream: process.stderr, clearOnComplete: true }, Presets.shades_classic)
  bar.start(steps, 0)
  return { update: (done) => bar.update(done), stop: () => bar.stop() }
}

/** The real terminal. Colour only where there is one, and never with NO_COLOR. */
export function processIo(readStdin: () => string): Io {
  const colourful = process.stdout.isTTY && !process.env['NO_COLOR'] && process.env['TERM'] !== 'dumb'
  return {
    out: (text) => void process.stdout.write(text),
    err: (text) => void process.stderr.write(text),
    readStdin,
    columns: process.stdout.columns ?? (Number(process.env['COLUMNS']) || DEFAULT_COLUMNS),
    progress: terminalProgress,
    colours: pc.createColors(Boolean(colourful || process.env['FORCE_COLOR'])),
  }
}

import type { Site } from '../model/site.js'
import { WembraError } from '../model/wembra-error.js'
import { Presets, SingleBar } from 'cli-progress'
import pc from 'picocolors'
import { printable } from './printable.js'

/** What a command may touch of the world; a test passes its own. */
export interface Io {
  readonly out: (text: string) => void
  readonly err: (text: string) => void
  readonly readStdin: () => string
  /** Columns of the terminal. */
  readonly columns: number
  readonly colors: ReturnType<typeof pc.createColors>
  /** Shows how far long work is, where somebody watches; nothing is shown for work of few steps. */
  readonly progress?: (what: string, steps: number, fewSteps?: number) => Progress
  /** Called with each site that is opened, before anything else is worked out of it. */
  readonly opened?: (site: Site) => void
  /** Called when a look at sites is over, of which another may follow. */
  readonly looked?: () => void
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
export const NO_PROGRESS: Progress = { update: () => undefined, stop: () => undefined }

function terminalProgress(what: string, steps: number, fewSteps = FEW_STEPS): Progress {
  if (!process.stderr.isTTY || steps < fewSteps) return NO_PROGRESS
  const format = `{bar} {value} of {total} ${what}, {eta_formatted} left`
  // Ctrl+C ends the process at once, in the middle of work: the terminal is left as it was all the time.
  const options = { format, stream: process.stderr, clearOnComplete: true, linewrap: true, gracefulExit: false }
  const bar = new SingleBar(options, Presets.shades_classic)
  bar.start(steps, 0)
  return { update: (done) => bar.update(done), stop: () => bar.stop() }
}

/** The real terminal. Color only where there is one, and never with NO_COLOR. */
export function processIo(readStdin: () => string): Io {
  const colorful = process.stdout.isTTY && !process.env['NO_COLOR'] && process.env['TERM'] !== 'dumb'
  return {
    out: (text) => void process.stdout.write(printable(text, process.stdout.isTTY)),
    err: (text) => void process.stderr.write(printable(text, process.stderr.isTTY)),
    readStdin,
    columns: process.stdout.columns ?? (Number(process.env['COLUMNS']) || DEFAULT_COLUMNS),
    progress: terminalProgress,
    colors: pc.createColors(Boolean(colorful || process.env['FORCE_COLOR'])),
  }
}

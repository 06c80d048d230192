import { spawnSync, type SpawnSyncOptions } from 'node:child_process'
import { resolve } from 'node:path'
import { main } from '../../dist/cli/main.js'
import { processIo } from '../../dist/cli/io.js'

const NODE = [process.execPath] as const
const BIN = resolve('bin/wembra.js')
/** The command, as it is started. */
export const COMMAND = [...NODE, BIN] as const

/** Runs a script in a process of its own. */
export function runScript(script: string, args: readonly string[], options: SpawnSyncOptions = {}): Answer {
  const [node, ...flags] = NODE
  const { status, stdout, stderr } = spawnSync(node, [...flags, script, ...args], { ...options, encoding: 'utf8' })
  return { code: status, out: stdout, err: stderr }
}

export interface Answer {
  readonly code: number | null
  readonly out: string
  readonly err: string
}

/** The real command line, in a process of its own. */
export const wembra = (cwd: string, ...args: readonly string[]): Answer => wembraFed(cwd, {}, ...args)

/** The same, with something on standard input, or with other variables of the environment. */
export function wembraFed(
  cwd: string,
  { input = '', env = {} }: { readonly input?: string; readonly env?: Readonly<Record<string, string>> },
  ...args: readonly string[]
): Answer {
  return runScript(BIN, args, { cwd, input, env: { ...process.env, COLUMNS: '100', ...env } })
}

/** The same program in this process, which need not start anew: for tests of many short calls. */
export async function wembraHere(cwd: string, ...args: readonly string[]): Promise<Answer> {
  const home = process.cwd()
  let [out, err] = ['', '']
  process.chdir(cwd)
  try {
    const io = { ...processIo(() => ''), columns: 100, out: (text: string) => void (out += text) }
    const code = await main(args, { ...io, err: (text: string) => void (err += text) })
    return { code, out, err }
  } finally {
    process.chdir(home)
  }
}

/** What a command complained about, without its note on a browser that has no sandbox where tests run. */
export const complaints = (err: string): string => err.replace(/^note: the browser runs without its sandbox.*\n/m, '')

import fs from 'node:fs'
import { syncBuiltinESMExports } from 'node:module'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/** What happens to a program at one of its operations that write: it is killed before, or the operation fails, or falls short. */
export type Fault = 'killed' | 'failed' | 'short'

/** The one operation that can fall short. */
export const FALLS_SHORT = 'writeFileSync'

/** Thrown in place of an operation by a program that is killed; nothing it does after that reaches the disk. */
class Killed extends Error {
  override readonly name = 'Killed'
}

const WRITING = [
  ...(['writeFileSync', 'appendFileSync', 'fsyncSync', 'fchmodSync', 'renameSync', 'rmSync', 'unlinkSync'] as const),
  ...(['mkdirSync', 'truncateSync', 'copyFileSync', 'chmodSync'] as const),
]

// What removes folders takes the operations it needs when it is first used: they must be the real ones then.
fs.rmSync(join(tmpdir(), 'wembra-nothing'), { recursive: true, force: true })

type Operation = (...args: readonly unknown[]) => unknown

/**
 * Runs a program in this process with a fault at its nth operation that writes. A killed one cannot clean up: every
 * later operation of its is refused as well, which leaves the disk as a kill would.
 *
 * @returns The names of the operations there were.
 */
export async function withFault(fault: Fault, at: number, work: () => Promise<unknown>): Promise<readonly string[]> {
  const real = new Map<string, Operation>()
  const names: string[] = []
  const before = (name: string, args: readonly unknown[], run: Operation): unknown => {
    const done = names.push(name)
    if (fault === 'killed' && done >= at) throw new Killed(name)
    if (fault === 'failed' && done === at)
      throw Object.assign(new Error(`ENOSPC: no space left on device, ${name}`), { code: 'ENOSPC' })
    if (fault === 'short' && done === at && name === FALLS_SHORT && typeof args[0] === 'number')
      return run(args[0], Buffer.from(args[1] as Uint8Array).subarray(0, (args[1] as Uint8Array).length >> 1))
    return run(...args)
  }
  const functions = fs as unknown as Record<string, Operation>
  for (const name of [...WRITING, 'openSync'] as const) {
    const run = functions[name] as Operation
    real.set(name, run)
    const isReading = (args: readonly unknown[]): boolean =>
      name === 'openSync' && [undefined, 'r'].includes(args[1] as string)
    functions[name] = (...args) => (isReading(args) ? run(...args) : before(name, args, run))
  }
  syncBuiltinESMExports()
  try {
    await work()
  } catch (error) {
    // Whatever a killed program makes of it, nobody hears of it.
    if (fault !== 'killed') throw error
  } finally {
    for (const [name, run] of real) functions[name] = run
    syncBuiltinESMExports()
  }
  return names
}

import { spawn, type ChildProcess } from 'node:child_process'
import { resolve } from 'node:path'

/** The process of `wembra open` for a folder, and the address with the key that it prints. */
export async function startOpen(folder: string, ...args: readonly string[]): Promise<[ChildProcess, string]> {
  const words = [resolve('bin/wembra.js'), 'open', ...args, '--format', 'json']
  const child = spawn('node', words, { cwd: folder, stdio: ['ignore', 'pipe', 'inherit'] })
  const printed = await new Promise<string>((done) => child.stdout.once('data', (data: Buffer) => done(String(data))))
  return [child, (JSON.parse(printed) as { address: string }).address]
}

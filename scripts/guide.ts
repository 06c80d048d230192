// Runs the commands of docs/guide on a copy of the demo sites and writes down what they print; a test does the same.
import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { chmodSync, cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const ROOT = fileURLToPath(new URL('..', import.meta.url))
export const GUIDE = join(ROOT, 'docs/guide')

export const guidePages = (): readonly string[] =>
  readdirSync(GUIDE).filter((name) => name.endsWith('.md') && name !== 'README.md')

/** Where the pages of the guide say that the stand-in host answers; it is started on whatever port is free. */
const HOST_PLACE = '127.0.0.1:8431'

/** Starts the stand-in host that a page asks for: `<!-- host with changes 5 9 -->`. */
async function startHost(markdown: string): Promise<{ process: ChildProcess; place: string } | undefined> {
  const asked = /<!-- host with changes ([\d ]+) -->/.exec(markdown)?.[1]
  if (asked === undefined) return undefined
  const server = join(ROOT, 'examples/host/src/server.ts')
  const words = ['--import', 'tsx', server, '--port', '0', '--change', ...asked.split(' ')]
  const host = spawn(process.execPath, words, { cwd: ROOT, stdio: ['ignore', 'pipe', 'inherit'] })
  const place = await new Promise<string>((done, fail) => {
    host.once('exit', (code) => fail(new Error(`the stand-in host ended with ${code}`)))
    host.stdout.on('data', (text: Buffer) => {
      const told = /http:\/\/([\d.]+:\d+)/.exec(text.toString())?.[1]
      if (told !== undefined) done(told)
    })
  })
  return { process: host, place }
}

/** A page of the guide with what its commands print today. The commands of a page follow each other in one place. */
export async function runGuidePage(markdown: string): Promise<string> {
  const place = mkdtempSync(join(tmpdir(), 'wembra-guide-'))
  const host = await startHost(markdown)
  try {
    for (const site of ['quillmere', 'fellside'])
      cpSync(join(ROOT, 'examples', site), join(place, site), { recursive: true })
    mkdirSync(join(place, 'bin'))
    writeFileSync(join(place, 'bin/wembra'), `#!/bin/sh\nexec "${process.execPath}" "${ROOT}bin/wembra.js" "$@"\n`)
    chmodSync(join(place, 'bin/wembra'), 0o755)
    let folder = join(place, 'quillmere')
    const run = (command: string): string => {
      if (command.startsWith('cd ')) {
        folder = join(folder, command.slice(3))
        return ''
      }
      const environment = { ...process.env, PATH: `${join(place, 'bin')}:${process.env['PATH'] ?? ''}`, NO_COLOR: '1' }
      const script = host ? command.replaceAll(HOST_PLACE, host.place) : command
      // A command may end otherwise than with 0: that there is something to choose is told that way.
      const out = execFileSync('sh', ['-c', `${script} || true`], { cwd: folder, env: environment, encoding: 'utf8' })
      return host ? out.replaceAll(host.place, HOST_PLACE) : out
    }
    return markdown.replace(/```console\n([\s\S]*?)```/g, (_, block: string) => {
      const commands = block.split('\n').filter((line) => line.startsWith('$ '))
      const shown = commands.map((line) => `${line}\n${run(line.slice(2))}`.trimEnd())
      return `\`\`\`console\n${shown.join('\n')}\n\`\`\``
    })
  } finally {
    host?.process.kill()
    rmSync(place, { recursive: true, force: true })
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url))
  for (const name of process.argv.length > 2 ? process.argv.slice(2) : guidePages()) {
    const path = join(GUIDE, name)
    writeFileSync(path, await runGuidePage(readFileSync(path, 'utf8')))
    console.log(name)
  }

// Runs the commands of docs/guide on a copy of the demo sites and writes down what they print; a test does the same.
import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { chmodSync, cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import pc from 'picocolors'
import { processIo } from '../dist/cli/io.js'
import { main } from '../dist/cli/main.js'

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

const NO_COLORS = pc.createColors(false)

/** Words of ours that need no shell, and what a shell does with what they print. */
const PLAIN = /^(wembra(?: [^|&;<>$`*"'\\\s]+| '[^']*')*)((?:\s[|>]|;).*)?$/

/** What the command line prints and ends with, run in a folder and in this process, which need not start anew for each. */
async function runHere(folder: string, command: string): Promise<{ out: string; code: number }> {
  const words = [...command.matchAll(/'([^']*)'|\S+/g)].map(([word, quoted]) => quoted ?? word)
  const home = process.cwd()
  let out = ''
  process.chdir(folder)
  try {
    const io = { ...processIo(() => ''), columns: 100, colors: NO_COLORS, out: (text: string) => void (out += text) }
    const code = await main(words.slice(1), io)
    return { out, code }
  } finally {
    process.chdir(home)
  }
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
    const run = async (command: string): Promise<string> => {
      if (command.startsWith('cd ')) {
        folder = join(folder, command.slice(3))
        return ''
      }
      const environment = { ...process.env, PATH: `${join(place, 'bin')}:${process.env['PATH'] ?? ''}`, NO_COLOR: '1' }
      const script = host ? command.replaceAll(HOST_PLACE, host.place) : command
      // A command may end otherwise than with 0: that there is something to choose is told that way.
      const inShell = (words: string, input = ''): string =>
        execFileSync('sh', ['-c', `${words} || true`], { cwd: folder, env: environment, encoding: 'utf8', input })
      const [, plain, then = ''] = PLAIN.exec(script) ?? []
      const ran = plain === undefined ? { out: inShell(script), code: 0 } : await runHere(folder, plain)
      const rest = then.trim()
      const tail = rest.slice(1)
      const follow: Readonly<Record<string, () => string>> = {
        '|': () => inShell(tail, ran.out),
        ';': () => ran.out + inShell(`(exit ${ran.code}); ${tail}`),
        '>': () => inShell(`cat > ${tail}`, ran.out),
      }
      const out = follow[rest.charAt(0)]?.() ?? ran.out
      return host ? out.replaceAll(host.place, HOST_PLACE) : out
    }
    // Every other part is what a block of commands shows.
    const parts = markdown.split(/(?<=```console\n)([\s\S]*?)(?=```)/g)
    for (let i = 1; i < parts.length; i += 2) {
      const commands = (parts[i] ?? '').split('\n').filter((line) => line.startsWith('$ '))
      const shown: string[] = []
      for (const line of commands) shown.push(`${line}\n${await run(line.slice(2))}`.trimEnd())
      parts[i] = `${shown.join('\n')}\n`
    }
    return parts.join('')
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

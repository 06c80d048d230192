// Runs the commands of docs/guide on a copy of the demo sites and writes down what they print; a test does the same.
import { execFile, type ExecFileOptions } from 'node:child_process'
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
async function hostFor(markdown: string): Promise<{ close: () => Promise<void>; place: string } | undefined> {
  const asked = /<!-- host with changes ([\d ]+) -->/.exec(markdown)?.[1]
  if (asked === undefined) return undefined
  const { startHost } = await import('../examples/host/src/server.js')
  const { address, close } = await startHost({ changes: asked.split(' ').map(Number) })
  return { close, place: new URL(address).host }
}

/** What a shell prints. Others are answered meanwhile, for the host is in this process. */
function shell(script: string, { input, ...options }: ExecFileOptions & { readonly input: string }): Promise<string> {
  return new Promise((done, fail) => {
    const child = execFile('sh', ['-c', script], { ...options, encoding: 'utf8', maxBuffer: 1e8 }, (error, out) =>
      error ? fail(error) : done(out),
    )
    // What reads less than it is given has closed its end.
    child.stdin?.on('error', () => undefined).end(input)
  })
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
  const host = await hostFor(markdown)
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
      const inShell = (words: string, input = ''): Promise<string> =>
        shell(`${words} || true`, { cwd: folder, env: environment, input })
      const [, plain, then = ''] = PLAIN.exec(script) ?? []
      const ran = plain === undefined ? { out: await inShell(script), code: 0 } : await runHere(folder, plain)
      const rest = then.trim()
      const tail = rest.slice(1)
      const follow: Readonly<Record<string, () => Promise<string>>> = {
        '|': () => inShell(tail, ran.out),
        ';': async () => ran.out + (await inShell(`(exit ${ran.code}); ${tail}`)),
        '>': () => inShell(`cat > ${tail}`, ran.out),
      }
      const out = (await follow[rest.charAt(0)]?.()) ?? ran.out
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
    await host?.close()
    rmSync(place, { recursive: true, force: true })
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url))
  for (const name of process.argv.length > 2 ? process.argv.slice(2) : guidePages()) {
    const path = join(GUIDE, name)
    writeFileSync(path, await runGuidePage(readFileSync(path, 'utf8')))
    console.log(name)
  }

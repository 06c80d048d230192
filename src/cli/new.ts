import { Option, type Command } from 'commander'
import { existsSync, mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { createInterface } from 'node:readline/promises'
import { readSite } from '../model/read-site.js'
import { writeTogether } from '../node/write-file.js'
import { siteJsonSchema } from '../model/json-schema.js'
import { addCommand } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { formatOption } from './options.js'
import { starterSite } from './starter-site.js'
import { json } from './text.js'

interface NewOptions {
  readonly format: 'text' | 'json'
  readonly name?: string
  readonly url?: string
  readonly yes?: true
  readonly schema: boolean
}

const SCHEMA_FILE = 'site.schema.json'

/** `new [folder]`: a small site file to start from. */
export function addNew(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<NewOptions>(program, io, done, {
    name: 'new',
    examples: ['wembra new', 'wembra new tarn --name "Tarn Museum" --url https://tarn.example'],
    options: [
      formatOption(['text', 'json'], 'how to print what was written'),
      new Option('--name <name>', 'name of the site; default: asked for, else the name of the folder'),
      new Option('--url <address>', 'address of the site; default: asked for, else none'),
      new Option('-y, --yes', 'ask nothing, use the defaults'),
      new Option('--no-schema', `write no ${SCHEMA_FILE}, the JSON Schema that an editor completes and checks by`),
    ],
    run: async ([folder = '.'], options, _site, io) => {
      const { name, url } = await answers(folder, options, io)
      if (url !== undefined && !URL.canParse(url))
        throw new UsageError(`"${url}" is not an address; write it like https://tarn.example`)
      const id = idOf(name)
      const file = join(folder, `${id}.site.yaml`)
      if (existsSync(file)) throw new UsageError(`${file} exists; give the site another --name, or edit that file`)
      const schema = options.schema ? SCHEMA_FILE : undefined
      const text = starterSite(name, url, schema)
      readSite(text, { file }) // what is written is a site that can be read, whatever its name
      mkdirSync(folder, { recursive: true })
      const files = new Map([[file, text]])
      const schemaFile = join(folder, SCHEMA_FILE)
      if (schema !== undefined && !existsSync(schemaFile)) files.set(schemaFile, json(siteJsonSchema()))
      writeTogether(files)
      io.out(
        options.format === 'json'
          ? json({ wembra: 1, report: 'new', files: [...files.keys()] })
          : `wrote ${[...files.keys()].join(' and ')}\n\nnext:\n${NEXT.map(([command, what]) => `  ${command.replace('FILE', file).padEnd(28 + file.length)} ${what}`).join('\n')}\n`,
      )
      return ExitCode.fine
    },
  })
}

const NEXT = [
  ['wembra check FILE', 'find conflicts'],
  ['wembra show visit FILE', 'show what a page gets'],
  ['wembra open FILE', 'look at it in the app'],
] as const

/** Name and address of the site, asked for where somebody can answer. */
async function answers(
  folder: string,
  options: NewOptions,
  io: Io,
): Promise<{ name: string; url: string | undefined }> {
  const fallback = folder === '.' ? 'My site' : (folder.split(/[/\\]/).filter(Boolean).at(-1) ?? 'My site')
  const isAsked = !options.yes && options.format === 'text' && process.stdin.isTTY === true
  if (!isAsked) return { name: options.name ?? fallback, url: options.url }
  const lines = createInterface({ input: process.stdin, output: process.stderr })
  try {
    const ask = async (question: string): Promise<string> =>
      (await lines.question(`${io.colors.bold(question)} `)).trim()
    const name = options.name ?? ((await ask(`Name of the site? (${fallback})`)) || fallback)
    const url = options.url ?? ((await ask('Its address? (none yet)')) || undefined)
    return { name, url }
  } finally {
    lines.close()
  }
}

/** A name as a file may have it. */
const idOf = (name: string): string =>
  name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '') || 'site'

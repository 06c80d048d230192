import { Option, type Command } from 'commander'
import { existsSync, readFileSync } from 'node:fs'
import { stringify } from 'yaml'
import { adoptedDocument } from '../draw/documents.js'
import { readExport } from '../node/read-export.js'
import { adoptExport, type Adopted, type Remark } from '../reality/adopt-export.js'
import { readMapping } from '../reality/mapping.js'
import { adoptPages } from './adopt-pages.js'
import { addCommand, choice } from './command.js'
import { crawlOptions } from './crawl.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { columnsOf, count, json } from './text.js'
import { writeAdopted, type AdoptOptions } from './write-adopted.js'

/** `adopt <mapping> <export…>`, `adopt --url <address…>`: start from what I have. */
export function addAdopt(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<AdoptOptions>(program, io, done, {
    name: 'adopt',
    examples: [
      'wembra adopt tarnlight.mapping.yaml export/site.json -o quillmere.site.yaml',
      'wembra adopt tarnlight.mapping.yaml export/*.csv',
      'wembra adopt --url https://quillmere.example/sitemap.xml --browser -o draft.site.yaml',
      'wembra adopt --url seen.ndjson',
    ],
    options: [
      choice('--format <format>', 'how to tell what was adopted', ['text', 'json'], 'text'),
      new Option('--url', 'draft it from real pages'),
      new Option('-o, --out <file>', 'the site file to write; default: it is printed'),
      ...crawlOptions(),
    ],
    run: async (words, options) => {
      if (options.out !== undefined && !/\.(ya?ml|json)$/.test(options.out))
        throw new UsageError(`a site file ends in .site.yaml or .site.json, not "${options.out}"`)
      if (options.url) return adoptPages(words, options, io)
      const [mapping, ...exports] = words
      if (mapping === undefined || exports.length === 0)
        throw new UsageError(
          'name a mapping file and an export, or an address with --url; docs/mapping.md tells how a mapping is written',
        )
      const adopted = adoptExport(readMapping(readText(mapping), mapping), exports.map(readExport), mapping)
      writeAdopted(stringify(adopted.document, { lineWidth: 0 }), options, io, (text) =>
        options.format === 'json'
          ? json(adoptedDocument(adopted, options.out ?? null, text))
          : adoptedText(adopted, io),
      )
      return ExitCode.fine
    },
  })
}

function readText(file: string): string {
  if (!existsSync(file))
    throw new UsageError(`there is no file "${file}"; docs/mapping.md tells how a mapping is written`)
  return readFileSync(file, 'utf8')
}

const LINES = 12

function adoptedText({ taken, unmapped, guessed, defaulted }: Adopted, io: Io): string {
  const { colours: c } = io
  const list = (title: string, remarks: readonly Remark[]): readonly string[] =>
    remarks.length === 0
      ? []
      : [
          `${c.bold(title)}\n${columnsOf(remarks.slice(0, LINES).map(({ what, times, example }) => [`  ${what}`, `${times}×`, c.dim(example.slice(0, 50))]))}${
            remarks.length > LINES ? `\n  and ${remarks.length - LINES} more; --format json has them all` : ''
          }`,
        ]
  const rows = Object.entries(taken).map(([to, times]) => [`  ${to}`, String(times)])
  return `${[
    ...list('Guessed, for the mapping has no word for it:', guessed),
    ...list('Said by the mapping’s default:', defaulted),
    ...list('In the export, and asked for by nothing:', unmapped),
    `${c.bold('Adopted:')}\n${columnsOf(rows)}`,
    `${count(
      Object.values(taken).reduce((a, b) => a + b, 0),
      'record',
    )} adopted, ${guessed.length} guessed, ${unmapped.length} kinds of field left out`,
  ].join('\n\n')}\n`
}

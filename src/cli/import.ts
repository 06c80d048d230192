import type { Command } from 'commander'
import { stringify } from 'yaml'
import { importDocument } from '../draw/documents.js'
import { readExport } from '../node/read-export.js'
import { importSite, type ImportedSite, type Remark } from '../reality/import-site.js'
import { readMapping } from '../reality/mapping.js'
import { addCommand } from './command.js'
import { ExitCode, type Io } from './io.js'
import { formatOption, outOption } from './options.js'
import { readInput } from './read-input.js'
import { columnsOf, count, json } from './text.js'
import { expectSiteName, writeSite, type NewSiteOptions } from './write-site.js'

/** `import <mapping> <export…>`: starts from another system's export. */
export function addImport(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<NewSiteOptions>(program, io, done, {
    name: 'import',
    examples: [
      'wembra import tarnlight.mapping.yaml export/site.json -o quillmere.site.yaml',
      'wembra import tarnlight.mapping.yaml export/*.csv',
    ],
    options: [
      formatOption(['text', 'json'], 'how to print what was imported'),
      outOption('site file to write; default: standard output'),
    ],
    run: ([mapping = '', ...exports], options, _site, io) => {
      expectSiteName(options.out)
      const imported = importSite(
        readMapping(readInput(mapping, HOW_TO_MAP), mapping),
        exports.map(readExport),
        mapping,
      )
      writeSite(stringify(imported.document, { lineWidth: 0 }), options, io, (text) =>
        options.format === 'json'
          ? json(importDocument(imported, options.out ?? null, text))
          : importText(imported, io),
      )
      return ExitCode.fine
    },
  })
}

const HOW_TO_MAP = 'docs/mapping.md explains how to write a mapping'
const LINES = 12

function importText({ taken, unmapped, guessed, defaulted }: ImportedSite, io: Io): string {
  const { colors: c } = io
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
    ...list('Guessed, since the mapping has no entry for it:', guessed),
    ...list('Filled in by the mapping’s defaults:', defaulted),
    ...list('In the export, but not in the mapping:', unmapped),
    `${c.bold('Imported:')}\n${columnsOf(rows)}`,
    `${count(
      Object.values(taken).reduce((a, b) => a + b, 0),
      'record',
    )} imported, ${guessed.length} guessed, ${count(unmapped.length, 'field')} left out`,
  ].join('\n\n')}\n`
}

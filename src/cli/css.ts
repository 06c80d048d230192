import { Option, type Command } from 'commander'
import { neededStyles, styleOut } from '../change/style-out.js'
import { cssDocument } from '../draw/documents.js'
import { writeWhole } from '../node/write-file.js'
import { addCommand, choice } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { findPage, openSite, splitSite, type SiteOptions } from './site-argument.js'
import { json } from './text.js'

interface CssOptions extends SiteOptions {
  readonly format: 'text' | 'json'
  readonly page?: readonly string[]
  readonly out?: string
}

/** `css [site]`: exact offsets and widths as a style sheet. */
export function addCss(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<CssOptions>(program, io, done, {
    name: 'css',
    examples: ['wembra css', 'wembra css --page visit', 'wembra css -o exact.css'],
    options: [
      choice('--format <format>', 'text is the style sheet, json what it says', ['text', 'json'], 'text'),
      new Option('--page <page...>', 'for these pages only'),
      new Option('-o, --out <file>', 'where to write; default standard output'),
    ],
    run: (given, options) => {
      const { words, site } = splitSite(given, options)
      if (words.length > 0) throw new UsageError(`"${words.join(' ')}" is no site file; name pages with --page`)
      const resolved = openSite(site, io)
      const pages = options.page?.map((id) => findPage(resolved, id).id)
      const sheet = styleOut(resolved, pages)
      const text = options.format === 'json' ? json(cssDocument(neededStyles(resolved, pages), sheet)) : sheet
      if (options.out === undefined) io.out(text)
      else writeWhole(options.out, text)
      return ExitCode.fine
    },
  })
}

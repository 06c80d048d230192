import type { Command } from 'commander'
import { neededStyles, styleOut } from '../change/style-out.js'
import { cssDocument } from '../draw/documents.js'
import { writeWhole } from '../node/write-file.js'
import { addCommand } from './command.js'
import { ExitCode, type Io } from './io.js'
import { formatOption, outOption, pageOption } from './options.js'
import { findPage, openSite, type SiteOptions } from './site-argument.js'
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
    options: [formatOption(['text', 'json'], 'text: the style sheet; json: its values'), pageOption(), outOption()],
    run: (_words, options, site, io) => {
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

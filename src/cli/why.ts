import { Option, type Command } from 'commander'
import { chainDocument } from '../draw/documents.js'
import type { ChainEntry } from '../resolve/page.js'
import { addCommand, choice } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { propertyNamed } from './property.js'
import { findPage, findViewports, openSite, splitSite, type SiteOptions } from './site-argument.js'
import { columnsOf, json, placeText, plain } from './text.js'

interface WhyOptions extends SiteOptions {
  readonly format: 'text' | 'json'
  readonly viewport?: string
}

/** `why <page> <facet[.property]> [site]`: who decided it? */
export function addWhy(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<WhyOptions>(program, io, done, {
    name: 'why',
    examples: [
      'wembra why visit header.position',
      'wembra why visit title --viewport phone',
      'wembra why visit template',
    ],
    options: [
      choice('--format <format>', 'how to print', ['text', 'json'], 'text'),
      new Option('--viewport <name>', 'at this viewport; default the first'),
    ],
    run: (given, options) => {
      const { words, site } = splitSite(given, options)
      const [id, asked, ...rest] = words
      if (id === undefined || asked === undefined || rest.length > 0)
        throw new UsageError('name a page and a property: wembra why visit header.position')
      const resolved = openSite(site, io)
      const page = findPage(resolved, id)
      const [viewport = ''] = findViewports(resolved.site.viewports, options.viewport)
      const document = chainDocument(page, propertyNamed(asked), viewport)
      io.out(options.format === 'json' ? json(document) : whyText(document, io))
      return ExitCode.fine
    },
  })
}

function whyText(document: ReturnType<typeof chainDocument>, io: Io): string {
  const { colours: c } = io
  const { page, property, viewport, value, chain } = document
  const headline = `${page}  ${property} at ${viewport}: ${c.bold(plain(value))}`
  if (chain.length === 0) return `${headline}\n\n  nobody says anything\n`
  const paint = (entry: ChainEntry, text: string): string => (entry.outcome === 'wins' ? c.green(text) : c.dim(text))
  const rows = chain.map((entry) => [
    ` ${entry.outcome === 'wins' ? c.green('→') : ' '} ${placeText(entry.at)}`,
    entry.layer,
    plain(entry.value),
    paint(entry, entry.outcome),
    entry.because,
  ])
  const nobody = chain.some((entry) => entry.outcome === 'wins') ? '' : '\n   nobody who could be heard says anything\n'
  return `${headline}\n\n${columnsOf(rows)}\n${nobody}`
}

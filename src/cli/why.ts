import type { Command } from 'commander'
import { chainDocument } from '../draw/documents.js'
import type { ChainEntry } from '../resolve/page.js'
import { addCommand } from './command.js'
import { ExitCode, type Io } from './io.js'
import { formatOption, viewportOption } from './options.js'
import { propertyNamed } from './property.js'
import { findPage, findViewports, openSite, type SiteOptions } from './site-argument.js'
import { columnsOf, json, placeText, plain } from './text.js'

interface WhyOptions extends SiteOptions {
  readonly format: 'text' | 'json'
  readonly viewport?: string
}

/** `why <page> <property> [site]`: which setting decides it? */
export function addWhy(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<WhyOptions>(program, io, done, {
    name: 'why',
    examples: [
      'wembra why visit header.position',
      'wembra why visit title --viewport phone',
      'wembra why visit template',
    ],
    options: [formatOption(['text', 'json']), viewportOption('at this viewport; default: the first')],
    run: (words, options, site, io) => {
      const [id = '', asked = ''] = words
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
  const { colors: c } = io
  const { page, property, viewport, value, chain } = document
  const headline = `${page}  ${property} at ${viewport}: ${c.bold(plain(value))}`
  if (chain.length === 0) return `${headline}\n\n  No layer sets this property.\n`
  const paint = (entry: Pick<ChainEntry, 'outcome'>, text: string): string =>
    entry.outcome === 'wins' ? c.green(text) : c.dim(text)
  const rows = chain.map((entry) => [
    ` ${entry.outcome === 'wins' ? c.green('→') : ' '} ${placeText(entry.at)}`,
    entry.layer,
    plain(entry.value),
    paint(entry, entry.outcome),
    entry.because,
  ])
  const none = chain.some((entry) => entry.outcome === 'wins')
    ? ''
    : '\n   No setting takes effect; the property has no value.\n'
  return `${headline}\n\n${columnsOf(rows)}\n${none}`
}

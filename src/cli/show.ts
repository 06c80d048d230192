import type { Command } from 'commander'
import { pageDocument } from '../draw/documents.js'
import { facetsInPx } from '../measure/facets.js'
import { measurePage, type PageMeasure } from '../measure/page.js'
import { FACET_NAMES } from '../model/facets.js'
import type { Json } from '../model/json.js'
import type { ResolvedPage } from '../resolve/page.js'
import { addCommand, choice } from './command.js'
import { Option } from 'commander'
import { ExitCode, UsageError, type Io } from './io.js'
import { findPage, findViewports, openSite, splitSite, type SiteOptions } from './site-argument.js'
import { columnsOf, json, plain } from './text.js'

interface ShowOptions extends SiteOptions {
  readonly format: 'text' | 'json'
  readonly viewport?: string
}

/** `show <page> [site]`: what does this page get, and where do its boxes stand? */
export function addShow(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<ShowOptions>(program, io, done, {
    name: 'show',
    words: '<page> [site]',
    summary: 'show what a page gets, and where its boxes stand',
    examples: ['wembra show visit', 'wembra show visit --viewport phone', 'wembra show visit --format json'],
    options: [
      choice('--format <format>', 'how to print', ['text', 'json'], 'text'),
      new Option('--viewport <name>', 'at this viewport only; default all'),
    ],
    run: (given, options) => {
      const { words, site } = splitSite(given, options)
      const [id, ...rest] = words
      if (id === undefined || rest.length > 0) throw new UsageError('name one page: wembra show visit')
      const resolved = openSite(site, io)
      const page = findPage(resolved, id)
      const viewports = findViewports(resolved, options.viewport)
      io.out(options.format === 'json' ? json(pageDocument(page, viewports)) : showText(page, viewports, io))
      return ExitCode.fine
    },
  })
}

function showText(page: ResolvedPage, viewports: readonly string[], io: Io): string {
  const { colours: c } = io
  const { template } = page.choice
  const headline = `${c.bold(page.data.title)}  ${page.facts.path}  ${page.facts.kind}`
  if (page.dormant) return `${headline}\n\nThis page is dormant: its kind comes from an extension that is off.\n`
  const chosen = `template ${template ? c.bold(template.id) : 'none'} (${page.choice.because})`
  const measures = viewports.map((v) => measurePage(page, v))
  return `${headline}\n${chosen}\n\n${facetsText(measures, io)}\n\n${boxesText(measures, io)}\n`
}

/** Every property that has a value, at each viewport, with who decided it at the first. */
function facetsText(measures: readonly PageMeasure[], io: Io): string {
  const { colours: c } = io
  const facets = measures.map(facetsInPx)
  const rows = FACET_NAMES.flatMap((facet) =>
    Object.keys(facets[0]?.[facet] ?? {}).flatMap((property) => {
      const values = facets.map((f) => f[facet]?.[property] as Json)
      if (values.every((v) => v === null)) return []
      const chain = measures[0]?.view.decider(property === 'items' ? `${facet}.items` : `${facet}.${property}`)
      const who = chain ? chain.layer : ''
      return [[`${facet}.${property}`, ...values.map(plain), who]]
    }),
  )
  const head = ['', ...measures.map((m) => `${m.viewport.name} ${m.viewport.width}`), 'decided by']
  return columnsOf(
    rows,
    head.map((text) => c.dim(text)),
  )
}

/** Every box, from the top, at each viewport: y and size in px. */
function boxesText(measures: readonly PageMeasure[], io: Io): string {
  const { colours: c } = io
  const ids = [...new Set(measures.flatMap((m) => m.boxes.map((b) => b.id)))]
  const px = (n: number): string => String(Math.round(n * 10) / 10)
  const rows = ids.map((id) => [
    id,
    ...measures.map((m) => {
      const box = m.box(id)
      if (!box) return '–'
      const guess = box.certainty === 'estimated' ? '~' : ''
      return `${guess}${px(box.x)},${px(box.y)}  ${px(box.width)}×${px(box.height)}`
    }),
  ])
  const head = ['box', ...measures.map((m) => `${m.viewport.name}: x,y  width×height`)]
  return `${columnsOf(
    rows,
    head.map((text) => c.dim(text)),
  )}\n${c.dim('px from the page’s top left; ~ is estimated')}`
}

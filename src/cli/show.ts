import type { Command } from 'commander'
import { ledgerDocument, pageDocument, type BoxLedger } from '../draw/documents.js'
import { facetsInPx } from '../measure/facets.js'
import { measurePage, type PageMeasure } from '../measure/page.js'
import { FACET_NAMES, pathOf } from '../model/facets.js'
import type { Json } from '../model/json.js'
import type { ResolvedPage } from '../resolve/page.js'
import { addCommand } from './command.js'
import { Option } from 'commander'
import { ExitCode, UsageError, type Io } from './io.js'
import { formatOption, viewportOption } from './options.js'
import { findPage, findViewports, openSite, type SiteOptions } from './site-argument.js'
import { UnknownNameError } from '../model/unknown-name.js'
import { columnsOf, json, placeText, plain } from './text.js'

interface ShowOptions extends SiteOptions {
  readonly format: 'text' | 'json'
  readonly viewport?: string
  readonly ledger?: string
}

/** `show <page> [site]`: what does this page get, and where are its boxes? */
export function addShow(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<ShowOptions>(program, io, done, {
    name: 'show',
    examples: [
      'wembra show visit',
      'wembra show visit --viewport phone',
      'wembra show visit --ledger section:hero',
      'wembra show visit --format json',
    ],
    options: [
      formatOption(['text', 'json']),
      viewportOption(),
      new Option('--ledger <box>', 'explain where a box is: each px with the setting that gives it'),
    ],
    run: (words, options, site, io) => {
      const [id = ''] = words
      const resolved = openSite(site, io)
      const page = findPage(resolved, id)
      const viewports = findViewports(resolved.site.viewports, options.viewport)
      if (options.ledger !== undefined) {
        const ledgers = viewports.map((viewport) => ledgerOf(page, viewport, options.ledger as string))
        io.out(options.format === 'json' ? json(ledgerDocument(page, ledgers)) : ledgersText(page, ledgers, io))
      } else io.out(options.format === 'json' ? json(pageDocument(page, viewports)) : showText(page, viewports, io))
      return ExitCode.fine
    },
  })
}

function ledgerOf(page: ResolvedPage, viewport: string, id: string): BoxLedger {
  if (page.dormant) throw new UsageError(`the page "${page.id}" is dormant: it has no boxes`)
  const measure = measurePage(page, viewport)
  const box = measure.box(id)
  if (box) return { viewport, box }
  throw new UnknownNameError(
    'box',
    id,
    measure.boxes.map((b) => b.id),
  )
}

/** Every step down to a box, with the place that gave it, and their sum. */
function ledgersText(page: ResolvedPage, ledgers: readonly BoxLedger[], io: Io): string {
  const { colors: c } = io
  const blocks = ledgers.map(({ viewport, box }) => {
    const steps = box.ledger.map(({ px, because, pointer }) => [
      `${plain(px)} px`,
      because,
      c.dim(pointer === undefined ? '' : placeText(page.site.locate(pointer))),
    ])
    const rows = [...steps, [c.bold(`${plain(box.y)} px`), c.bold(`y of ${box.id}`), '']]
    return `${c.bold(box.id)} at ${viewport}${steps.length === 0 ? ', at the very top' : ''}\n${columnsOf(rows)}`
  })
  return `${blocks.join('\n\n')}\n`
}

function showText(page: ResolvedPage, viewports: readonly string[], io: Io): string {
  const { colors: c } = io
  const { template } = page.choice
  const headline = `${c.bold(page.data.title)}  ${page.facts.path}  ${page.facts.kind}`
  if (page.dormant) return `${headline}\n\nThis page is dormant: its kind comes from an extension that is off.\n`
  const chosen = `template ${template ? c.bold(template.id) : 'none'} (${page.choice.because})`
  const measures = viewports.map((v) => measurePage(page, v))
  return `${headline}\n${chosen}\n\n${facetsText(measures, io)}\n\n${boxesText(measures, io)}\n`
}

/** Every property that has a value, at each viewport, with who decided it at the first. */
function facetsText(measures: readonly PageMeasure[], io: Io): string {
  const { colors: c } = io
  const facets = measures.map(facetsInPx)
  const rows = FACET_NAMES.flatMap((facet) =>
    Object.keys(facets[0]?.[facet] ?? {}).flatMap((property) => {
      const values = facets.map((f) => f[facet]?.[property] as Json)
      if (values.every((v) => v === null)) return []
      const chain = measures[0]?.view.decider(pathOf(facet, property))
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
  const { colors: c } = io
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

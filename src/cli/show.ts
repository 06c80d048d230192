import type { Command } from 'commander'
import { ledgerDocument, pageDocument, type BoxLedger } from '../draw/documents.js'
import { aboutPage } from '../inspect/about-page.js'
import type { LedgerEntry } from '../measure/box.js'
import { facetsInPx } from '../measure/facets.js'
import { heightLadder, widthLadder } from '../measure/ladders.js'
import { measurePage } from '../measure/page.js'
import type { PageMeasure } from '../measure/page-measure.js'
import { FACET_NAMES, pathOf } from '../model/facets.js'
import type { Json } from '../model/json.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand } from './command.js'
import { Option } from 'commander'
import { ExitCode, UsageError, type Io } from './io.js'
import { formatOption, viewportOption } from './options.js'
import { findPage, findViewports, openSite, type SiteOptions } from './site-argument.js'
import { UnknownNameError } from '../model/unknown-name.js'
import { columnsOf, count, json, placeText, plain, someOf } from './text.js'

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
      'wembra show visit --ledger inside:visit-hero --viewport desk',
      'wembra show visit --format json',
    ],
    options: [
      formatOption(['text', 'json']),
      viewportOption(),
      new Option('--ledger <box>', 'explain a box: every px of its x, width and y with the setting that gives it'),
    ],
    run: (words, options, site, io) => {
      const [id = ''] = words
      const resolved = openSite(site, io)
      const page = findPage(resolved, id)
      const viewports = findViewports(resolved.site.viewports, options.viewport)
      if (options.ledger !== undefined) {
        const ledgers = viewports.map((viewport) => ledgerOf(page, viewport, options.ledger as string))
        io.out(options.format === 'json' ? json(ledgerDocument(page, ledgers)) : ledgersText(page, ledgers, io))
      } else
        io.out(
          options.format === 'json'
            ? json(pageDocument(resolved, page, viewports))
            : showText(resolved, page, viewports, io),
        )
      return ExitCode.fine
    },
  })
}

function ledgerOf(page: ResolvedPage, viewport: string, id: string): BoxLedger {
  if (page.dormant) throw new UsageError(`the page "${page.id}" is dormant: it has no boxes`)
  const measure = measurePage(page, viewport)
  const box = measure.box(id)
  if (box) return { viewport, box, measure }
  throw new UnknownNameError(
    'box',
    id,
    measure.boxes.map((b) => b.id),
  )
}

/** Every step to a box's x and width, to its y and, of a bar, to its height, each with the place that gave it. */
function ledgersText(page: ResolvedPage, ledgers: readonly BoxLedger[], io: Io): string {
  const { colors: c } = io
  const place = (pointer: string | undefined): string =>
    c.dim(pointer === undefined ? '' : placeText(page.site.locate(pointer)))
  const signed = (n: number): string => (n > 0 ? `+${plain(n)}` : plain(n).replace('-', '−'))
  const blocks = ledgers.map(({ viewport, box, measure }) => {
    const wide = widthLadder(measure, box.id).map(({ px, x, because, pointer }, n) => [
      ...(n === 0 ? [plain(x), plain(px)] : [x === 0 ? '' : signed(x), signed(px)]),
      because,
      place(pointer),
    ])
    const sum = (px: number, what: string): string[] => [c.bold(plain(px)), c.bold(what), '']
    const down = (steps: readonly LedgerEntry[]): string[][] =>
      steps.map(({ px, because, pointer }) => [plain(px), because, place(pointer)])
    const high = heightLadder(measure, box.id)
    const total = [c.bold(plain(box.x)), c.bold(plain(box.width)), c.bold(`x and width of ${box.id}`), '']
    return [
      `${c.bold(box.id)} at ${viewport}, in px`,
      columnsOf([...wide, total], [c.dim('x'), c.dim('width'), '', '']),
      columnsOf([...down(box.ledger), sum(box.y, `y of ${box.id}`)], [c.dim('y'), '', '']),
      ...(high.length > 0
        ? [columnsOf([...down(high), sum(box.height, `height of ${box.id}`)], [c.dim('height'), '', ''])]
        : []),
    ].join('\n\n')
  })
  return `${blocks.join('\n\n')}\n`
}

function showText(resolved: ResolvedSite, page: ResolvedPage, viewports: readonly string[], io: Io): string {
  const { colors: c } = io
  const { template } = page.choice
  const headline = `${c.bold(page.data.title)}  ${page.facts.path}  ${page.facts.kind}`
  if (page.dormant) return `${headline}\n\nThis page is dormant: its kind comes from an extension that is off.\n`
  const chosen = `template ${template ? c.bold(template.id) : 'none'} (${page.choice.because})`
  const measures = viewports.map((v) => measurePage(page, v))
  const about = aboutText(resolved, page, io)
  return `${headline}\n${chosen}\n\n${facetsText(measures, io)}\n\n${about}\n\n${boxesText(measures, io)}\n`
}

/** Where its titles come from, what it leads to, and what a visitor gets who is not signed in. */
function aboutText(resolved: ResolvedSite, page: ResolvedPage, io: Io): string {
  const { colors: c } = io
  const { titles, exits, words, visitor } = aboutPage(resolved, page.id)
  const all = resolved.site.viewports.length
  const when = (names: readonly string[]): string =>
    names.length === all ? 'yes' : names.length === 0 ? 'no' : names.join(', ')
  const places = titles.places.map((each) => [
    each.what,
    when(each.seen),
    when(each.readAloud),
    plain(each.inMarkup),
    c.dim(placeText(each.at)),
  ])
  const carried = { title: 'the title', heading: 'a heading', lost: 'lost' } as const
  const hiding = titles.hiding.map((each) => [
    each.presence,
    plain(each.readAloud),
    plain(each.inMarkup),
    carried[each.headline ?? 'lost'],
  ])
  const leads = (['header', 'body', 'footer'] as const).map((by) => [
    by,
    String(exits[by].length),
    someOf(exits[by], EXITS_NAMED),
  ])
  const answer =
    visitor.gets === 'page'
      ? 'this page'
      : visitor.gets === 'redirect'
        ? `the page ${visitor.to}: ${visitor.because}`
        : `nothing: ${visitor.because}`
  const dim = (head: readonly string[]): string[] => head.map((text) => c.dim(text))
  const { from, marked } = titles.headline
  const headlineBy = `Programs read the headline from ${from === null ? 'nothing' : carried[from]}${marked ? ' (marked by its kind)' : ''}.`
  return [
    `${columnsOf(places, dim(['title printed by', 'seen', 'read aloud', 'in markup', '']))}\n${headlineBy}`,
    columnsOf(hiding, dim(['hide the title with', 'read aloud', 'in markup', 'headline'])),
    columnsOf(leads, dim(['exits in', '', ''])),
    `${count(words, 'word')} in the body; a visitor who is not signed in gets ${answer}`,
  ].join('\n\n')
}

/** How many exits of a place are named. */
const EXITS_NAMED = 8

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

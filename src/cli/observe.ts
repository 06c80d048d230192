import { Option, type Command } from 'commander'
import { existsSync, readdirSync } from 'node:fs'
import { driftDocument, partsDocument } from '../draw/documents.js'
import { findingsMarkdown } from '../draw/findings/markdown.js'
import { findingsSarif } from '../draw/findings/sarif.js'
import { SEVERITIES, type Severity } from '../inspect/rule.js'
import { RULES } from '../inspect/rules/index.js'
import { writeWhole } from '../node/write-file.js'
import { explainParts, type ExplainedView } from '../reality/explain-parts.js'
import { findDrift, type DriftFinding, type DriftReport } from '../reality/drift.js'
import { measuredHeights, type MeasuredSurround } from '../reality/measured.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand } from './command.js'
import type { Seen } from './crawl.js'
import { crawlOptions, type CrawlOptions } from './crawl-options.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { failOnOption, formatOption, nowOption, outOption, readClock, undoOption, viewportOption } from './options.js'
import { findViewports, openSite, type SiteOptions } from './site-argument.js'
import { applyPatchToFiles, refuseStdin } from './apply.js'
import { count, json, paragraph, placeText, someOf } from './text.js'
import { VERSION } from './version.js'
import { USUAL_VIEWPORTS } from './viewports.js'

const FORMATS = ['text', 'json', 'ndjson', 'sarif', 'markdown'] as const

interface ObserveCliOptions extends SiteOptions, CrawlOptions {
  readonly format: (typeof FORMATS)[number]
  readonly viewport?: string
  readonly everyPage?: true
  readonly explain?: true
  readonly apply?: true
  readonly undo?: string
  readonly failOn: Severity
  readonly out?: string
  readonly now?: string
}

/** `observe <address…> [site]`: do the real pages agree? */
export function addObserve(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<ObserveCliOptions>(program, io, done, {
    name: 'observe',
    examples: [
      'wembra observe https://quillmere.example/sitemap.xml --browser',
      'wembra observe https://quillmere.example --every-page --browser --header "cookie: member=1"',
      'wembra observe build/ quillmere.site.yaml',
      'wembra observe https://quillmere.example/sitemap.xml --browser --save seen.ndjson --resume',
      'wembra observe seen.ndjson --format sarif -o drift.sarif',
      'wembra observe seen.ndjson --apply',
      'wembra observe https://quillmere.example/visit --browser --explain',
    ],
    options: [
      formatOption(FORMATS, 'how to print; ndjson: the observations themselves'),
      outOption(),
      viewportOption(),
      new Option('--every-page', 'observe every published page of the site file, at the address given'),
      new Option('--explain', 'show why each element was taken for a part of its page, and what contradicts it'),
      ...crawlOptions(),
      new Option('--apply', 'write the measured heights of headers and footers to the site file'),
      undoOption(),
      failOnOption('warning'),
      nowOption(),
    ],
    run: async (targets, options, site, io) => {
      const resolved = isThere(site) ? openSite(site, io) : undefined
      if (!resolved && (options.everyPage || options.apply))
        throw new UsageError('--every-page and --apply need a site file; name one')
      if (resolved && options.apply) refuseStdin(resolved.site)
      const { crawl } = await import('./crawl.js')
      const seen = await crawl(targets, options, contextOf(resolved, options), io)
      if (options.explain) {
        const views = explainParts(seen.flatMap((each) => (each.report === 'observation' ? [each] : [])))
        write(options, io, options.format === 'json' ? json(partsDocument(views)) : explainedText(views, io))
        return ExitCode.fine
      }
      if (options.format === 'ndjson' || !resolved) {
        write(options, io, seen.map((each) => `${JSON.stringify(each)}\n`).join(''))
        return ExitCode.fine
      }
      const report = findDrift(resolved, seen, { now: readClock(options.now) })
      const measured = measuredHeights(resolved, seen)
      write(options, io, print(resolved, seen, report, measured.surrounds, options, io))
      if (options.apply) return applyPatchToFiles(resolved.site, measured.patch, 'measured heights', options, io)
      const worst = SEVERITIES.indexOf(options.failOn)
      return report.findings.some((f) => SEVERITIES.indexOf(f.severity) <= worst) ? ExitCode.findings : ExitCode.fine
    },
  })
}

/** Whether there is a site to compare with: the one that was named, or one in this folder. */
const isThere = (site: string): boolean =>
  site !== '.' || (existsSync('.') && readdirSync('.').some((name) => /\.site\.(ya?ml|json)$/.test(name)))

function contextOf(resolved: ResolvedSite | undefined, options: ObserveCliOptions) {
  const known = resolved?.site.viewports ?? USUAL_VIEWPORTS
  const names = findViewports(known, options.viewport)
  const viewports = known.filter(({ name }) => names.includes(name))
  if (!resolved) return { viewports, locators: {}, home: 'https://site.invalid' }
  const { site } = resolved
  const front = site.data.purposes?.front
  const paths = site.pageIds.flatMap((id) => {
    const page = site.pageData(id)
    if (!page || page.status === 'draft' || resolved.page(id).dormant) return []
    return [id === front ? '/' : page.path]
  })
  return {
    viewports,
    // Parts that the site does not name are found by landmarks and by how pages are built.
    locators: site.data.locators ?? {},
    home: site.data.site.url ?? 'https://site.invalid',
    ...(options.everyPage && { paths }),
  }
}

function write({ out }: ObserveCliOptions, io: Io, text: string): void {
  if (out === undefined) io.out(text)
  else writeWhole(out, text)
}

function print(
  resolved: ResolvedSite,
  seen: readonly Seen[],
  report: DriftReport,
  measured: readonly MeasuredSurround[],
  options: ObserveCliOptions,
  io: Io,
): string {
  switch (options.format) {
    case 'json':
      return json(driftDocument(resolved, report, measured))
    case 'sarif':
      return json(findingsSarif(report.findings, RULES, VERSION))
    case 'markdown':
      return findingsMarkdown(resolved.site.data.site.name, report.findings, report.compared.length)
    default:
      return driftText(report, seen, measured, io)
  }
}

/** Each part of each page with the element, why it was taken for that, and what contradicts it. */
function explainedText(views: readonly ExplainedView[], { colors: c, columns }: Io): string {
  const blocks = views.map(({ url, viewport, parts, none }) =>
    [
      `${c.bold(url)} ${c.dim(viewport ?? 'markup alone')}`,
      ...parts.flatMap(({ part, selector, evidence, doubts }) => [
        `  ${part.padEnd(10)} ${c.cyan(selector)}`,
        ...[`${evidence.join('; ')}`].map((line) => paragraph(line, columns, 13)),
        ...(doubts.length > 0 ? [c.yellow(paragraph(`doubt: ${doubts.join('; ')}`, columns, 13))] : []),
      ]),
      ...(none.length > 0 ? [c.dim(`  nothing found for: ${none.join(', ')}`)] : []),
    ].join('\n'),
  )
  return blocks.length === 0 ? `${c.yellow('no page was observed')}\n` : `${blocks.join('\n\n')}\n`
}

const PAGES_NAMED = 4
const LINES_NAMED = 8

/** What drifted, by cause; then what could not be compared. */
function driftText(report: DriftReport, seen: readonly Seen[], measured: readonly MeasuredSurround[], io: Io): string {
  const { colors: c, columns } = io
  const { findings, compared, unseen, strange, estimates } = report
  const paint = { error: c.red, warning: c.yellow, note: c.cyan }
  const blocks = findings.map((f) =>
    [
      `${c.bold(placeText(f.at))} ${paint[f.severity](f.severity)} ${c.dim(`${f.rule} ${f.facet}`)}`,
      paragraph(
        `${differenceOf(f)} (${f.pages.length > 1 ? `${f.pages.length} pages: ` : ''}${someOf(f.pages, PAGES_NAMED)})`,
        columns,
      ),
      ...(f.cause ? [paragraph(c.green(`likeliest cause: ${f.cause.title}`), columns)] : []),
      ...decidersOf(f).map((line) => paragraph(c.dim(line), columns)),
    ].join('\n'),
  )
  const list = (title: string, lines: readonly string[]): readonly string[] =>
    lines.length === 0
      ? []
      : [
          [
            c.bold(title),
            ...lines.slice(0, LINES_NAMED).map((line) => paragraph(line, columns)),
            ...(lines.length > LINES_NAMED ? [`  and ${lines.length - LINES_NAMED} more`] : []),
          ].join('\n'),
        ]
  const notAsked = unseen.flatMap(({ page, because }) => (because === undefined ? [page] : []))
  const guessed = new Set(estimates.map(({ page, property }) => `${page} ${property}`))
  const views = seen.filter(({ report: kind }) => kind === 'observation').length
  const verdict =
    compared.length === 0
      ? c.yellow('no page of the site was observed')
      : findings.length === 0
        ? c.green(`${count(compared.length, 'page')} agree with the site file, in ${count(views, 'view')}`)
        : `${count(findings.length, 'drift')} on ${new Set(findings.flatMap((f) => f.pages)).size} of ${count(compared.length, 'page')}, in ${count(views, 'view')}`
  return `${[
    ...blocks,
    ...list(
      'Not observed:',
      unseen.flatMap(({ page, because }) => (because === undefined ? [] : [`${page}: ${because}`])),
    ),
    ...list(
      'Not asked for:',
      notAsked.length > 0
        ? [`${count(notAsked.length, 'page')} of the site file: ${someOf(notAsked, PAGES_NAMED)}`]
        : [],
    ),
    ...list('Not in the site file:', strange),
    ...list(
      'Heights that differ from the site file (--apply writes them):',
      measured.map(
        ({ id, heights, pages, of }) =>
          `${id}: ${Object.entries(heights)
            .map(([v, px]) => `${v} ${px} px`)
            .join(', ')} on ${pages} of ${of} pages`,
      ),
    ),
    ...list('Estimated only, and different on the real page (a height would settle it):', [...guessed]),
    verdict,
  ].join('\n\n')}\n`
}

/** What differs, without the cause, which has a line of its own. */
const differenceOf = ({ message, cause }: DriftFinding): string =>
  cause ? message.replace(`; likeliest cause: ${cause.title}`, '') : message

/** Who decided what was expected, where that is not what would have to change. */
function decidersOf({ related }: DriftFinding): readonly string[] {
  return related.slice(0, 2).map((place) => `${placeText(place)} ${place.because}`)
}

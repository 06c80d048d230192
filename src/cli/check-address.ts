import type { PlacePicture } from '../draw/findings/html.js'
import { SEVERITIES } from '../inspect/rule.js'
import { findRule } from '../inspect/rules/index.js'
import { draftSite } from '../reality/draft.js'
import type { Observation } from '../reality/observation.js'
import { seenFindings, type SeenFinding } from '../reality/seen-findings.js'
import { readSite } from '../model/read-site.js'
import { resolveSite } from '../resolve/resolve-site.js'
import type { Checked, ReportOptions } from './check-report.js'
import { crawl, type Camera, type Seen } from './crawl.js'
import type { CrawlOptions } from './crawl-options.js'
import { UsageError, type Io } from './io.js'
import { USUAL_VIEWPORTS } from './viewports.js'

/** What of the options of `check` asks for some findings of real pages. */
export interface AddressOptions extends CrawlOptions, Omit<ReportOptions, 'several'> {
  readonly max?: number
}

/**
 * Checks real pages without a site file: they are observed, and what is wrong with them as they are seen is reported.
 *
 * @throws {UsageError} Without a browser's eyes, and where no page could be observed.
 */
export async function checkAddresses(words: readonly string[], options: AddressOptions, io: Io): Promise<Checked> {
  if (!options.browser && words.some((word) => !word.endsWith('.ndjson')))
    throw new UsageError('what a visitor sees of a page is seen in a browser: add --browser')
  if (options.where || options.since !== undefined)
    throw new UsageError('--where and --since need a site file; `wembra draft` makes one of these pages')
  let all: readonly SeenFinding[] = []
  let pictures: Map<string, PlacePicture> | undefined
  const seen = await crawl(
    words,
    options,
    {
      ...{ viewports: USUAL_VIEWPORTS, locators: {}, home: 'https://site.invalid' },
      after: async (found, camera) => {
        all = seenFindings(laidOut(found)).filter((finding) => isAsked(finding, options))
        if (options.format === 'html') pictures = camera ? await picturesOf(all, camera) : new Map()
      },
    },
    io,
  )
  for (const each of seen)
    if (each.report === 'observation-failure') io.err(`${each.url}: not observed: ${each.message}\n`)
  const [first] = laidOut(seen)
  if (!first) throw new UsageError('none of the pages could be observed')
  // What reports contain about the site as a whole, its name, pages and viewports, is that of a draft.
  const resolved = resolveSite(readSite(draftSite(seen).text, { file: first.url }))
  const max = options.max ?? 0
  return { resolved, all, shown: max === 0 ? all : all.slice(0, max), ...(pictures && { pictures }) }
}

const laidOut = (seen: readonly Seen[]): readonly Observation[] =>
  seen.flatMap((each) => (each.report === 'observation' && each.viewport !== null ? [each] : []))

function isAsked({ rule, severity, pages }: SeenFinding, options: AddressOptions): boolean {
  if (options.rule && !options.rule.some((each) => findRule(each).id === rule)) return false
  if (SEVERITIES.indexOf(severity) > SEVERITIES.indexOf(options.severity)) return false
  return options.page === undefined || pages.some((page) => options.page?.some((each) => page.endsWith(each)))
}

/** A report holds pictures of so many findings, of so much of a page. */
const MOST_PICTURES = 60
const PICTURE_HEIGHT = 420

/** Pictures of findings' places, by key; a page that does not come a second time has none. */
async function picturesOf(findings: readonly SeenFinding[], camera: Camera): Promise<Map<string, PlacePicture>> {
  const pictures = new Map<string, PlacePicture>()
  for (const { key, boxes } of findings.slice(0, MOST_PICTURES)) {
    const [first] = boxes
    const viewport = USUAL_VIEWPORTS.find(({ name }) => name === first?.viewport)
    if (!first || !viewport) continue
    const y = Math.max(0, Math.round(first.box.y - 120))
    const view = { x: 0, y, width: viewport.width, height: PICTURE_HEIGHT }
    const source = await camera(first.page, viewport, view).catch(() => undefined)
    if (source !== undefined) pictures.set(key, { source, viewport: viewport.name, view, mark: first.box })
  }
  return pictures
}

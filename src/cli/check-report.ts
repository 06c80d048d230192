import type { Found } from '../inspect/inspect.js'
import { SEVERITIES, type Finding, type Refusal, type Severity } from '../inspect/rule.js'
import { RULES } from '../inspect/rules/index.js'
import { workOrder, type WorkStep } from '../change/work-order.js'
import { readClock } from './options.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { PlacePicture } from '../draw/findings/html.js'
import { UsageError, type Io } from './io.js'
import { count, json, paragraph, placeText, someOf } from './text.js'
import { VERSION } from './version.js'

export const CHECK_FORMATS = ['text', 'json', 'sarif', 'markdown', 'junit', 'html', 'github'] as const
export type CheckFormat = (typeof CHECK_FORMATS)[number]

/** What of the options of `check` its report depends on. */
export interface ReportOptions {
  readonly format: CheckFormat
  readonly rule?: readonly string[]
  readonly page?: readonly string[]
  readonly where?: readonly string[]
  readonly severity: Severity
  readonly since?: string
  readonly by?: 'step'
  readonly now?: string
  /** Whether several sites were asked for, of which some may not have been read. */
  readonly several: boolean
}

/** What was found on a site, and what of it is shown, with its fixes. */
export interface Checked {
  readonly resolved: ResolvedSite
  readonly all: readonly Found[]
  readonly shown: readonly Finding[]
  /** Of real pages: a picture of each finding's place, by its key. */
  readonly pictures?: ReadonlyMap<string, PlacePicture>
}

/**
 * The checks of one site or several in the format that was asked for; each format is loaded when it is.
 *
 * @throws {UsageError} For several sites in a format that has room for one.
 */
export async function checkReport(checks: readonly Checked[], options: ReportOptions, io: Io): Promise<string> {
  const shown = checks.flatMap((check) => check.shown)
  const nameOf = ({ resolved }: Checked): string => resolved.site.data.site.name
  switch (options.format) {
    case 'json': {
      const { checksDocument, findingsDocument } = await import('../draw/documents.js')
      const documents = checks.map((check) => {
        const document = findingsDocument(check.resolved, check.shown)
        if (options.by === undefined) return document
        const steps = orderOf(check, options).map(({ step, findings, open }) => ({
          ...{ step, open },
          findings: findings.map(({ finding: { key }, vanish }) => ({ key, vanish })),
        }))
        return { ...document, steps }
      })
      return json(options.several ? checksDocument(documents) : documents[0])
    }
    case 'sarif':
      return json((await import('../draw/findings/sarif.js')).findingsSarif(shown, RULES, VERSION))
    case 'github':
      return (await import('../draw/findings/github.js')).findingsGithub(shown)
    case 'markdown': {
      const { findingsMarkdown } = await import('../draw/findings/markdown.js')
      return checks.map((each) => findingsMarkdown(nameOf(each), each.shown, each.resolved.pageIds.length)).join('\n')
    }
    case 'junit': {
      const { findingsJunit } = await import('../draw/findings/junit.js')
      return findingsJunit(nameOf(onlyOne(checks, options)), shown, RULES)
    }
    case 'html': {
      const { findingsHtml } = await import('../draw/findings/html.js')
      const only = onlyOne(checks, options)
      return findingsHtml(only.resolved, shown, only.pictures)
    }
    case 'text':
      return checks
        .map((each) => (checks.length > 1 ? `${io.colors.bold(nameOf(each))}\n\n` : '') + checkText(each, io, options))
        .join('\n')
  }
}

function onlyOne(checks: readonly Checked[], { format }: ReportOptions): Checked {
  const [only] = checks
  if (only && checks.length === 1) return only
  throw new UsageError(`--format ${format} takes one site; check them one by one, or use --format sarif`)
}

const PAGES_NAMED = 4

/** One line of where, one of what, one of what to do, for each finding. */
function checkText({ resolved, all, shown }: Checked, io: Io, options: ReportOptions): string {
  const { colors: c, columns } = io
  const paint = { error: c.red, warning: c.yellow, note: c.cyan }
  const viewports = resolved.site.viewports.length
  const block = (f: Finding, more = ''): string => {
    const where = f.viewports.length === viewports ? '' : `; at ${f.viewports.join(', ')} only`
    const pages = `${f.pages.length > 1 ? `${f.pages.length} pages: ` : ''}${someOf(f.pages.map(pageName), PAGES_NAMED)}${where}`
    const what = f.pages.length > 0 ? `${f.message} (${pages})` : f.message
    return [
      `${c.bold(placeText(f.at))} ${paint[f.severity](f.severity)} ${c.dim(f.rule)}`,
      paragraph(what, columns),
      paragraph(c.green(whatToDo(f) + more), columns),
    ].join('\n')
  }
  const blocks =
    options.by === undefined ? shown.map((f) => block(f)) : byStep({ resolved, all, shown }, block, options, io)
  const touched = new Set(all.flatMap((f) => f.pages)).size
  const counts = SEVERITIES.map((s) => count(all.filter((f) => f.severity === s).length, s)).join(', ')
  const fixable = shown.filter((f) => f.fixes.some((m) => !m.choice && !m.others)).length
  const pages = count(resolved.pageIds.length, 'page')
  const hidden = all.length - shown.length
  const summary =
    all.length === 0
      ? c.green(nothingFound(options, pages))
      : [
          `${counts} on ${touched} of ${pages}`,
          ...(hidden > 0 ? [`${count(hidden, 'more finding')} not shown; --max 0 shows all`] : []),
          ...(fixable > 0 ? [`wembra fix repairs ${fixable}${hidden > 0 ? ' of those shown' : ''}`] : []),
        ].join('; ')
  return `${[...blocks, summary].join('\n\n')}\n`
}

const orderOf = ({ resolved, shown }: Checked, { now }: ReportOptions): readonly WorkStep[] =>
  workOrder(resolved, shown, readClock(now))

/** The findings under the steps of the work, and what nobody has decided yet. */
function byStep(
  checked: Checked,
  block: (finding: Finding, more?: string) => string,
  options: ReportOptions,
  { colors: c, columns }: Io,
): readonly string[] {
  const rules = new Map(checked.shown.map(({ key, rule }) => [key, rule]))
  return orderOf(checked, options).flatMap(({ step, findings, open }, n) => [
    c.bold(`${n + 1}. ${step}  ${c.dim(count(findings.length, 'finding'))}`),
    ...findings.map(({ finding, vanish }) => block(finding, vanishInWords(vanish, rules))),
    ...(open.length > 0 ? [paragraph(`undecided: ${open.join('; ')}`, columns)] : []),
  ])
}

function vanishInWords(keys: readonly string[], rules: ReadonlyMap<string, string>): string {
  if (keys.length === 0) return ''
  const names = [...new Set(keys.map((key) => rules.get(key) ?? key.split('@')[0] ?? key))]
  return ` (removes ${count(keys.length, 'other finding')} as well: ${someOf(names, PAGES_NAMED)})`
}

/** A page's id, or the path of its address. */
const pageName = (page: string): string => page.replace(/^https?:\/\/[^/]+/i, '')

/** Nothing was found of what was asked for, which may not be all. */
function nothingFound(options: ReportOptions, pages: string): string {
  if (options.since !== undefined) return `No new conflicts on ${pages}.`
  const isFiltered = options.rule || options.page || options.where || options.severity !== 'note'
  return isFiltered ? 'No conflicts found with these filters.' : `No conflicts found on ${pages}.`
}

/** The first fix that is certain; else the choices; else advice. */
function whatToDo({ fixes, advice, refused = [] }: Finding): string {
  const certain = fixes.find((m) => !m.choice && !m.others)
  if (certain) return `fix: ${certain.title}`
  const choices = fixes.filter((m) => m.choice).map((m) => m.title)
  if (choices.length > 0) return `to do: ${choices.join(', or ')}`
  const others = fixes.find((m) => m.others)
  return others
    ? `fix (${count(others.others?.length ?? 0, 'other page')} would change): ${others.title}`
    : `to do: ${adviceWithTried({ advice, refused })}`
}

/** What a person can do, and what was tried without success. */
export const adviceWithTried = ({ advice, refused = [] }: Pick<Finding, 'advice' | 'refused'>): string =>
  [advice, ...refused.slice(0, REFUSED_NAMED).map(refusalInWords)].join('; ')

/** How many changes that do not help a finding names. */
const REFUSED_NAMED = 1

const refusalInWords = ({ title, because }: Refusal): string => `"${title}" was tried: ${because}`

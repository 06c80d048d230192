import { Option, type Command } from 'commander'
import { readFileSync } from 'node:fs'
import { inspect, type InspectOptions } from '../inspect/inspect.js'
import { SEVERITIES, type Finding, type Severity } from '../inspect/rule.js'
import { RULES } from '../inspect/rules/index.js'
import { isObject } from '../model/json.js'
import { writeWhole } from '../node/write-file.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand, choice } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { readClock, ruleNamed } from './options.js'
import { findPage, openSite, splitSite, type SiteOptions } from './site-argument.js'
import { count, json, paragraph, placeText, someOf } from './text.js'
import { pagesWhere } from './where.js'
import { VERSION } from './version.js'

const FORMATS = ['text', 'json', 'sarif', 'markdown', 'junit', 'html'] as const

interface CheckOptions extends SiteOptions {
  readonly format: (typeof FORMATS)[number]
  readonly failOn: Severity
  readonly rule?: readonly string[]
  readonly page?: readonly string[]
  readonly where?: readonly string[]
  readonly severity: Severity
  readonly max?: string
  readonly fixes: boolean
  readonly since?: string
  readonly now?: string
  readonly out?: string
}

/** `check [site]`: what is in conflict? */
export function addCheck(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<CheckOptions>(program, io, done, {
    name: 'check',
    examples: [
      'wembra check',
      'wembra check --rule header-covers-content --page visit',
      'wembra check --where under=visit --severity warning',
      'wembra check quillmere.site.yaml --format sarif -o wembra.sarif',
      'wembra check --format json -o before.json && wembra check --since before.json',
    ],
    options: [
      choice('--format <format>', 'how to print', FORMATS, 'text'),
      new Option('-o, --out <file>', 'where to write; default standard output'),
      new Option('--rule <rule...>', 'only findings of these rules; `wembra rules` lists them'),
      new Option('--page <page...>', 'only what holds on these pages'),
      new Option('--where <selector...>', 'only what holds on these pages: kind=article,tag=meteors'),
      choice('--severity <severity>', 'only findings of this severity or worse', SEVERITIES, 'note'),
      new Option('--max <number>', `show at most this many findings; default ${SHOWN} as text, else all; 0 shows all`),
      new Option('--no-fixes', 'do not look for fixes, which takes its time'),
      new Option(
        '--since <file>',
        'only what is not in an earlier report (--format json) or snapshot, or holds on more pages now',
      ),
      choice('--fail-on <severity>', 'exit 1 when a finding of this severity or worse is found', SEVERITIES, 'error'),
      new Option('--now <date>', 'the day that years and countdowns are held against; default today'),
    ],
    run: async (words, options) => {
      const resolved = openSite(splitSite(words, options).site, io)
      const checked = check(resolved, options, io)
      const report = await print(resolved, checked, options, io)
      if (options.out === undefined) io.out(report)
      else writeWhole(options.out, report)
      const worst = SEVERITIES.indexOf(options.failOn)
      return checked.all.some((f) => SEVERITIES.indexOf(f.severity) <= worst) ? ExitCode.findings : ExitCode.fine
    },
  })
}

/** So many findings are shown as text when nothing else is said: more than anybody reads at once. */
const SHOWN = 100

/** What was found, and what of it is shown, with its fixes. */
interface Checked {
  readonly all: readonly Finding[]
  readonly shown: readonly Finding[]
}

function check(resolved: ResolvedSite, options: CheckOptions, io: Io): Checked {
  const pages = [
    ...(options.page ?? []).map((id) => findPage(resolved, id).id),
    ...(options.where ? pagesWhere(resolved, options.where).map((page) => page.id) : []),
  ]
  const now = readClock(options.now) ?? new Date()
  const rules = options.rule?.map((id) => ruleNamed(id))
  const max = options.max === undefined ? (options.format === 'text' ? SHOWN : 0) : numberOf(options.max)
  const asked: InspectOptions = {
    ...{ now, severity: options.severity },
    ...((options.page || options.where) && { pages }),
    ...(rules && { rules }),
  }
  const found = withBar(io, 'pages', resolved.pageIds.length, (update) =>
    inspect(resolved, { ...asked, onProgress: ({ done }) => update(done) }),
  )
  const all = options.since === undefined ? found : since(found, options.since)
  const shown = max === 0 ? all : all.slice(0, max)
  if (!options.fixes) return { all, shown }
  // Of what is not shown no fix is looked for; as text only the first one is.
  const keys = new Set(shown.map(({ key }) => key))
  const fixes = options.format === 'text' ? 'first' : 'all'
  const fixed = withBar(io, 'findings', shown.length, (update) =>
    inspect(resolved, { ...asked, keys, fixes, onProgress: ({ step, done }) => step === 'fixes' && update(done) }),
  )
  const byKey = new Map(fixed.map((finding) => [finding.key, finding.fixes]))
  return { all, shown: shown.map((finding) => ({ ...finding, fixes: byKey.get(finding.key) ?? [] })) }
}

function withBar<T>(io: Io, what: string, steps: number, work: (update: (done: number) => void) => T): T {
  const bar = io.progress?.(what, steps)
  try {
    return work((done) => bar?.update(done))
  } finally {
    bar?.stop()
  }
}

function numberOf(text: string): number {
  const n = Number(text)
  if (!Number.isInteger(n) || n < 0) throw new UsageError(`--max takes a whole number, not "${text}"`)
  return n
}

/** What an earlier report does not have: other findings, and pages on which one holds since. */
function since(findings: readonly Finding[], file: string): readonly Finding[] {
  const known = new Map(readReport(file).map(({ key, pages }) => [key, new Set(pages)]))
  return findings.flatMap((finding) => {
    const before = known.get(finding.key)
    if (!before) return [finding]
    const pages = finding.pages.filter((page) => !before.has(page))
    return pages.length > 0 ? [{ ...finding, pages, cases: finding.cases.filter((c) => pages.includes(c.page)) }] : []
  })
}

function readReport(file: string): readonly { readonly key: string; readonly pages: readonly string[] }[] {
  let document: unknown
  try {
    document = JSON.parse(readFileSync(file, 'utf8'))
  } catch (error) {
    throw new UsageError(
      `${file}:1:1: unreadable: ${(error as Error).message}; make one with wembra check --format json -o ${file}`,
    )
  }
  const { wembra, findings } = (document ?? {}) as { wembra?: unknown; findings?: unknown }
  if (wembra === 1 && Array.isArray(findings)) return findings as { key: string; pages: string[] }[]
  // A snapshot has the pages of each finding by its key.
  if (wembra === 1 && isObject(findings))
    return Object.entries(findings).map(([key, pages]) => ({ key, pages: pages as readonly string[] }))
  throw new UsageError(`${file}:1:1: wrong-type: this is no report of wembra check --format json, and no snapshot`)
}

/** Each format is loaded when it is asked for. */
async function print(resolved: ResolvedSite, checked: Checked, options: CheckOptions, io: Io): Promise<string> {
  const { name } = resolved.site.data.site
  const { shown } = checked
  switch (options.format) {
    case 'json':
      return json((await import('../draw/documents.js')).findingsDocument(resolved, shown))
    case 'sarif':
      return json((await import('../draw/findings/sarif.js')).findingsSarif(shown, RULES, VERSION))
    case 'markdown':
      return (await import('../draw/findings/markdown.js')).findingsMarkdown(name, shown, resolved.pageIds.length)
    case 'junit':
      return (await import('../draw/findings/junit.js')).findingsJunit(name, shown, RULES)
    case 'html':
      return (await import('../draw/findings/html.js')).findingsHtml(resolved, shown)
    case 'text':
      return checkText(resolved, checked, io, options)
  }
}

const PAGES_NAMED = 4

/** One line of where, one of what, one of what to do, for each finding. */
function checkText(resolved: ResolvedSite, { all, shown }: Checked, io: Io, options: CheckOptions): string {
  const { colours: c, columns } = io
  const paint = { error: c.red, warning: c.yellow, note: c.cyan }
  const viewports = resolved.site.viewports.length
  const blocks = shown.map((f) => {
    const where = f.viewports.length === viewports ? '' : `; at ${f.viewports.join(', ')} only`
    const pages = `${f.pages.length > 1 ? `${f.pages.length} pages: ` : ''}${someOf(f.pages, PAGES_NAMED)}${where}`
    const what = f.pages.length > 0 ? `${f.message} (${pages})` : f.message
    return [
      `${c.bold(placeText(f.at))} ${paint[f.severity](f.severity)} ${c.dim(f.rule)}`,
      paragraph(what, columns),
      paragraph(c.green(whatToDo(f)), columns),
    ].join('\n')
  })
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

/** Nothing was found of what was asked for, which may not be all. */
function nothingFound(options: CheckOptions, pages: string): string {
  if (options.since !== undefined) return `no new conflicts on ${pages}`
  const isFiltered = options.rule || options.page || options.where || options.severity !== 'note'
  return isFiltered ? 'no conflicts of those asked for' : `no conflicts found on ${pages}`
}

/** The first fix that is certain; else the choices; else advice. */
function whatToDo({ fixes, advice }: Finding): string {
  const certain = fixes.find((m) => !m.choice && !m.others)
  if (certain) return `fix: ${certain.title}`
  const choices = fixes.filter((m) => m.choice).map((m) => m.title)
  if (choices.length > 0) return `choose: ${choices.join(', or ')}`
  const others = fixes.find((m) => m.others)
  return others
    ? `fix (${count(others.others?.length ?? 0, 'other page')} would change): ${others.title}`
    : `to do: ${advice}`
}

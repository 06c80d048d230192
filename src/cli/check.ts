import { Option, type Command } from 'commander'
import { readFileSync } from 'node:fs'
import { findingsDocument } from '../draw/documents.js'
import { findingsHtml } from '../draw/findings/html.js'
import { findingsJunit } from '../draw/findings/junit.js'
import { findingsMarkdown } from '../draw/findings/markdown.js'
import { findingsSarif } from '../draw/findings/sarif.js'
import { inspect } from '../inspect/inspect.js'
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
  readonly since?: string
  readonly now?: string
  readonly out?: string
}

/** `check [site]`: what is in conflict? */
export function addCheck(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<CheckOptions>(program, io, done, {
    name: 'check',
    words: '[site]',
    summary: 'list what is in conflict, most harmful first',
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
      new Option('--max <number>', 'at most so many findings'),
      new Option(
        '--since <file>',
        'only what is not in an earlier report (--format json) or snapshot, or holds on more pages now',
      ),
      choice('--fail-on <severity>', 'exit 1 when a finding of this severity or worse is found', SEVERITIES, 'error'),
      new Option('--now <date>', 'the day that years and countdowns are held against; default today'),
    ],
    run: (words, options) => {
      const resolved = openSite(splitSite(words, options).site, io)
      const findings = selected(resolved, options, io)
      const report = print(resolved, findings, options, io)
      if (options.out === undefined) io.out(report)
      else writeWhole(options.out, report)
      const worst = SEVERITIES.indexOf(options.failOn)
      return findings.some((f) => SEVERITIES.indexOf(f.severity) <= worst) ? ExitCode.findings : ExitCode.fine
    },
  })
}

function selected(resolved: ResolvedSite, options: CheckOptions, io: Io): readonly Finding[] {
  const rules = options.rule?.map((id) => ruleNamed(id).id)
  const pages = [
    ...(options.page ?? []).map((id) => findPage(resolved, id).id),
    ...(options.where ? pagesWhere(resolved, options.where).map((page) => page.id) : []),
  ]
  const asked = options.page || options.where ? { pages } : {}
  const now = readClock(options.now)
  const bar = io.progress?.('pages', resolved.pageIds.length)
  const all = inspect(resolved, { ...asked, ...(now && { now }), fixes: true, onProgress: ({ step, done }) => step === 'pages' && bar?.update(done) })
  bar?.stop()
  const worst = SEVERITIES.indexOf(options.severity)
  const found = all.filter((f) => SEVERITIES.indexOf(f.severity) <= worst && (!rules || rules.includes(f.rule)))
  const fresh = options.since === undefined ? found : since(found, options.since)
  return options.max === undefined ? fresh : fresh.slice(0, numberOf(options.max))
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

function print(resolved: ResolvedSite, findings: readonly Finding[], options: CheckOptions, io: Io): string {
  const { name } = resolved.site.data.site
  switch (options.format) {
    case 'json':
      return json(findingsDocument(resolved, findings))
    case 'sarif':
      return json(findingsSarif(findings, RULES, VERSION))
    case 'markdown':
      return findingsMarkdown(name, findings, resolved.pageIds.length)
    case 'junit':
      return findingsJunit(name, findings, RULES)
    case 'html':
      return findingsHtml(resolved, findings)
    case 'text':
      return checkText(resolved, findings, io, options.since !== undefined)
  }
}

const PAGES_NAMED = 4

/** One line of where, one of what, one of what to do, for each finding. */
export function checkText(resolved: ResolvedSite, findings: readonly Finding[], io: Io, isSince = false): string {
  const { colours: c, columns } = io
  const paint = { error: c.red, warning: c.yellow, note: c.cyan }
  const all = resolved.site.viewports.length
  const blocks = findings.map((f) => {
    const where = f.viewports.length === all ? '' : `; at ${f.viewports.join(', ')} only`
    const pages = `${f.pages.length > 1 ? `${f.pages.length} pages: ` : ''}${someOf(f.pages, PAGES_NAMED)}${where}`
    const what = f.pages.length > 0 ? `${f.message} (${pages})` : f.message
    return [
      `${c.bold(placeText(f.at))} ${paint[f.severity](f.severity)} ${c.dim(f.rule)}`,
      paragraph(what, columns),
      paragraph(c.green(whatToDo(f)), columns),
    ].join('\n')
  })
  const touched = new Set(findings.flatMap((f) => f.pages)).size
  const counts = SEVERITIES.map((s) => count(findings.filter((f) => f.severity === s).length, s)).join(', ')
  const fixable = findings.filter((f) => f.fixes.some((m) => !m.choice && !m.others)).length
  const summary =
    findings.length === 0
      ? c.green(`nothing ${isSince ? 'new ' : ''}is in conflict on ${count(resolved.pageIds.length, 'page')}`)
      : `${counts} on ${touched} of ${count(resolved.pageIds.length, 'page')}${fixable > 0 ? `; wembra fix repairs ${fixable}` : ''}`
  return `${[...blocks, summary].join('\n\n')}\n`
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

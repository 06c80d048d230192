import { Option, type Command } from 'commander'
import { inspect, type Found, type InspectOptions, type InspectProgress } from '../inspect/inspect.js'
import { SEVERITIES, type Finding, type Severity } from '../inspect/rule.js'
import { findRule } from '../inspect/rules/index.js'
import { WembraError } from '../model/wembra-error.js'
import { writeWhole } from '../node/write-file.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { checkReport, CHECK_FORMATS, type Checked, type CheckFormat, type ReportOptions } from './check-report.js'
import { addCommand, messageOf } from './command.js'
import { crawlOptions, leadsToPages, type CrawlOptions } from './crawl-options.js'
import { ExitCode, UsageError, type Io } from './io.js'
import {
  choice,
  failOnOption,
  formatOption,
  nowOption,
  numberOption,
  outOption,
  pageOption,
  readClock,
  ruleOption,
  whereOption,
} from './options.js'
import { newSince } from './since.js'
import { findPage, openSite, type SiteOptions } from './site-argument.js'
import { watchSites } from './watch.js'
import { pagesWhere } from './where.js'

interface CheckOptions extends SiteOptions, CrawlOptions, Omit<ReportOptions, 'several'> {
  readonly failOn: Severity
  readonly maxWarnings?: number
  readonly max?: number
  readonly fixes: boolean
  readonly now?: string
  readonly out?: string
  readonly watch?: true
}

/** `check [site…]`: which conflicts are there, in site files or on real pages? */
export function addCheck(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<CheckOptions>(program, io, done, {
    name: 'check',
    examples: [
      'wembra check',
      'wembra check --rule header-covers-content --page visit',
      'wembra check --where under=visit --severity warning',
      'wembra check quillmere.site.yaml fellside.site.yaml --format sarif -o wembra.sarif',
      'wembra check --format json -o before.json && wembra check --since before.json',
      'wembra check --by step',
      'wembra check --watch',
      'wembra check https://quillmere.example/sitemap.xml --browser --format html -o conflicts.html',
    ],
    options: [
      formatOption(CHECK_FORMATS, 'how to print; github: annotations in a workflow'),
      outOption(),
      ruleOption(),
      pageOption('only conflicts on these pages'),
      whereOption('only conflicts on pages that match: kind=article,tag=meteors'),
      choice('--severity <severity>', 'only findings of this severity or worse', SEVERITIES, 'note'),
      numberOption('--max <number>', `show at most this many findings; default: ${SHOWN} as text, else all; 0: all`),
      new Option('--no-fixes', 'do not look for fixes: faster'),
      new Option('--since <file>', 'only what is new since an earlier report (--format json) or snapshot'),
      new Option('--by <what>', 'group by the step of the work at which each conflict is fixed').choices(['step']),
      failOnOption('error'),
      numberOption('--max-warnings <number>', 'exit with 1 when there are more warnings than this'),
      new Option('-w, --watch', 'check again whenever a file of the site changes'),
      nowOption(),
      ...crawlOptions(),
    ],
    run: async (sites, options, _site, io) => {
      const named = sites.length > 0 ? sites : ['.']
      if (!options.watch) return checkAll(named, options, io)
      if (named.some(leadsToPages)) throw new UsageError('--watch needs files: real pages give no notice of changes')
      if (named.includes('-')) throw new UsageError('--watch needs files: standard input does not change')
      return watchSites(named, io, () => checkAll(named, options, io))
    },
  })
}

/** Checks one site after the other; one that cannot be read does not keep the others from it. The worst decides. */
async function checkAll(sites: readonly string[], options: CheckOptions, io: Io): Promise<ExitCode> {
  let worst: ExitCode = ExitCode.fine
  const note = (code: ExitCode): void => void (worst = Math.max(worst, code) as ExitCode)
  const checks: Checked[] = []
  const pages = sites.filter(leadsToPages)
  const asked = [...(pages.length > 0 ? [pages] : []), ...sites.filter((site) => !leadsToPages(site))]
  for (const each of asked)
    try {
      const checked =
        typeof each === 'string'
          ? check(openSite(each, io), options, io)
          : await (await import('./check-address.js')).checkAddresses(each, options, io)
      checks.push(checked)
      note(exitOf(checked.all, options))
    } catch (error) {
      if (!(error instanceof WembraError)) throw error
      io.err(messageOf(error, 'check'))
      note(ExitCode.badInput)
    }
  if (checks.length === 0) return worst
  const report = await checkReport(checks, { ...options, several: asked.length > 1 }, io)
  if (options.out === undefined) io.out(report)
  else writeWhole(options.out, report)
  return worst
}

function exitOf(all: readonly Found[], { failOn, maxWarnings }: CheckOptions): ExitCode {
  const worst = SEVERITIES.indexOf(failOn)
  const fails = all.some((f) => SEVERITIES.indexOf(f.severity) <= worst)
  const warnings = all.filter((f) => f.severity === 'warning').length
  return fails || (maxWarnings !== undefined && warnings > maxWarnings) ? ExitCode.findings : ExitCode.fine
}

/** So many findings are shown as text when no number is asked for: more than anybody reads at once. */
const SHOWN = 100

function check(resolved: ResolvedSite, options: CheckOptions, io: Io): Checked {
  const pages = [
    ...(options.page ?? []).map((id) => findPage(resolved, id).id),
    ...(options.where ? pagesWhere(resolved, options.where).map((page) => page.id) : []),
  ]
  const now = readClock(options.now) ?? new Date()
  const rules = options.rule?.map(findRule)
  const max = options.max ?? (options.format === 'text' ? SHOWN : 0)
  const asked: InspectOptions = {
    ...{ now, severity: options.severity },
    ...((options.page || options.where) && { pages }),
    ...(rules && { rules }),
  }
  const fixes = options.fixes && (options.format === 'text' ? 'first' : 'all')
  if (options.since !== undefined) return sinceThen(resolved, asked, { since: options.since, max, fixes }, io)
  const cases = WITH_CASES.has(options.format)
  let all: readonly Found[] = []
  const onFound = (found: readonly Found[]): void => void (all = found)
  // What is not shown is counted only, and no fix of it is looked for.
  const shown = inspectWithBars(
    resolved,
    { ...asked, cases, fixes, max: max === 0 ? Infinity : max, onFound, isLast: true },
    io,
  )
  return { resolved, all, shown }
}

interface Since {
  readonly since: string
  readonly max: number
  readonly fixes: NonNullable<InspectOptions['fixes']>
}

/** What is new since an earlier report, which all must be told for. */
function sinceThen(resolved: ResolvedSite, asked: InspectOptions, { since, max, fixes }: Since, io: Io): Checked {
  const all = newSince(inspectWithBars(resolved, { ...asked, cases: true }, io), since)
  const shown = max === 0 ? all : all.slice(0, max)
  const keys = new Set(shown.map(({ key }) => key))
  const fixed = fixes === false ? [] : inspectWithBars(resolved, { ...asked, cases: false, keys, fixes }, io)
  const byKey = new Map(fixed.map((finding) => [finding.key, finding]))
  // What is new has fewer pages than the finding as a whole.
  const withFixes = (finding: Finding): Finding => {
    const { fixes: proven, refused } = byKey.get(finding.key) ?? finding
    return { ...finding, fixes: proven, ...(refused && { refused }) }
  }
  return { resolved, all, shown: shown.map(withFixes) }
}

/** Reports that list each page and viewport with its numbers, or all related places. */
const WITH_CASES: ReadonlySet<CheckFormat> = new Set(['json', 'sarif', 'html'])

/** Shows how far it is: pages that were looked at, then findings whose fixes were looked for. */
function inspectWithBars(resolved: ResolvedSite, options: InspectOptions, io: Io): readonly Finding[] {
  const what = { pages: 'pages', fixes: 'findings' } as const
  let shown:
    | { readonly step: InspectProgress['step']; readonly bar: ReturnType<NonNullable<Io['progress']>> }
    | undefined
  const onProgress = ({ step, done, all }: InspectProgress): void => {
    if (!io.progress) return
    if (shown?.step !== step) {
      shown?.bar.stop()
      shown = { step, bar: io.progress(what[step], all) }
    }
    shown.bar.update(done)
  }
  try {
    return inspect(resolved, { ...options, onProgress })
  } finally {
    shown?.bar.stop()
  }
}

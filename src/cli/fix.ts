import { adviceWithTried } from './check-report.js'
import { createTwoFilesPatch } from 'diff'
import { isEqual as equal } from 'es-toolkit'
import { Option, type Command } from 'commander'
import { EditError } from '../change/edit-text.js'
import { fixSite, type AppliedFix, type FixResult } from '../change/fix.js'
import { rewriteSite } from '../change/rewrite.js'
import { undoPatch } from '../change/undo.js'
import { fixDocument } from '../draw/documents.js'
import { inspect } from '../inspect/inspect.js'
import type { Finding } from '../inspect/rule.js'
import { findRule } from '../inspect/rules/index.js'
import type { Site } from '../model/site.js'
import { sharingSites, type SharingSite } from '../node/sharing-sites.js'
import { writeSiteFiles } from '../node/write-site-files.js'
import { writeWhole } from '../node/write-file.js'
import { resolveSite, type ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { formatOption, nowOption, numberOption, pageOption, readClock, ruleOption, undoOption } from './options.js'
import { findPage, openSite, type SiteOptions } from './site-argument.js'
import { refuseStdin, undoText } from './apply.js'
import { count, json, paragraph, placeText, someOf } from './text.js'

interface FixCliOptions extends SiteOptions {
  readonly undo?: string
  readonly format: 'text' | 'json'
  readonly rule?: readonly string[]
  readonly page?: readonly string[]
  readonly dryRun?: true
  readonly otherPages?: true
  readonly choose?: number
  readonly base?: true
  readonly now?: string
}

/** `fix [site]`: applies the fixes that are certain. */
export function addFix(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<FixCliOptions>(program, io, done, {
    name: 'fix',
    examples: [
      'wembra fix --dry-run',
      'wembra fix --rule header-covers-content',
      'wembra fix --page visit --other-pages',
      'wembra fix --rule assign-tie --choose 1',
    ],
    options: [
      formatOption(['text', 'json']),
      ruleOption(),
      pageOption('only conflicts on these pages'),
      new Option('--dry-run', 'show what would be written, write nothing'),
      new Option('--other-pages', 'apply fixes that change pages without the conflict, too'),
      undoOption(),
      new Option('--base', 'write into the files that the site extends, for every site that extends them'),
      numberOption('--choose <n>', 'apply the nth choice where a person has to choose (with --rule)', 1),
      nowOption(),
    ],
    run: (_words, options, site, io) => {
      const resolved = openSite(site, io)
      refuseStdin(resolved.site)
      const now = readClock(options.now) ?? new Date()
      const result = fixSite(resolved, { ...readOptions(resolved, options), now })
      const written = writeFixes(resolved.site, result, options.base ?? false)
      const sharing = options.base ? sharingSites(resolved.site, written.texts, now) : []
      const left = leftIn(result, written, now)
      const undo = undoPatch(
        resolved.site,
        written.written.flatMap((fix) => fix.patch),
      )
      if (!options.dryRun) {
        if (options.undo !== undefined) writeWhole(options.undo, json(undo))
        writeSiteFiles(resolved.site, written.texts)
      }
      const diffs = diffsOf(resolved.site, written.texts)
      const report = { ...result, ...written, left, diffs, sharing, dryRun: options.dryRun ?? false, undo }
      io.out(options.format === 'json' ? json(fixDocument(report)) : fixText(report, io))
      if (options.format === 'text' && !options.dryRun && undo.length > 0) io.out(undoText(undo, options, io))
      return left.some((f) => f.severity === 'error') ? ExitCode.findings : ExitCode.fine
    },
  })
}

function readOptions(resolved: ResolvedSite, options: FixCliOptions) {
  const { choose } = options
  if (choose !== undefined && !options.rule)
    throw new UsageError('--choose needs --rule: name the rule whose conflicts you decide')
  return {
    ...(options.rule && { rules: options.rule.map(findRule) }),
    ...(options.page && { pages: options.page.map((id) => findPage(resolved, id).id) }),
    ...(options.otherPages && { otherPages: true }),
    ...(choose !== undefined && { choose }),
    ...(options.base && { base: true }),
  }
}

export interface WrittenFixes {
  readonly texts: ReadonlyMap<string, string>
  readonly after: ResolvedSite
  readonly written: readonly AppliedFix[]
  /** Fixes that hold but cannot be written in place, with why. */
  readonly refused: readonly { readonly fix: AppliedFix; readonly because: string }[]
}

/** What is left, by its places in the files as they are written. */
function leftIn(result: FixResult, written: WrittenFixes, now: Date): readonly Finding[] {
  if (written.refused.length > 0) return inspect(written.after, { now, fixes: 'first' })
  const [before, after] = [result.after.site, written.after.site]
  return result.left.map((finding) => ({
    ...finding,
    // What is decided in a style sheet is there still.
    at: equal(before.locate(finding.at.pointer), finding.at) ? after.locate(finding.at.pointer) : finding.at,
    related: finding.related.map(({ pointer, because }) => ({ ...after.locate(pointer), because })),
  }))
}

/** What a person can do about a finding: one of the choices by their numbers, a fix that reaches further, or the advice. */
function whatIsLeft(finding: Finding): readonly string[] {
  const choices = finding.fixes.filter(({ choice }) => choice)
  if (choices.length > 0) return choices.map(({ title }, n) => `${n + 1} ${title}`)
  const wide = finding.fixes.find(({ others }) => others)
  if (!wide) return [adviceWithTried(finding)]
  return [`with --other-pages: ${wide.title} (${count(wide.others?.length ?? 0, 'other page')} would change)`]
}

/** Writes fixes into the texts, all together where that can be done; one that cannot be written in place is left, and reported. */
function writeFixes(site: Site, { applied }: FixResult, base: boolean): WrittenFixes {
  const state = { current: site, texts: new Map<string, string>() }
  const written: AppliedFix[] = []
  const refused: { fix: AppliedFix; because: string }[] = []
  const write = (fixes: readonly AppliedFix[]): void => {
    if (fixes.length === 0) return
    try {
      const result = rewriteSite(
        state.current,
        fixes.flatMap((fix) => fix.patch),
        { base },
      )
      for (const [file, text] of result.texts) state.texts.set(file, text)
      state.current = result.site
      written.push(...fixes)
    } catch (error) {
      if (!(error instanceof EditError)) throw error
      const [only, ...others] = fixes
      if (only && others.length === 0) refused.push({ fix: only, because: error.message })
      else for (const half of [fixes.slice(0, fixes.length / 2), fixes.slice(fixes.length / 2)]) write(half)
    }
  }
  write(applied)
  return { texts: state.texts, after: resolveSite(state.current), written, refused }
}

function diffsOf(site: Site, texts: ReadonlyMap<string, string>): readonly string[] {
  return [...texts].map(([file, text]) => {
    const before = site.sources.find((s) => s.file === file)?.text || (site.files.read(file) ?? '')
    return createTwoFilesPatch(file, file, before, text, undefined, undefined, { context: 2 }).replace(
      /^(Index:.*|=+)\n/gm,
      '',
    )
  })
}

/** Describes how another site changes. */
function sharingText({ file, shares, diff }: SharingSite): string {
  if (!diff) return `  ${file} extends ${shares.join(', ')} and could not be read with the change`
  const changed = diff.groups.reduce((sum, { pages }) => sum + pages.length, 0)
  const findings = `${diff.caused.length} new, ${count(diff.cured.length, 'finding')} gone`
  return `  ${file} extends ${shares.join(', ')}: ${count(changed, 'page')} ${changed === 1 ? 'changes' : 'change'}; ${findings}`
}

interface FixReport extends WrittenFixes {
  readonly left: readonly Finding[]
  readonly diffs: readonly string[]
  readonly sharing: readonly SharingSite[]
  readonly dryRun: boolean
}

function fixText({ written, refused, left, diffs, sharing, dryRun, after }: FixReport, io: Io): string {
  const { colors: c, columns } = io
  const paintLine = (line: string): string =>
    line.startsWith('+')
      ? c.green(line)
      : line.startsWith('-')
        ? c.red(line)
        : line.startsWith('@@')
          ? c.cyan(line)
          : line
  const done = written.map((fix) =>
    paragraph(`${c.green('✓')} ${c.bold(fix.rule)} ${fix.title} ${c.dim(`(${someOf(fix.pages, 4)})`)}`, columns, 0),
  )
  const not = refused.map(({ fix, because }) =>
    paragraph(`${c.yellow('–')} ${c.bold(fix.rule)} ${fix.title}: ${because}`, columns, 0),
  )
  const rest = left.map((f) => {
    const how = whatIsLeft(f).map((line) => paragraph(c.dim(line), columns, 4))
    return [`${placeText(f.at)} ${f.severity} ${c.dim(f.rule)}`, paragraph(f.message, columns, 2), ...how].join('\n')
  })
  const verb = dryRun ? 'would be written' : 'written'
  return (
    [
      ...diffs.map((diff) => diff.trimEnd().split('\n').map(paintLine).join('\n')),
      ...(sharing.length > 0 ? [[c.bold('Other sites of these files:'), ...sharing.map(sharingText)].join('\n')] : []),
      ...(done.length + not.length > 0 ? [[...done, ...not].join('\n')] : []),
      ...(rest.length > 0 ? [c.bold('Left for you to decide:'), ...rest] : []),
      `${count(written.length, 'fix')} ${verb}, ${count(left.length, 'finding')} left on ${count(after.pageIds.length, 'page')}`,
    ].join('\n\n') + '\n'
  )
}

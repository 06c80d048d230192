import { Option, type Command } from 'commander'
import { readFileSync } from 'node:fs'
import { copyInstead, sharedEdits, type SharedEdit } from '../change/copy-instead.js'
import { diffSites, diffSnapshots, type SiteDiff } from '../change/diff.js'
import type { ChangeGroup } from '../change/page-changes.js'
import { setPath, unsetPath } from '../change/goals.js'
import { readSnapshot } from '../change/snapshot-format.js'
import { takeSnapshot, type Snapshot } from '../change/snapshot.js'
import { compareShared, type SharedComparison } from '../change/catalog.js'
import { valueInWords } from '../draw/catalog.js'
import { comparisonDocument, diffDocument } from '../draw/documents.js'
import { diffHtml } from '../draw/diff-html.js'
import { diffMarkdown } from '../draw/diff-markdown.js'
import {
  changeInWords,
  diffSummary,
  findingChangesInWords,
  groupHeadline,
  siteChangesInWords,
} from '../draw/diff-words.js'
import { isObject, type Json } from '../model/json.js'
import type { Patch } from '../model/patch.js'
import { isRevision, loadRevision } from '../node/git.js'
import { writeWhole } from '../node/write-file.js'
import { resolveSite, type ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { againOption, formatOption, listOption, nowOption, outOption, readClock, undoOption } from './options.js'
import { findPage, openSite, type SiteOptions } from './site-argument.js'
import { applyPatchToFiles } from './apply.js'
import { columnsOf, count, json, paragraph, someOf } from './text.js'
import { valueOf } from './value.js'

interface DiffOptions extends SiteOptions {
  readonly apply?: true
  readonly undo?: string
  readonly format: 'text' | 'json' | 'markdown' | 'html'
  readonly set?: readonly string[]
  readonly unset?: readonly string[]
  readonly patch?: string
  readonly onlyFor?: readonly string[]
  readonly out?: string
  readonly now?: string
}

/** `diff <before> <after>`, `diff [site] --set`: what would change? */
export function addDiff(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<DiffOptions>(program, io, done, {
    name: 'diff',
    examples: [
      'wembra diff --set templates.campaign.layout.width.max=72rem',
      'wembra diff --set surrounds.site-footer.rows.0.padding=24px --only-for contact',
      'wembra diff --unset pages.visit.layout --patch more.json',
      'wembra diff live.site.yaml draft.site.yaml --format markdown',
      'wembra diff HEAD~1:quillmere.site.yaml quillmere.site.yaml',
      'wembra diff before.snapshot.json quillmere.site.yaml',
      'wembra diff template:campaign template:story',
    ],
    options: [
      formatOption(['text', 'json', 'markdown', 'html']),
      againOption('--set <path=value>', 'preview with this value'),
      listOption('--unset <path>', 'preview without this setting'),
      new Option('--patch <file>', 'preview with this JSON Patch (RFC 6902)'),
      listOption('--only-for <page>', 'edit a copy of the shared surround, for these pages only'),
      new Option('--apply', 'write the change to the files'),
      undoOption(),
      outOption(),
      nowOption(),
    ],
    run: (words, options, site, io) => {
      const shared = sharedNamed(words)
      if (shared) return compareShares(shared, site, options, io)
      const now = readClock(options.now) ?? new Date()
      const isWhatIf = options.set !== undefined || options.unset !== undefined || options.patch !== undefined
      const report = isWhatIf ? whatIf(words, options, io, now) : compareTwo(words, options, io, now)
      const text = print(report, options, io)
      if (options.apply) return applyChange(report, text, options, io)
      if (options.out === undefined) io.out(text)
      else writeWhole(options.out, text)
      return ExitCode.fine
    },
  })
}

/** Two things of one kind that are to be compared: `template:a template:b`. */
interface SharedPair {
  readonly kind: SharedComparison['kind']
  readonly a: string
  readonly b: string
}

/** @throws {UsageError} Where only one of two names is that of a template or surround, or they are of two kinds. */
function sharedNamed(words: readonly string[]): SharedPair | undefined {
  const named = words.slice(0, 2).map((word) => /^(template|surround):(.+)$/.exec(word))
  const [a, b] = named
  if (!a && !b) return undefined
  const [kind, other] = [a?.[1], b?.[1]]
  if (!a || !b || kind !== other)
    throw new UsageError('compare two templates or two surrounds: wembra diff template:campaign template:story')
  return { kind: kind as SharedPair['kind'], a: a[2] ?? '', b: b[2] ?? '' }
}

function compareShares({ kind, a, b }: SharedPair, site: string, options: DiffOptions, io: Io): ExitCode {
  if (options.format !== 'text' && options.format !== 'json')
    throw new UsageError(`--format ${options.format} is not for templates and surrounds; use text or json`)
  const resolved = openSite(site, io)
  const compared = compareShared(resolved, kind, a, b)
  const text = options.format === 'json' ? json(comparisonDocument(compared)) : comparisonText(compared, io)
  if (options.out === undefined) io.out(text)
  else writeWhole(options.out, text)
  return ExitCode.fine
}

function comparisonText({ kind, a, b, differences, same }: SharedComparison, { colors: c }: Io): string {
  const alike = `${count(same, 'setting, slot or item is', 'settings, slots and items are')} the same`
  if (differences.length === 0) return `${c.green(`The ${kind}s ${a} and ${b} do not differ`)}; ${alike}.\n`
  const rows = differences.map((each) => [each.what, valueInWords(each.a), valueInWords(each.b)])
  return `${columnsOf(rows, ['', c.bold(a), c.bold(b)])}\n\n${count(differences.length, 'difference')}; ${alike}.\n`
}

/** Writes a change after reporting what it changes. */
function applyChange({ before, patch }: DiffReport, text: string, options: DiffOptions, io: Io): ExitCode {
  if (!before || !patch) throw new UsageError('--apply needs --set, --unset or --patch: two states are only compared')
  if (options.format === 'text') io.out(`${text}\n`)
  return applyPatchToFiles(before.site, patch, 'the change', options, io)
}

interface DiffReport {
  readonly diff: SiteDiff
  readonly shared: readonly SharedEdit[]
  readonly patch?: Patch
  /** Both states, where they are sites and can be drawn. */
  readonly before?: ResolvedSite
  readonly after?: ResolvedSite
}

function whatIf(words: readonly string[], options: DiffOptions, io: Io, now: Date): DiffReport {
  const [word, extra] = words
  if (extra !== undefined) throw new UsageError(`unexpected word "${extra}": a change is previewed on one site`)
  const before = openSite(word ?? options.site ?? '.', io)
  const asked = readPatch(before, options)
  const pages = options.onlyFor?.map((id) => findPage(before, id).id)
  const copied = pages && copyInstead(before, asked, pages)
  if (pages && !copied) throw new UsageError('--only-for needs an edit of one shared surround, and nothing else')
  const patch = copied ?? asked
  const after = before.with(patch)
  return {
    diff: diffSites(before, after, { now }),
    shared: copied ? [] : sharedEdits(before, patch),
    patch,
    before,
    after,
  }
}

function readPatch(before: ResolvedSite, options: DiffOptions): Patch {
  const fromFile = options.patch === undefined ? [] : readPatchFile(options.patch)
  // Each is set on what those before it have left, so that none makes again what is there by then.
  let site = before
  const patch = [...fromFile]
  const step = (operations: Patch): void => {
    site = site.with(operations)
    patch.push(...operations)
  }
  if (fromFile.length > 0) site = site.with(fromFile)
  for (const path of options.unset ?? []) step(unsetPath(site.site, path))
  for (const set of options.set ?? []) step(setPath(site.site, ...pathAndValue(set)))
  return patch
}

/** `a.b=value`; the value is read as YAML. */
function pathAndValue(text: string): [string, Json] {
  const at = text.indexOf('=')
  if (at < 1) throw new UsageError(`"${text}" has no value; write path=value: --set theme.layout.spacing=40px`)
  return [text.slice(0, at), valueOf(text.slice(at + 1))]
}

function readPatchFile(file: string): Patch {
  const fail = (why: string): never => {
    throw new UsageError(
      `${file}:1:1: ${why}; a patch is a list of operations: [ { "op": "replace", "path": "/theme/…", "value": … } ]`,
    )
  }
  let found: unknown
  try {
    found = JSON.parse(readFileSync(file, 'utf8'))
  } catch (error) {
    fail(`unreadable: ${(error as Error).message}`)
  }
  const isOperation = (each: unknown): boolean =>
    isObject(each) && typeof each['op'] === 'string' && typeof each['path'] === 'string'
  if (!Array.isArray(found) || !found.every(isOperation)) fail('wrong-type: expected a JSON Patch')
  return found as Patch
}

function compareTwo(words: readonly string[], options: DiffOptions, io: Io, now: Date): DiffReport {
  const [a, b] = words
  if (a === undefined)
    throw new UsageError('name two states of a site, or preview a change: wembra diff --set theme.layout.spacing=40px')
  const [before, after] = [a, b ?? options.site ?? '.'].map((word) => openState(word, io, now))
  const diff = diffSnapshots(before?.snapshot as Snapshot, after?.snapshot as Snapshot)
  return {
    diff,
    shared: [],
    ...(before?.resolved && { before: before.resolved }),
    ...(after?.resolved && { after: after.resolved }),
  }
}

/** A site file, one at a git revision, or a saved snapshot. */
function openState(word: string, io: Io, now: Date): { readonly snapshot: Snapshot; readonly resolved?: ResolvedSite } {
  if (isRevision(word)) {
    const resolved = resolveSite(loadRevision(word))
    return { snapshot: takeSnapshot(resolved, { now }), resolved }
  }
  const snapshot = word.endsWith('.json') ? savedSnapshot(word) : undefined
  if (snapshot) return { snapshot }
  const resolved = openSite(word, io)
  return { snapshot: takeSnapshot(resolved, { now }), resolved }
}

/** What a snapshot begins with; another JSON file is a site. */
const IS_SNAPSHOT = /^\s*\{[^{[]{0,200}"report"\s*:\s*"snapshot"/

function savedSnapshot(file: string): Snapshot | undefined {
  let text: string
  try {
    text = readFileSync(file, 'utf8')
  } catch {
    return undefined // no file: opening it as a site says so
  }
  return IS_SNAPSHOT.test(text) ? readSnapshot(text, file) : undefined
}

function print(report: DiffReport, options: DiffOptions, io: Io): string {
  switch (options.format) {
    case 'json':
      return json(diffDocument(report.diff, report.shared, report.patch))
    case 'markdown':
      return diffMarkdown(report.diff)
    case 'html':
      return diffHtml(report.diff, report.before, report.after)
    case 'text':
      return diffText(report, io)
  }
}

const PAGES_NAMED = 12

function diffText({ diff, shared }: DiffReport, io: Io): string {
  const { colors: c, columns } = io
  const groupText = (group: ChangeGroup): string =>
    [
      c.bold(groupHeadline(group)),
      ...changeInWords(group).map((line) => paragraph(line, columns)),
      ...(group.pages.length > 1 ? [paragraph(c.dim(someOf(group.pages, PAGES_NAMED)), columns)] : []),
    ].join('\n')
  const warned = shared.map(({ surround, pages }) =>
    paragraph(
      c.yellow(
        `"${surround}" is shared: ${count(pages.length, 'page shows', 'pages show')} it. --only-for <page> edits a copy for some pages only.`,
      ),
      columns,
      0,
    ),
  )
  const paint = { new: c.red, worse: c.red, better: c.green, gone: c.green }
  const findings = findingChangesInWords(diff).map(([how, what]) => paint[how](`${how.padEnd(7)}${what}`))
  const others = siteChangesInWords(diff)
  const isNothing = diff.groups.length + others.length + findings.length === 0
  const summary = isNothing ? c.green(`Nothing changes on ${count(diff.unchanged, 'page')}.`) : diffSummary(diff)
  const blocks = [
    ...warned,
    ...diff.groups.map(groupText),
    ...(others.length > 0 ? [others.map((line) => paragraph(line, columns, 0)).join('\n')] : []),
    ...(findings.length > 0 ? [findings.join('\n')] : []),
    summary,
  ]
  return `${blocks.join('\n\n')}\n`
}

import type { Command } from 'commander'
import { findingsDocument } from '../draw/documents.js'
import { inspect } from '../inspect/inspect.js'
import { SEVERITIES, type Finding, type Severity } from '../inspect/rule.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand, choice } from './command.js'
import { ExitCode, type Io } from './io.js'
import { openSite, splitSite, type SiteOptions } from './site-argument.js'
import { count, json, paragraph, placeText, someOf } from './text.js'

interface CheckOptions extends SiteOptions {
  readonly format: 'text' | 'json'
  readonly failOn: Severity
}

/** `check [site]`: what is in conflict? */
export function addCheck(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<CheckOptions>(program, io, done, {
    name: 'check',
    words: '[site]',
    summary: 'list what is in conflict, most harmful first',
    examples: ['wembra check', 'wembra check quillmere.site.yaml --format json', 'wembra check --fail-on warning'],
    options: [
      choice('--format <format>', 'how to print', ['text', 'json'], 'text'),
      choice('--fail-on <severity>', 'exit 1 when a finding of this severity or worse is found', SEVERITIES, 'error'),
    ],
    run: (words, options) => {
      const resolved = openSite(splitSite(words, options).site, io)
      const findings = inspect(resolved)
      io.out(options.format === 'json' ? json(findingsDocument(resolved, findings)) : checkText(resolved, findings, io))
      const worst = SEVERITIES.indexOf(options.failOn)
      return findings.some((f) => SEVERITIES.indexOf(f.severity) <= worst) ? ExitCode.findings : ExitCode.fine
    },
  })
}

const PAGES_NAMED = 6

/** One line of where, one of what, one of what to do, for each finding. */
export function checkText(resolved: ResolvedSite, findings: readonly Finding[], io: Io): string {
  const { colours: c, columns } = io
  const paint = { error: c.red, warning: c.yellow, note: c.cyan }
  const all = resolved.site.viewports.length
  const blocks = findings.map((f) => {
    const where = f.viewports.length === all ? '' : `; at ${f.viewports.join(', ')} only`
    const pages = `${f.pages.length > 1 ? `${f.pages.length} pages: ` : ''}${someOf(f.pages, PAGES_NAMED)}${where}`
    const what = f.pages.length > 0 ? `${f.message} (${pages})` : f.message
    const [mend] = f.mends
    const todo = mend ? `mend: ${mend.title}` : `to do: ${f.advice}`
    return [
      `${c.bold(placeText(f.at))} ${paint[f.severity](f.severity)} ${c.dim(f.rule)}`,
      paragraph(what, columns),
      paragraph(c.green(todo), columns),
    ].join('\n')
  })
  const touched = new Set(findings.flatMap((f) => f.pages)).size
  const counts = SEVERITIES.map((s) => count(findings.filter((f) => f.severity === s).length, s)).join(', ')
  const summary =
    findings.length === 0
      ? c.green(`nothing is in conflict on ${count(resolved.pageIds.length, 'page')}`)
      : `${counts} on ${touched} of ${count(resolved.pageIds.length, 'page')}`
  return `${[...blocks, summary].join('\n\n')}\n`
}

import { markdownTable } from 'markdown-table'
import { SEVERITIES, type Finding } from '../../inspect/rule.js'
import { markdownBlocks, markdownCode, markdownText } from '../markdown.js'
import { countOf } from '../count.js'

/** Most pages that a row names. */
const PAGES_NAMED = 6

/**
 * Findings as Markdown with tables (GitHub Flavored Markdown), for a pull request.
 *
 * @param site - Name in the heading.
 * @param pages - How many pages were checked.
 */
export function findingsMarkdown(site: string, findings: readonly Finding[], pages: number): string {
  const of = (severity: string): readonly Finding[] => findings.filter((f) => f.severity === severity)
  const counts = SEVERITIES.map((severity) => countOf(of(severity).length, severity)).join(', ')
  return markdownBlocks([
    `## Wembra: ${markdownText(site)}`,
    findings.length === 0
      ? `No conflicts found on ${countOf(pages, 'page')}.`
      : `${counts} on ${countOf(pages, 'page')}.`,
    ...SEVERITIES.flatMap((severity) => sectionOf(severity, of(severity))),
  ])
}

function sectionOf(severity: string, findings: readonly Finding[]): string[] {
  if (findings.length === 0) return []
  const rows = findings.map((finding) => {
    const { at, rule, message, pages, fixes, advice } = finding
    const fix = fixes.find((m) => !m.choice)
    const named = pages.slice(0, PAGES_NAMED).join(', ')
    const more = pages.length > PAGES_NAMED ? ` and ${pages.length - PAGES_NAMED} more` : ''
    return [
      markdownCode(`${at.file}:${at.line}`),
      `**${markdownText(rule)}** ${markdownText(message)}`,
      markdownText(named + more),
      markdownText(fix ? `fix: ${fix.title}` : `to do: ${advice}`),
    ]
  })
  return [
    `### ${severity.charAt(0).toUpperCase()}${severity.slice(1)}s`,
    markdownTable([['Where', 'What', 'Pages', 'What to do'], ...rows], { alignDelimiters: false }),
  ]
}

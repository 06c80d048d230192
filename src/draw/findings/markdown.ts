import { gfmTableToMarkdown } from 'mdast-util-gfm-table'
import { toMarkdown } from 'mdast-util-to-markdown'
import type { PhrasingContent, RootContent, Table } from 'mdast'
import { SEVERITIES, type Finding } from '../../inspect/rule.js'

/** Most pages that a row names. */
const PAGES_NAMED = 6

const text = (value: string): PhrasingContent => ({ type: 'text', value })
const code = (value: string): PhrasingContent => ({ type: 'inlineCode', value })

/** Findings as Markdown with tables (GitHub Flavored Markdown), for a pull request. */
export function findingsMarkdown(site: string, findings: readonly Finding[], pages: number): string {
  const counts = SEVERITIES.map((severity) => {
    const n = findings.filter((f) => f.severity === severity).length
    return `${n} ${severity}${n === 1 ? '' : 's'}`
  })
  const children: RootContent[] = [
    { type: 'heading', depth: 2, children: [text(`Wembra: ${site}`)] },
    {
      type: 'paragraph',
      children: [
        text(
          findings.length === 0
            ? `Nothing is in conflict on ${pages} pages.`
            : `${counts.join(', ')} on ${pages} pages.`,
        ),
      ],
    },
    ...SEVERITIES.flatMap((severity) =>
      sectionOf(
        severity,
        findings.filter((f) => f.severity === severity),
      ),
    ),
  ]
  return toMarkdown({ type: 'root', children }, { extensions: [gfmTableToMarkdown()] })
}

function sectionOf(severity: string, findings: readonly Finding[]): RootContent[] {
  if (findings.length === 0) return []
  const title = `${severity.charAt(0).toUpperCase()}${severity.slice(1)}s`
  return [{ type: 'heading', depth: 3, children: [text(title)] }, tableOf(findings)]
}

function tableOf(findings: readonly Finding[]): Table {
  const row = (...cells: readonly (readonly PhrasingContent[])[]): Table['children'][number] => ({
    type: 'tableRow',
    children: cells.map((children) => ({ type: 'tableCell', children: [...children] })),
  })
  return {
    type: 'table',
    children: [
      row([text('Where')], [text('What')], [text('Pages')], [text('What to do')]),
      ...findings.map((finding) => {
        const { at, rule, message, pages, fixes, advice } = finding
        const fix = fixes.find((m) => !m.choice)
        const named = pages.slice(0, PAGES_NAMED).join(', ')
        const more = pages.length > PAGES_NAMED ? ` and ${pages.length - PAGES_NAMED} more` : ''
        return row(
          [code(`${at.file}:${at.line}`)],
          [{ type: 'strong', children: [text(rule)] }, text(` ${message}`)],
          [text(named + more)],
          [text(fix ? `fix: ${fix.title}` : advice)],
        )
      }),
    ],
  }
}

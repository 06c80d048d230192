import { toMarkdown } from 'mdast-util-to-markdown'
import type { RootContent } from 'mdast'
import type { SiteDiff } from '../change/diff.js'
import { changeInWords, diffSummary, findingChangesInWords, groupHeadline, siteChangesInWords } from './diff-words.js'

/** What changed, as Markdown for a pull request. */
export function diffMarkdown(diff: SiteDiff): string {
  const text = (value: string): RootContent => ({ type: 'paragraph', children: [{ type: 'text', value }] })
  const list = (lines: readonly string[]): RootContent[] =>
    lines.length === 0
      ? []
      : [
          {
            type: 'list',
            spread: false,
            children: lines.map((line) => ({
              type: 'listItem',
              spread: false,
              children: [{ type: 'paragraph', children: [{ type: 'text', value: line }] }],
            })),
          },
        ]
  const heading = (depth: 2 | 3, value: string): RootContent => ({
    type: 'heading',
    depth,
    children: [{ type: 'text', value }],
  })
  const section = (title: string, lines: readonly string[]): RootContent[] =>
    lines.length > 0 ? [heading(3, title), ...list(lines)] : []
  const children: RootContent[] = [
    heading(2, 'What visitors would see'),
    text(`${diffSummary(diff)}.`),
    ...diff.groups.flatMap((group) => [
      heading(3, groupHeadline(group)),
      text(group.pages.join(', ')),
      ...list(changeInWords(group)),
    ]),
    ...section('Pages and surrounds', siteChangesInWords(diff)),
    ...section(
      'Findings',
      findingChangesInWords(diff).map((words) => words.join(': ')),
    ),
  ]
  return toMarkdown({ type: 'root', children }, { bullet: '-' })
}

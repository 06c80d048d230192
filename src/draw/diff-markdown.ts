import { toMarkdown } from 'mdast-util-to-markdown'
import type { RootContent } from 'mdast'
import type { SiteDiff } from '../change/diff.js'
import { changeInWords, groupHeadline } from './diff-words.js'

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
  const changed = diff.groups.reduce((sum, group) => sum + group.pages.length, 0)
  const children: RootContent[] = [
    heading(2, 'What visitors would see'),
    text(
      `${changed} pages changed, ${diff.unchanged} as before; findings: ${diff.cured.length} gone, ${diff.caused.length} new.`,
    ),
    ...diff.groups.flatMap((group) => [
      heading(3, groupHeadline(group)),
      text(group.pages.join(', ')),
      ...list(changeInWords(group)),
    ]),
    ...(diff.added.length > 0 ? [heading(3, 'Pages added'), text(diff.added.join(', '))] : []),
    ...(diff.removed.length > 0 ? [heading(3, 'Pages removed'), text(diff.removed.join(', '))] : []),
    ...(diff.cured.length > 0 ? [heading(3, 'Findings gone'), ...list(diff.cured)] : []),
    ...(diff.caused.length > 0 ? [heading(3, 'Findings new'), ...list(diff.caused)] : []),
  ]
  return toMarkdown({ type: 'root', children }, { bullet: '-' })
}

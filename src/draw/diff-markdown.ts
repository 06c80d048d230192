import type { SiteDiff } from '../change/diff.js'
import { changeInWords, diffSummary, findingChangesInWords, groupHeadline, siteChangesInWords } from './diff-words.js'
import { markdownBlocks, markdownList, markdownText } from './markdown.js'

/** What changed, as Markdown for a pull request. */
export function diffMarkdown(diff: SiteDiff): string {
  const section = (title: string, lines: readonly string[]): string[] =>
    lines.length > 0 ? [`### ${title}`, markdownList(lines)] : []
  return markdownBlocks([
    '## What changes for visitors',
    `${markdownText(diffSummary(diff))}.`,
    ...diff.groups.flatMap((group) => [
      `### ${markdownText(groupHeadline(group))}`,
      markdownText(group.pages.join(', ')),
      markdownList(changeInWords(group)),
    ]),
    ...section('Pages and surrounds', siteChangesInWords(diff)),
    ...section(
      'Findings',
      findingChangesInWords(diff).map((words) => words.join(': ')),
    ),
  ])
}

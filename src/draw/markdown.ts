/**
 * Text as Markdown shows it, character by character: what could begin markup is escaped (CommonMark 0.31, section 2.4:
 * any ASCII punctuation may be), line breaks become spaces.
 */
export const markdownText = (text: string): string =>
  text
    .replace(/\s+/g, ' ')
    .replace(/[\\`*_[\]<&~|]/g, '\\$&')
    .replace(/^(\s*)([#+=>-]|\d+(?=[.)]))/, (_, space: string, mark: string) =>
      /\d/.test(mark) ? `${space}${mark}\\` : `${space}\\${mark}`,
    )

/** Text as code: with as many backticks around it as it takes (CommonMark 0.31, section 6.1). */
export function markdownCode(text: string): string {
  const longest = Math.max(0, ...[...text.matchAll(/`+/g)].map(([ticks]) => ticks.length))
  const fence = '`'.repeat(longest + 1)
  const pad = longest > 0 ? ' ' : ''
  return `${fence}${pad}${text.replace(/\s+/g, ' ').replaceAll('|', '\\|')}${pad}${fence}`
}

export const markdownList = (lines: readonly string[]): string =>
  lines.map((line) => `- ${markdownText(line)}`).join('\n')

/** Blocks with an empty line between. */
export const markdownBlocks = (blocks: readonly string[]): string => `${blocks.filter(Boolean).join('\n\n')}\n`

import type { Rule } from '../inspect/rule.js'

/** A rule's page, as docs/rules/ has it and `rules <id>` prints it. */
export function ruleMarkdown(rule: Rule): string {
  const numbers =
    rule.numbers.length === 0
      ? 'It reports no numbers.'
      : `It reports ${rule.numbers.map((n) => `\`${n}\``).join(', ')}; the worst case is the one with the ${rule.worst ?? 'largest'} \`${rule.numbers[0]}\`.`
  return `# ${rule.id}

${rule.summary}

Severity: ${rule.severity}. Facet: ${rule.facet}. Checked ${SCOPES[rule.scope]}.

## Why it matters

${rule.matters}

## When it holds

${withNumbers(rule)}

${numbers}

## A site that shows it

\`\`\`yaml
${rule.example.trimEnd()}
\`\`\`

## What to do

${capital(rule.advice)}. ${
    rule.propose
      ? '`wembra fix` applies a change where one is certain. Each is tested in memory first, and offered only when the conflict is gone, no new one appears, and no page changes that it does not name.'
      : 'Here no change is certain, so none is offered.'
  }

## How to allow it

\`\`\`yaml
allow: [ { rule: [ ${rule.id} ], where: { page: visit }, reason: "…" } ]   # also on a template or page
severity: { ${rule.id}: none }                                # or for the whole site
\`\`\`
`
}

/** What holds, the names of its numbers marked where it explains them. */
const withNumbers = ({ holds, numbers }: Rule): string =>
  numbers.reduce((text, name) => text.replace(new RegExp(`\\b${name}(?= (is|are|counts)\\b)`), `\`${name}\``), holds)

const SCOPES: Readonly<Record<Rule['scope'], string>> = {
  view: 'on each page at each viewport',
  page: 'on each page, whatever the viewport',
  site: 'on all pages together',
  reality: 'by `wembra observe`, on the real pages',
  allow: 'after all other rules',
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

/** The list of all rules, as docs/rules/README.md has it. */
export function rulesMarkdown(rules: readonly Rule[]): string {
  const rows = rules.map(
    (rule) => `| [${rule.id}](${rule.id}.md) | ${rule.severity} | ${rule.summary.replaceAll('|', '\\|')} |`,
  )
  return `# Rules

What \`wembra check\` looks for. This list and the pages behind it are made from the rules themselves (\`npm run docs\`).

| rule | severity | what it means |
|---|---|---|
${rows.join('\n')}
`
}

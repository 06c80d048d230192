import type { Command } from 'commander'
import { ruleMarkdown } from '../draw/rule-page.js'
import { rulesDocument } from '../draw/documents.js'
import { RULES } from '../inspect/rules/index.js'
import { addCommand, choice } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { ruleNamed } from './options.js'
import type { SiteOptions } from './site-argument.js'
import { columnsOf, json } from './text.js'

interface RulesOptions extends SiteOptions {
  readonly format: 'text' | 'json'
}

/** `rules [rule]`: what is looked for, and when does it hold? */
export function addRules(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<RulesOptions>(program, io, done, {
    name: 'rules',
    examples: ['wembra rules', 'wembra rules header-covers-content', 'wembra rules --format json'],
    options: [choice('--format <format>', 'how to print', ['text', 'json'], 'text')],
    run: (words, { format }) => {
      const [id, ...rest] = words
      if (rest.length > 0) throw new UsageError('name one rule, or none for the list: wembra rules title-missing')
      const rules = id === undefined ? RULES : [ruleNamed(id)]
      const [one] = rules
      if (format === 'json') io.out(json(rulesDocument(rules)))
      else io.out(id !== undefined && one ? ruleMarkdown(one) : listText(io))
      return ExitCode.fine
    },
  })
}

function listText({ colours: c }: Io): string {
  const paint = { error: c.red, warning: c.yellow, note: c.cyan }
  const rows = RULES.map((rule) => [c.bold(rule.id), paint[rule.severity](rule.severity), rule.summary])
  return `${columnsOf(rows)}\n\n${c.dim(`${RULES.length} rules; wembra rules <rule> tells all about one`)}\n`
}

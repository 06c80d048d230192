import type { Command } from 'commander'
import { ruleMarkdown } from '../draw/rule-page.js'
import { rulesDocument } from '../draw/documents.js'
import { findRule, RULES } from '../inspect/rules/index.js'
import { addCommand } from './command.js'
import { ExitCode, type Io } from './io.js'
import { formatOption } from './options.js'
import type { SiteOptions } from './site-argument.js'
import { columnsOf, json } from './text.js'

interface RulesOptions extends SiteOptions {
  readonly format: 'text' | 'json'
}

/** `rules [rule]`: what is checked, and when does a rule report? */
export function addRules(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<RulesOptions>(program, io, done, {
    name: 'rules',
    examples: ['wembra rules', 'wembra rules header-covers-content', 'wembra rules --format json'],
    options: [formatOption(['text', 'json'])],
    run: ([id], { format }, _site, io) => {
      const rules = id === undefined ? RULES : [findRule(id)]
      const [one] = rules
      if (format === 'json') io.out(json(rulesDocument(rules)))
      else io.out(id !== undefined && one ? ruleMarkdown(one) : listText(io))
      return ExitCode.fine
    },
  })
}

function listText({ colors: c }: Io): string {
  const paint = { error: c.red, warning: c.yellow, note: c.cyan }
  const rows = RULES.map((rule) => [c.bold(rule.id), paint[rule.severity](rule.severity), rule.summary])
  return `${columnsOf(rows)}\n\n${c.dim(`${RULES.length} rules; wembra rules <rule> explains one`)}\n`
}

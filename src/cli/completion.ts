import tab from '@bomb.sh/tab/commander'
import type { Command } from 'commander'
import { RULES } from '../inspect/rules/index.js'
import { loadSite } from '../node/load-site.js'
import { COMMANDS, type CommandSummary } from './commands.js'

/**
 * Adds `completion <shell>`, and the hidden command that its scripts ask: commands, options and their choices, ids of
 * rules, and of the pages of the site in this folder.
 */
export function addCompletion(program: Command): void {
  const root = tab(program, { completionCommandName: 'completion' })
  for (const [name, declared] of Object.entries<CommandSummary>(COMMANDS)) {
    const command = root.commands.get(name)
    const rule = command?.options.get('rule')
    if (rule) rule.handler = completeRules
    for (const argument of declared.args ?? [])
      if (argument.name === 'page') command?.argument('words', completePages)
      else if (argument.name === 'rule') command?.argument('words', completeRules)
  }
}

type Complete = (value: string, description: string) => void

const completeRules = (complete: Complete): void => {
  for (const rule of RULES) complete(rule.id, rule.summary)
}

const completePages = (complete: Complete): void => {
  try {
    const site = loadSite('.')
    for (const id of site.pageIds) complete(id, site.pageData(id)?.title ?? '')
  } catch {
    // Without a site that can be read there is nothing to offer; the command itself reports why.
  }
}

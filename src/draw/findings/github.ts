import type { Finding } from '../../inspect/rule.js'

const COMMANDS = { error: 'error', warning: 'warning', note: 'notice' } as const

/**
 * Findings as workflow commands, one a line, which continuous integration shows as annotations on the lines that
 * decide: `::error file=…,line=…,col=…,title=…::message`.
 */
export const findingsGithub = (findings: readonly Finding[]): string =>
  findings
    .map(({ severity, at, rule, message, pages }) => {
      const place = `file=${property(at.file)},line=${at.line},col=${at.column},title=${property(rule)}`
      return `::${COMMANDS[severity]} ${place}::${data(pages.length > 0 ? `${message} (${pages.join(', ')})` : message)}\n`
    })
    .join('')

const data = (text: string): string => text.replaceAll('%', '%25').replaceAll('\r', '%0D').replaceAll('\n', '%0A')

const property = (text: string): string => data(text).replaceAll(':', '%3A').replaceAll(',', '%2C')

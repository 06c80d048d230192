import { create } from 'xmlbuilder2'
import { placeOf } from './place.js'
import type { Finding, Rule } from '../../inspect/rule.js'

/**
 * Findings as JUnit XML: a suite of one test for each rule, which fails with each finding of an error or warning;
 * notes are told as output of a test that passes.
 */
export function findingsJunit(site: string, findings: readonly Finding[], rules: readonly Rule[]): string {
  const isFailure = (f: Finding): boolean => f.severity !== 'note'
  const failing = rules.filter((rule) => findings.some((f) => f.rule === rule.id && isFailure(f)))
  const document = create({ version: '1.0', encoding: 'UTF-8' })
  const suite = document
    .ele('testsuites', { name: 'wembra', tests: rules.length, failures: failing.length })
    .ele('testsuite', { name: clean(site), tests: rules.length, failures: failing.length, errors: 0, skipped: 0 })
  for (const rule of rules) {
    const test = suite.ele('testcase', { name: rule.id, classname: `wembra.${rule.facet}` })
    const mine = findings.filter((f) => f.rule === rule.id)
    const failures = mine.filter(isFailure)
    const [first] = failures
    if (first)
      test
        .ele('failure', { message: clean(first.message), type: first.severity })
        .txt(clean(failures.map(lineOf).join('\n')))
    else if (mine.length > 0) test.ele('system-out').txt(clean(mine.map(lineOf).join('\n')))
  }
  return `${document.end({ prettyPrint: true })}\n`
}

const lineOf = (f: Finding): string =>
  `${placeOf(f.at)} ${f.severity} ${f.message}${f.pages.length > 0 ? ` (${f.pages.join(', ')})` : ''}`

/** Without the characters that XML 1.0 cannot say. */
const clean = (text: string): string =>
  text.replace(/[^\t\n\r\u{20}-\u{D7FF}\u{E000}-\u{FFFD}\u{10000}-\u{10FFFF}]/gu, '�')

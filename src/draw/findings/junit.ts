import { toXml } from 'xast-util-to-xml'
import { x } from 'xastscript'
import type { Finding, Rule } from '../../inspect/rule.js'
import { writableInXml } from '../xml.js'
import { placeOf } from './place.js'

/**
 * Findings as JUnit XML: a suite of one test for each rule, which fails with each finding of an error or warning;
 * notes are the output of a test that passes.
 *
 * @param site - Name of the suite.
 * @param rules - Every rule that was checked, those without findings included.
 */
export function findingsJunit(site: string, findings: readonly Finding[], rules: readonly Rule[]): string {
  const isFailure = (f: Finding): boolean => f.severity !== 'note'
  const failing = rules.filter((rule) => findings.some((f) => f.rule === rule.id && isFailure(f)))
  const tests = rules.map((rule) => {
    const mine = findings.filter((f) => f.rule === rule.id)
    const failures = mine.filter(isFailure)
    const [first] = failures
    const named = { name: rule.id, classname: `wembra.${rule.facet}` }
    if (first) {
      const said = { message: writableInXml(first.message), type: first.severity }
      return x('testcase', named, [x('failure', said, writableInXml(failures.map(lineOf).join('\n')))])
    }
    return x('testcase', named, mine.length > 0 ? [x('system-out', writableInXml(mine.map(lineOf).join('\n')))] : [])
  })
  const counts = { tests: String(rules.length), failures: String(failing.length) }
  const suite = x('testsuite', { name: writableInXml(site), ...counts, errors: '0', skipped: '0' }, onLines(tests, 2))
  const root = x('testsuites', { name: 'wembra', ...counts }, onLines([suite], 1))
  return `<?xml version="1.0" encoding="UTF-8"?>\n${toXml(root)}\n`
}

type Element = ReturnType<typeof x>

/** Elements on lines of their own, for people who read the file. */
const onLines = (elements: readonly Element[], depth: number): (Element | string)[] => [
  ...elements.flatMap((element) => [`\n${'  '.repeat(depth)}`, element]),
  `\n${'  '.repeat(depth - 1)}`,
]

const lineOf = (f: Finding): string =>
  `${placeOf(f.at)} ${f.severity} ${f.message}${f.pages.length > 0 ? ` (${f.pages.join(', ')})` : ''}`

import type { Finding, Rule, Severity } from '../../inspect/rule.js'
import type { SourcePlace } from '../../model/problem.js'

const LEVELS: Readonly<Record<Severity, string>> = { error: 'error', warning: 'warning', note: 'note' }
const SCHEMA = 'https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json'

/**
 * Findings as a SARIF 2.1.0 log (OASIS), so that code hosts show them on the line that decides.
 *
 * @example
 * findingsSarif(inspect(resolved), RULES, '1.0.0').runs[0]?.results.length // => 1
 */
export function findingsSarif(findings: readonly Finding[], rules: readonly Rule[], version: string) {
  const used = rules.filter((rule) => findings.some((f) => f.rule === rule.id))
  return {
    $schema: SCHEMA,
    version: '2.1.0',
    runs: [
      {
        tool: {
          driver: { name: 'Wembra', version, informationUri: 'https://wembra.example', rules: used.map(ruleOf) },
        },
        columnKind: 'unicodeCodePoints',
        results: findings.map((finding) => ({
          ruleId: finding.rule,
          ruleIndex: used.findIndex((rule) => rule.id === finding.rule),
          level: LEVELS[finding.severity],
          message: { text: textOf(finding) },
          locations: [locationOf(finding.at)],
          ...(finding.related.length > 0 && {
            relatedLocations: finding.related.map((place, id) => ({
              id,
              ...locationOf(place),
              message: { text: place.because },
            })),
          }),
          partialFingerprints: { 'wembraKey/v1': finding.key },
          properties: { pages: finding.pages, viewports: finding.viewports, numbers: finding.numbers },
        })),
      },
    ],
  }
}

function textOf({ message, pages, fixes, advice }: Finding): string {
  const where = pages.length > 0 ? ` (${pages.join(', ')})` : ''
  const fix = fixes.find((m) => !m.choice)
  return `${message}${where}. ${fix ? `Fix: ${fix.title}` : `To do: ${advice}`}.`
}

const ruleOf = (rule: Rule) => ({
  id: rule.id,
  shortDescription: { text: rule.summary },
  fullDescription: { text: rule.holds },
  help: { text: rule.matters },
  defaultConfiguration: { level: LEVELS[rule.severity] },
})

const locationOf = ({ file, line, column, pointer, selector }: SourcePlace) => ({
  physicalLocation: {
    artifactLocation: { uri: encodeURI(file.replaceAll('\\', '/')) },
    // The lines of a real page are not places to jump to.
    ...(selector === undefined && { region: { startLine: line, startColumn: column } }),
  },
  logicalLocations: [{ fullyQualifiedName: selector ?? pointer }],
})

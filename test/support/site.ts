import { fontMeasurer } from 'wembra/fonts'
import {
  RULES,
  inspect,
  memoryFiles,
  readSite,
  resolveSite,
  type Finding,
  type Json,
  type PropertyPath,
  type ResolvedSite,
} from 'wembra'

/** A site of a few lines: the keys that every site needs are added where they are not given. */
export function siteOf(text: string, files: Readonly<Record<string, string | Uint8Array>> = {}): ResolvedSite {
  return resolveSite(readSite(withRequired(text), { file: 'test.site.yaml', files: memoryFiles(files, fontMeasurer) }))
}

export function withRequired(text: string): string {
  const has = (key: string): boolean => new RegExp(`^${key}:`, 'm').test(text)
  const lines = [
    ['wembra', '1'],
    ['site', '{ name: Test }'],
    ['theme', '{}'],
    ['pages', '{ visit: { path: /visit, title: Visit } }'],
  ] as const
  return [...lines.filter(([key]) => !has(key)).map(([key, value]) => `${key}: ${value}`), text].join('\n')
}

/** The value of a property of the page `visit`, or of another. */
export const valueOf = (site: ResolvedSite, path: PropertyPath, viewport = 'desk', page = 'visit'): Json =>
  site.page(page).at(viewport).value(path)

/** A chain as `layer outcome value`, strongest first. */
export const chainOf = (site: ResolvedSite, path: PropertyPath, viewport = 'desk', page = 'visit'): string[] =>
  site
    .page(page)
    .at(viewport)
    .chain(path)
    .map((entry) => `${entry.layer} ${entry.outcome} ${String(entry.value)}`)

/** The clock of these tests. */
export const NOW = new Date('2026-11-24T12:00:00Z')

/** Findings of one rule, which alone is asked: but what is allowed for nothing only all rules together tell. */
export function findingsOf(site: ResolvedSite, rule: string, fixes = false): Finding[] {
  const rules = rule === 'allow-unused' ? RULES : RULES.filter(({ id }) => id === rule)
  return inspect(site, { now: NOW, fixes, rules }).filter((finding) => finding.rule === rule)
}

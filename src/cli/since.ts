import { readFileSync } from 'node:fs'
import type { Finding } from '../inspect/rule.js'
import { isObject } from '../model/json.js'
import { UsageError } from './io.js'

/**
 * What an earlier report does not have: other findings, and pages on which one holds since.
 *
 * @param file - A report of `check --format json`, or a snapshot.
 */
export function newSince(findings: readonly Finding[], file: string): readonly Finding[] {
  const known = new Map(readReport(file).map(({ key, pages }) => [key, new Set(pages)]))
  return findings.flatMap((finding) => {
    const before = known.get(finding.key)
    if (!before) return [finding]
    const pages = finding.pages.filter((page) => !before.has(page))
    return pages.length > 0 ? [{ ...finding, pages, cases: finding.cases.filter((c) => pages.includes(c.page)) }] : []
  })
}

interface Known {
  readonly key: string
  readonly pages: readonly string[]
}

function readReport(file: string): readonly Known[] {
  let document: unknown
  try {
    document = JSON.parse(readFileSync(file, 'utf8'))
  } catch (error) {
    throw new UsageError(
      `${file}:1:1: unreadable: ${(error as Error).message}; make one with wembra check --format json -o ${file}`,
    )
  }
  const { wembra, findings } = (document ?? {}) as { wembra?: unknown; findings?: unknown }
  const isKnown = (each: unknown): each is Known =>
    isObject(each) && typeof each['key'] === 'string' && isNames(each['pages'])
  if (wembra === 1 && Array.isArray(findings) && findings.every(isKnown)) return findings
  // A snapshot has the pages of each finding by its key.
  if (wembra === 1 && isObject(findings) && Object.values(findings).every(isNames))
    return Object.entries(findings).map(([key, pages]) => ({ key, pages: pages as unknown as readonly string[] }))
  throw new UsageError(`${file}:1:1: wrong-type: expected a report of wembra check --format json, or a snapshot`)
}

const isNames = (value: unknown): value is readonly string[] =>
  Array.isArray(value) && value.every((each) => typeof each === 'string')

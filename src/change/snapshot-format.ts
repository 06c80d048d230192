import * as z from '#vendor/zod.js'
import { toPointer } from '../model/json.js'
import { SiteError } from '../model/problem.js'
import { readSource } from '../model/source.js'
import type { Snapshot } from './snapshot.js'

const px = z.number()
const view = z.object({
  facets: z.record(z.string(), z.json()),
  boxes: z.record(z.string(), z.tuple([px, px, px, px])),
  top: z.nullable(px),
})
const page = z.object({
  template: z.nullable(z.string()),
  state: z.optional(z.enum(['public', 'hidden', 'members', 'draft', 'dormant'])),
  dormant: z.optional(z.literal(true)),
  views: z.record(z.string(), view),
})
const names = z.array(z.string())
const snapshot = z.object({
  wembra: z.literal(1),
  report: z.literal('snapshot'),
  site: z.string(),
  pages: z.record(z.string(), page),
  findings: z.record(z.string(), names),
  worst: z.optional(z.record(z.string(), z.number())),
  entries: z.optional(z.object({ assign: z.optional(names), inserts: z.optional(names) })),
  surrounds: z.optional(z.record(z.string(), names)),
})

/**
 * Reads a snapshot that was saved as JSON.
 *
 * @param file - Its name, for errors.
 * @throws {SiteError} With every part that is missing or wrong, and its place.
 * @example
 * readSnapshot(JSON.stringify(takeSnapshot(resolved)), 'before.json').site // => 'Harbor'
 */
export function readSnapshot(text: string, file: string): Snapshot {
  const { value, source, problems } = parsed(text, file)
  const read = snapshot.safeParse(value)
  if (read.success && problems.length === 0) return read.data as Snapshot
  const located = source ?? readSource(text, file).source
  const found = (read.error?.issues ?? []).map(({ path, message }) => ({
    ...(located?.locate(toPointer(path)) ?? { line: 1, column: 1 }),
    file,
    code: 'wrong-type' as const,
    message: `${path.map(String).join('.') || 'the snapshot'}: ${message}; wembra snapshot -o writes one`,
  }))
  throw new SiteError([...problems, ...found])
}

/** Places cost their time, so that a text without faults is read without them. */
function parsed(text: string, file: string) {
  try {
    return { value: JSON.parse(text) as unknown, source: undefined, problems: [] }
  } catch {
    const { source, problems } = readSource(text, file)
    return { value: source?.value, source, problems }
  }
}

import { rewriteSite } from '../change/rewrite.js'
import { EditError } from '../change/edit-text.js'
import { countOf, someOf } from '../draw/count.js'
import { inspectAsync } from '../inspect/inspect.js'
import type { Finding, Fix } from '../inspect/rule.js'
import { PatchError } from '../model/edited-document.js'
import type { Patch } from '../model/patch.js'
import { SiteError } from '../model/problem.js'
import { sameLines, type Lines } from './places.js'
import type { TextChange } from './navigate.js'
import type { SiteProject } from './project.js'

/** Something that can be done about a finding. */
export interface Action {
  readonly title: string
  /** The key of the finding. */
  readonly key: string
  /** Whether it is certain, and the first to be tried. */
  readonly isPreferred: boolean
  readonly patch: Patch
}

const PAGES_NAMED = 3

/** What could be done about a finding: fixes, choices, and to say that it is on purpose. */
export async function actionsFor(project: SiteProject, key: string, signal?: AbortSignal): Promise<readonly Action[]> {
  const { site, now } = project
  if (!site) return []
  const [finding] = await inspectAsync(site, { keys: new Set([key]), fixes: true, now, ...(signal && { signal }) })
  if (!finding) return []
  const fixes = finding.fixes.map((fix, n) => ({
    ...{ title: titleOf(fix), key, patch: fix.patch },
    isPreferred: n === 0 && !fix.choice && !fix.others,
  }))
  return [...fixes, allowing(finding)]
}

function titleOf({ title, pages, others, choice }: Fix): string {
  const changed =
    pages.length > 0 ? ` (${pages.length > PAGES_NAMED ? countOf(pages.length, 'page') : pages.join(', ')})` : ''
  const also = others ? `; also changes ${someOf(others, PAGES_NAMED)}` : ''
  return `${choice ? 'Choice' : 'Fix'}: ${title}${changed}${also}`
}

/** For whoever means it so; the reason is theirs to write. */
function allowing({ rule, key, pages }: Finding): Action {
  const where = pages.length > 0 ? { where: [{ page: pages.length === 1 ? (pages[0] as string) : [...pages] }] } : {}
  const value = { rule: [rule], ...where, reason: 'because …' }
  return {
    ...{ title: `Allow ${rule} here, because …`, key, isPreferred: false },
    patch: [{ op: 'add', path: '/allow/-', value }],
  }
}

/** What an action writes, file by file; or why it cannot be written. */
export function changesOf(
  project: SiteProject,
  { patch }: Action,
): readonly TextChange[] | { readonly problem: string } {
  const { site } = project
  if (!site) return { problem: 'the site cannot be read as it is now' }
  const whole = patch.map((operation) =>
    operation.op === 'add' && operation.path === '/allow/-' && !site.site.data.allow
      ? { ...operation, path: '/allow', value: [operation.value as unknown] }
      : operation,
  )
  try {
    const { texts } = rewriteSite(site.site, whole)
    return [...texts].flatMap(([file, text]) => changed(file, project.lines(file), text))
  } catch (error) {
    if (error instanceof EditError || error instanceof PatchError || error instanceof SiteError)
      return { problem: error.message }
    throw error
  }
}

/** The lines that differ, as one change. */
function changed(file: string, lines: Lines, after: string): readonly TextChange[] {
  const { text: before } = lines
  if (before === after) return []
  const [old, now] = [before.split('\n'), after.split('\n')]
  const { first, last } = sameLines(old, now)
  const isToEnd = last === 0
  const from = { line: first + 1, column: 1 }
  const end = lines.place(before.length)
  const to = isToEnd ? end : { line: old.length - last + 1, column: 1 }
  const text = now.slice(first, now.length - last).join('\n') + (isToEnd || first === now.length - last ? '' : '\n')
  // What is added after the last line begins on a line of its own.
  if (first >= old.length) return [{ file, span: { from: end, to: end }, text: `\n${text}` }]
  return [{ file, span: { from, to }, text }]
}

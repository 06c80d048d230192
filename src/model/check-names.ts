import { LIMITS } from './limits.js'
import { checkSizes } from './check-sizes.js'
import { FACETS } from './facets.js'
import { own, toPointer } from './json.js'
import { pathsOf, plainPath } from './paths.js'
import type { NameProblem } from './problem.js'
import type { Item } from './site-data.js'
import type { PageData, SiteData, SurroundData } from './schema.js'
import type { Site } from './site.js'

/** What no schema can check: ids and paths used twice, circles, viewports with names that would be ambiguous. */
export function checkNames(site: SiteData): NameProblem[] {
  return [
    ...viewportNames(site),
    ...samePaths(site),
    ...Object.entries(site.pages).flatMap(([id, page]) => repeatedSections(id, page)),
    ...Object.entries(site.surrounds ?? {}).flatMap(([id, s]) =>
      repeatedIds(surroundIds(s, toPointer(['surrounds', id])), 'id'),
    ),
    ...chains(Object.keys(site.templates ?? {}), bases(site)),
    ...chains(Object.keys(site.pages), parents(site)),
    ...withoutCircles(surroundCircles(site), () => checkSizes(site)),
  ]
}

/** What can be counted only where nothing goes in a circle. */
const withoutCircles = (circles: readonly NameProblem[], more: () => readonly NameProblem[]): readonly NameProblem[] =>
  circles.length > 0 ? circles : more()

/**
 * The same after a change, of what it changed: `part` has the entries that differ, `document` all but the pages that do
 * not, and `before` those.
 */
export function checkNamesOf(part: SiteData, document: SiteData, before: Site): NameProblem[] {
  const pages = Object.entries(part.pages)
  const isMoved = ([id, page]: readonly [string, PageData]): boolean => before.pageData(id)?.path !== page.path
  // What is under a page that moves is deeper than it was, or in a circle.
  const isAnyLed = pages.some(([id, page]) => page.parent !== undefined && page.parent !== before.pageData(id)?.parent)
  return [
    ...viewportNames(part),
    ...pages.filter(isMoved).flatMap(([id, page]) => takenPath(id, page, part, before)),
    ...pages.flatMap(([id, page]) => repeatedSections(id, page)),
    ...Object.entries(part.surrounds ?? {}).flatMap(([id, s]) =>
      repeatedIds(surroundIds(s, toPointer(['surrounds', id])), 'id'),
    ),
    ...(part.templates ? chains(Object.keys(document.templates ?? {}), bases(document)) : []),
    ...chains(isAnyLed ? [...before.pageIds, ...Object.keys(part.pages)] : [], parents(document, before)),
    ...withoutCircles(part.surrounds ? surroundCircles(document) : [], () =>
      checkSizes(part, document.surrounds ?? before.data.surrounds),
    ),
  ]
}

/** A path that another page has as well. */
function takenPath(id: string, { path }: PageData, { pages }: SiteData, before: Site): NameProblem[] {
  const plain = plainPath(path)
  const known = pathsOf(before).get(plain)
  const isStill = (other: string): boolean => {
    const now = Object.hasOwn(pages, other) ? pages[other] : before.pageData(other)
    return other !== id && now !== undefined && plainPath(now.path) === plain
  }
  const other = [...(known === undefined ? [] : [known]), ...Object.keys(pages)].find(isStill)
  if (other === undefined) return []
  return [
    {
      code: 'duplicate-path',
      pointer: toPointer(['pages', id, 'path']),
      message: `the pages "${other}" and "${id}" both have the path ${plain}; give one of them another`,
      other: toPointer(['pages', other, 'path']),
    },
  ]
}

/** Things that each name one other which they are based on or under. */
interface Chained {
  readonly what: string
  readonly above: (id: string) => string | undefined
  /** Where a thing names the other. */
  readonly pointer: (id: string) => string
}

const bases = ({ templates }: SiteData): Chained => ({
  what: 'templates are based on each other',
  above: (id) => own(templates, id)?.base,
  pointer: (id) => toPointer(['templates', id, 'base']),
})

const parents = ({ pages }: SiteData, before?: Site): Chained => ({
  what: 'pages are under each other',
  above: (id) => (own(pages, id) ?? before?.pageData(id))?.parent,
  pointer: (id) => toPointer(['pages', id, 'parent']),
})

/** Chains that go in a circle, or else those that are too long, each at the first step past the limit. */
function chains(ids: readonly string[], { what, above, pointer }: Chained): readonly NameProblem[] {
  const circles: NameProblem[] = []
  const tooLong: NameProblem[] = []
  const depths = new Map<string, number>()
  for (const start of ids) {
    const path: string[] = []
    let id: string | undefined = start
    for (; id !== undefined && !depths.has(id); id = above(id)) {
      depths.set(id, 0) // it is being walked
      path.push(id)
    }
    let depth = (id !== undefined && depths.get(id)) || 0
    if (id !== undefined && path.length > 0 && depth === 0)
      circles.push(circle(path, id, pointer(path.at(-1) as string)))
    for (const each of path.reverse()) {
      depths.set(each, ++depth)
      if (depth !== LIMITS.nesting + 1) continue
      const message = `${what} more than ${LIMITS.nesting} deep here; take some of these steps out`
      tooLong.push({ code: 'too-deep', pointer: pointer(each), message })
    }
  }
  return circles.length > 0 ? circles : tooLong
}

const circle = (path: readonly string[], id: string, pointer: string): NameProblem => ({
  ...{ code: 'circle', pointer },
  message: `${[...path.slice(path.indexOf(id)), id].join(' → ')} goes in a circle; remove one of these steps`,
})

const RESERVED = new Set(['else', 'min', 'max', ...Object.values(FACETS).flatMap((facet) => Object.keys(facet))])

function viewportNames(site: SiteData): NameProblem[] {
  return Object.keys(site.viewports ?? {})
    .filter((name) => RESERVED.has(name))
    .map((name) => ({
      code: 'wrong-value',
      pointer: toPointer(['viewports', name]),
      message: `"${name}" cannot be a viewport's name, for settings use that word; choose another`,
    }))
}

function samePaths(site: SiteData): NameProblem[] {
  const problems: NameProblem[] = []
  const first = new Map<string, string>()
  for (const [id, page] of Object.entries(site.pages)) {
    const path = plainPath(page.path)
    const earlier = first.get(path)
    if (earlier === undefined) first.set(path, id)
    else
      problems.push({
        code: 'duplicate-path',
        pointer: toPointer(['pages', id, 'path']),
        message: `the pages "${earlier}" and "${id}" both have the path ${path}; give one of them another`,
        other: toPointer(['pages', earlier, 'path']),
      })
  }
  return problems
}

type Named = readonly [id: string, pointer: string]

const repeatedSections = (id: string, { body }: PageData): readonly NameProblem[] =>
  body && isRepeating(body) ? repeatedIds(sectionIds(body, toPointer(['pages', id, 'body'])), 'section') : NO_PROBLEMS

const NO_PROBLEMS: readonly NameProblem[] = []

/** Whether a section's name comes twice; most pages need not be looked at more closely. */
function isRepeating(items: readonly Item[], seen = new Set<string>()): boolean {
  return items.some(({ section, items: inside, columns }) => {
    if (section === undefined) return false
    if (seen.has(section)) return true
    seen.add(section)
    return (
      (inside !== undefined && isRepeating(inside, seen)) ||
      (columns?.some((column) => column.items !== undefined && isRepeating(column.items, seen)) ?? false)
    )
  })
}

function sectionIds(items: readonly Item[], pointer: string): Named[] {
  return items.flatMap((item, index): Named[] => {
    const here = `${pointer}/${index}`
    if (item.section === undefined) return []
    return [
      [item.section, `${here}/section`],
      ...sectionIds(item.items ?? [], `${here}/items`),
      ...(item.columns ?? []).flatMap((c, n) => sectionIds(c.items ?? [], `${here}/columns/${n}/items`)),
    ]
  })
}

function surroundIds(surround: SurroundData, pointer: string): Named[] {
  const ofItems = (items: readonly Item[] | undefined, at: string): Named[] =>
    (items ?? []).flatMap((item, n): Named[] => (item.id === undefined ? [] : [[item.id, `${at}/${n}/id`]]))
  return [
    ...(surround.rows ?? []).flatMap((row, n): Named[] => [
      ...(row.id === undefined ? [] : ([[row.id, `${pointer}/rows/${n}/id`]] as const)),
      ...ofItems(row.items, `${pointer}/rows/${n}/items`),
    ]),
    ...ofItems(surround.items, `${pointer}/items`),
  ]
}

function repeatedIds(ids: readonly Named[], what: string): NameProblem[] {
  const first = new Map<string, string>()
  return ids.flatMap(([id, pointer]): NameProblem[] => {
    const other = first.get(id)
    if (other === undefined) {
      first.set(id, pointer)
      return []
    }
    return [
      { code: 'duplicate-id', pointer, other, message: `the ${what} "${id}" is used twice; give one of them another` },
    ]
  })
}

/** Circles of surrounds that print each other; each circle once. */
function surroundCircles(site: SiteData): NameProblem[] {
  const surrounds = site.surrounds ?? {}
  return findCircles(Object.keys(surrounds), (id) => {
    const surround = Object.hasOwn(surrounds, id) ? surrounds[id] : undefined
    const at = toPointer(['surrounds', id])
    const uses = (items: readonly Item[] | undefined, pointer: string): Named[] =>
      (items ?? []).flatMap((item, n): Named[] => (item.use === undefined ? [] : [[item.use, `${pointer}/${n}/use`]]))
    return [
      ...(surround?.rows ?? []).flatMap((row, n) => uses(row.items, `${at}/rows/${n}/items`)),
      ...uses(surround?.items, `${at}/items`),
    ]
  })
}

/** Walks a graph depth first without recursion, and reports the step that closes each circle. */
function findCircles(ids: readonly string[], next: (id: string) => readonly Named[]): NameProblem[] {
  const problems: NameProblem[] = []
  const done = new Set<string>()
  for (const start of ids) {
    const path: string[] = []
    const onPath = new Set<string>()
    const open: (readonly [string, string] | null)[] = [[start, '']] // null: leave the last of the path
    for (let step = open.pop(); step !== undefined; step = open.pop()) {
      if (step === null) {
        const left = path.pop() as string
        onPath.delete(left)
        done.add(left)
        continue
      }
      const [id, pointer] = step
      if (onPath.has(id)) {
        problems.push(circle(path, id, pointer))
        continue
      }
      if (done.has(id)) continue
      path.push(id)
      onPath.add(id)
      open.push(null, ...next(id))
    }
  }
  return problems
}

import { expandSite } from './shorthand.js'
import type { Files } from './files.js'
import { hostileKeys, isObject, NO_KEY, toPointer, traitsOf, type Json, type JsonObject } from './json.js'
import { LIMITS } from './limits.js'
import { addTo, layOver, partOf, withoutNulls, type Part } from './merge.js'
import { locateOrigin } from './origin.js'
import type { Place, Problem, ProblemCode } from './problem.js'
import { shared } from './share.js'
import { readPageLines, readSource, type ReadSource, type Source } from './source.js'
import { readTokens, withTokens, type Tokens } from './tokens.js'

/** A file with those it extends and those it includes; one that is named in several places is one object. */
interface Loaded {
  readonly source: Source
  readonly under: readonly Loaded[]
  readonly included: readonly Loaded[]
}

export const DEFAULT_VIEWPORTS: JsonObject = {
  desk: { width: 1280, height: 800 },
  tablet: { width: 768, height: 1024 },
  phone: { width: 390, height: 844 },
}

export interface Merged {
  readonly part: Part | undefined
  readonly viewports: JsonObject
  readonly problems: readonly Problem[]
  readonly sources: readonly Source[]
  /** By file: 0 for the named one and those it includes, more for those underneath. */
  readonly nearness: ReadonlyMap<string, number>
  readonly tokens: Tokens
}

const NOTHING_BEFORE = { sources: new Map<string, Source>(), changed: new Set<string>() }

/**
 * Reads a file with all it extends and includes, and merges them into one document, shorthand expanded.
 *
 * @param before - Files as they were read before, by name, and those in which nothing changed since.
 */
export function loadSite(
  text: string,
  file: string,
  files: Files,
  before: { readonly sources: ReadonlyMap<string, Source>; readonly changed: ReadonlySet<string> } = NOTHING_BEFORE,
): Merged {
  const problems: Problem[] = []
  const sources: Source[] = []
  const complain = (code: ProblemCode, place: Place, message: string): void =>
    void problems.push({ code, message, file: place.file, line: place.line, column: place.column })

  const take = (target: string, read: () => ReadSource): Source | undefined => {
    const old = before.sources.get(target)
    const isSame = old !== undefined && !before.changed.has(target)
    const { source: fresh, problems: found } = isSame ? { source: old, problems: [] } : read()
    problems.push(...found)
    // What did not change is held once, however often the file is read.
    const source = fresh && old && !isSame ? { ...fresh, value: shared(old.value, fresh.value) } : fresh
    if (source) sources.push(source)
    return source
  }

  const opened = new Map<string, Loaded>()
  const open = (source: Source | undefined, stack: readonly string[]): Loaded | undefined => {
    if (!source) return undefined
    if (!isObject(source.value)) {
      complain('wrong-type', source.locate(''), 'a site file is a map of keys; begin with "wembra: 1"')
      return undefined
    }
    const inner = [...stack, source.file]
    const { value } = source
    return {
      source,
      under: paths(value, 'extends').flatMap((path, i) => reach(source, path, `/extends/${i}`, inner)),
      included: paths(value, 'include').flatMap((pattern, i) => {
        if (pattern.length > LIMITS.pattern) {
          const message = `a pattern has at most ${LIMITS.pattern} characters; name the files, or a folder with *`
          complain('too-large', source.locate(`/include/${i}`), message)
          return []
        }
        const where = files.resolve(source.file, pattern)
        const found = pattern.includes('*') ? files.list(where) : [where]
        if (found.length === 0)
          complain(
            'unreadable',
            source.locate(`/include/${i}`),
            `no file matches "${pattern}"; fix the pattern or remove it`,
          )
        return found.flatMap((each) => reach(source, each, `/include/${i}`, inner, true))
      }),
    }
  }

  const reach = (from: Source, path: string, pointer: string, stack: readonly string[], resolved = false): Loaded[] => {
    const place = from.locate(pointer)
    const target = resolved ? path : files.resolve(from.file, path)
    if (stack.includes(target)) {
      complain(
        'circle',
        place,
        `${[...stack, target].join(' → ')}: files cannot take themselves in; remove one of these steps`,
      )
      return []
    }
    if (stack.length >= LIMITS.nesting) {
      complain('too-deep', place, `files take each other in more than ${LIMITS.nesting} deep; merge some of them`)
      return []
    }
    // Once for each file: two bases that share a third would double the work at every step.
    const loaded = opened.get(target) ?? open(fetchSource(target, place), stack)
    if (!loaded) return []
    opened.set(target, loaded)
    return [loaded]
  }

  const fetchSource = (target: string, place: Place): Source | undefined => {
    if (target.endsWith('.ndjson')) {
      const lines = files.lines(target)
      if (lines) return take(target, () => readPageLines(lines, target))
    } else {
      const found = files.read(target)
      if (found !== undefined) return take(target, () => readSource(found, target))
    }
    complain(
      'unreadable',
      place,
      `cannot read "${target}": ${files.whyNot?.(target) ?? 'there is no such file'}; fix the path or remove it`,
    )
    return undefined
  }

  const root = open(
    take(file, () => readSource(text, file)),
    [],
  )
  if (!root)
    return { part: undefined, viewports: DEFAULT_VIEWPORTS, problems, sources, nearness: new Map(), tokens: new Map() }

  const tokens = findTokens(root, (source, path) =>
    fetchSource(files.resolve(source.file, path), source.locate('/tokens')),
  )
  const viewports = gatherViewports(root)
  const names = new Set(Object.keys(viewports))

  const prepared = (source: Source): Part => {
    const onError = (error: { code: ProblemCode; message: string }, path: readonly string[]): void =>
      complain(error.code, source.locate(toPointer(path)), `${error.message}; tokens are used as "{group.name}"`)
    for (const pointer of hostileKeys(source.value)) complain('wrong-value', source.locate(pointer), NO_KEY)
    const value = withTokens(source.value, tokens, onError) as JsonObject
    return partOf(source, expandSite(value, [...names]))
  }
  // A token may stand for nothing, too.
  const mayHaveNulls = sources.some(({ value }) => traitsOf(value).hasNull || traitsOf(value).hasBraced)
  const merged = new Map<Loaded, Part>()
  const merge = (loaded: Loaded): Part => {
    const known = merged.get(loaded) ?? mergeAnew(loaded)
    merged.set(loaded, known)
    return known
  }
  const mergeAnew = (loaded: Loaded): Part => {
    let own = prepared(loaded.source)
    for (const included of loaded.included)
      own = addTo(own, withoutKeys(merge(included)), (path, first, second) => {
        const there = first.source.locate(first.pointer)
        const what = path.join('.')
        const message = `"${what}" is given at ${there.file}:${there.line}:${there.column} already; keep one of them`
        complain('duplicate-id', second.source.locate(second.pointer), message)
      })
    const lower = loaded.under.map(merge).map(withoutKeys)
    return [...lower, own].reduce((under, over) => layOver(under, over, names))
  }
  const part = merge(root)
  for (const { index, path, place } of styleFiles(part))
    if (files.read(files.resolve(place.file, path)) === undefined)
      complain('unreadable', place, `there is no style sheet "${path}" (style ${index + 1}); fix the path or remove it`)
  return {
    part: mayHaveNulls ? { ...part, value: withoutNulls(part.value) } : part,
    viewports,
    problems,
    sources,
    nearness: nearnessOf(root),
    tokens,
  }
}

/** `extends` and `include` belong to one file; they are not merged. */
function withoutKeys(part: Part): Part {
  const { extends: _extends, include: _include, ...value } = part.value as JsonObject
  return { ...part, value }
}

function paths(value: JsonObject, key: 'extends' | 'include'): readonly string[] {
  const list = value[key]
  return Array.isArray(list) ? (list as readonly Json[]).filter((each) => typeof each === 'string') : []
}

/** The style sheets that a site names, with where. */
function styleFiles({ value, origin }: Part): { index: number; path: string; place: Place }[] {
  const styles = (value as JsonObject)['styles']
  if (!Array.isArray(styles)) return []
  return (styles as readonly Json[]).flatMap((style, index) => {
    const path = isObject(style) ? style['file'] : undefined
    if (typeof path !== 'string') return []
    return [{ index, path, place: locateOrigin(origin, ['styles', String(index), 'file'], 'value') }]
  })
}

/** All files, strongest first, each where it counts most. */
function* strongestFirst(loaded: Loaded, seen = new Set<Loaded>()): Generator<Source> {
  if (seen.has(loaded)) return
  seen.add(loaded)
  yield loaded.source
  for (const included of loaded.included) yield* strongestFirst(included, seen)
  for (const under of [...loaded.under].reverse()) yield* strongestFirst(under, seen)
}

function nearnessOf(root: Loaded): Map<string, number> {
  const found = new Map<string, number>()
  let rank = 0
  const walked = new Set<Loaded>()
  const walk = (loaded: Loaded): void => {
    const mine = rank
    walked.add(loaded)
    const include = (each: Loaded): void => {
      if (found.has(each.source.file)) return
      found.set(each.source.file, mine)
      each.included.forEach(include)
    }
    include(loaded)
    for (const under of [...loaded.under].reverse()) {
      if (walked.has(under)) continue
      rank += 1
      walk(under)
    }
  }
  walk(root)
  return found
}

function findTokens(root: Loaded, read: (source: Source, path: string) => Source | undefined): Tokens {
  for (const source of strongestFirst(root)) {
    const path = (source.value as JsonObject)['tokens']
    if (typeof path === 'string') return readTokens(read(source, path)?.value ?? {})
  }
  return new Map()
}

function gatherViewports(root: Loaded): JsonObject {
  const said: Record<string, Json> = {}
  for (const source of [...strongestFirst(root)].reverse()) {
    const viewports = (source.value as JsonObject)['viewports']
    if (isObject(viewports)) Object.assign(said, viewports)
  }
  const kept = Object.fromEntries(Object.entries(said).filter(([, value]) => value !== null))
  return Object.keys(kept).length > 0 ? kept : DEFAULT_VIEWPORTS
}

import type { Named } from '../inspect/references.js'
import { isObject, toPointer, valueAt } from '../model/json.js'
import { WembraError } from '../model/wembra-error.js'
import { definitionPointer, definitionsOf, isSection, referencesIn, sectionOf, THING, type Section } from './names.js'
import type { Span, TextPlace } from './places.js'
import type { SiteProject } from './project.js'
import { outlineOf, rangeOf, spotAt, type Outlined, type Range, type Spot } from './text-tree.js'

/** A part of a file. */
export interface FileSpan {
  readonly file: string
  readonly span: Span
}

/** A thing that is defined in a site, or a tag. */
export interface Thing {
  readonly section: Section | 'tags'
  readonly id: string
}

/** What is at a place of a file: the thing that is defined or named there. */
export interface Found extends Spot {
  readonly thing: Thing | undefined
}

/** What stands at a place of a site's file. */
export function foundAt(project: SiteProject, file: string, place: TextPlace): Found | undefined {
  const lines = project.lines(file)
  const spot = spotAt(lines.text, file, lines.offset(place))
  return spot && { ...spot, thing: thingAt(project, file, spot) }
}

function thingAt(project: SiteProject, file: string, { path, on, word }: Spot): Thing | undefined {
  const [section, id] = path
  if (on === 'key' && path.length === 2 && isSection(section) && id !== undefined) return { section, id }
  const source = project.sources.find((each) => each.file === file)
  const pointer = toPointer(path)
  // Of what is written short the name is a part: `title: …` has none, `header: { use: top }` has its own pointer.
  const reference = source && referencesIn(source, viewportsOf(project)).find((each) => each.pointer === pointer)
  if (reference?.name !== word) return undefined
  return { section: sectionOf(reference.to) ?? 'tags', id: word }
}

const viewportsOf = (project: SiteProject): readonly string[] =>
  project.site?.site.viewports.map(({ name }) => name) ?? []

/** Where the thing that is named at a place is defined, nearest file first; of a token, in its file. */
export function definitionAt(project: SiteProject, file: string, place: TextPlace): readonly FileSpan[] {
  const token = tokenAt(project, file, place)
  if (token !== undefined) return tokenPlaces(project, token)
  const thing = foundAt(project, file, place)?.thing
  return thing && thing.section !== 'tags' ? definitions(project, thing.section, thing.id) : []
}

function definitions(project: SiteProject, section: Section, id: string): readonly FileSpan[] {
  const pointer = definitionPointer(section, id)
  return definitionsOf(project.sources, section, id).flatMap(({ file, locate }) => {
    const lines = project.lines(file)
    return [{ file, span: lines.span(lines.wordAt(locate(pointer))) }]
  })
}

/** Everywhere that a thing is named; with the places where it is defined, if these are asked for. */
export function referencesAt(
  project: SiteProject,
  file: string,
  place: TextPlace,
  withDefinition = true,
): readonly FileSpan[] {
  const token = tokenAt(project, file, place)
  if (token !== undefined) return [...(withDefinition ? tokenPlaces(project, token) : []), ...tokenUses(project, token)]
  const thing = foundAt(project, file, place)?.thing
  if (!thing) return []
  const defined = withDefinition && thing.section !== 'tags' ? definitions(project, thing.section, thing.id) : []
  return [...defined, ...usesOf(project, thing)]
}

const means = (to: Named, { section }: Thing): boolean => (sectionOf(to) ?? 'tags') === section

function usesOf(project: SiteProject, thing: Thing): readonly FileSpan[] {
  return project.sources.flatMap((source) => {
    const lines = project.lines(source.file)
    const { text } = lines
    return referencesIn(source, viewportsOf(project))
      .filter(({ to, name }) => name === thing.id && means(to, thing))
      .flatMap(({ pointer }): FileSpan[] => {
        // A selector's kind in `purposes.listing` is a key; all others are values.
        const what = pointer.startsWith('/purposes/listing/') && thing.section === 'kinds' ? 'key' : 'value'
        const range = lines.wordAt(source.locate(pointer, what))
        return unquoted(text, range) === thing.id ? [{ file: source.file, span: lines.span(range) }] : []
      })
  })
}

const unquoted = (text: string, { from, to }: Range): string => text.slice(from, to).replace(/^(["'])(.*)\1$/s, '$2')

/** Thrown where a thing cannot be renamed, with the reason. */
export class RenameError extends WembraError {
  override readonly name = 'RenameError'
  readonly code = 'rename'
}

/** A text in the place of another. */
export interface TextChange extends FileSpan {
  readonly text: string
}

/** The word that renaming would replace; `undefined` where nothing can be renamed. */
export function renamableAt(project: SiteProject, file: string, place: TextPlace): Span | undefined {
  const found = foundAt(project, file, place)
  const lines = project.lines(file)
  return found?.thing ? lines.span(wordOf(lines.text, found)) : undefined
}

/** A word without its quotes. */
const wordOf = (text: string, { from, to }: Range): Range =>
  /^["']/.test(text.slice(from, to)) ? { from: from + 1, to: to - 1 } : { from, to }

/** Ids that are written in every place without quotes. */
const PLAIN_ID = /^[A-Za-z_][\w-]*$/

/**
 * What renaming a thing everywhere changes: where it is defined, wherever it is named, and the classes by which style
 * sheets know it.
 *
 * @throws {RenameError} When the new name is taken, or none that can be written everywhere.
 */
export function renameAt(project: SiteProject, file: string, place: TextPlace, to: string): readonly TextChange[] {
  const thing = foundAt(project, file, place)?.thing
  if (!thing) throw new RenameError('there is nothing here that has a name of its own')
  if (!PLAIN_ID.test(to)) throw new RenameError(`"${to}" is no id: letters, digits, _ and -, beginning with a letter`)
  if (thing.section !== 'tags' && definitionsOf(project.sources, thing.section, to).length > 0)
    throw new RenameError(`there is a ${THING[thing.section]} "${to}" already; choose another name`)
  const spans = [
    ...(thing.section === 'tags' ? [] : definitions(project, thing.section, thing.id)),
    ...usesOf(project, thing),
  ]
  const named = spans.map(({ file: where, span }): TextChange => {
    const lines = project.lines(where)
    const inner = wordOf(lines.text, { from: lines.offset(span.from), to: lines.offset(span.to) })
    return { file: where, span: lines.span(inner), text: to }
  })
  const known = new Set<string>()
  return [...named, ...renamedClasses(project, thing, to)].filter(({ file: where, span }) => {
    const key = `${where}:${span.from.line}:${span.from.column}`
    return known.has(key) ? false : (known.add(key), true)
  })
}

/** Classes that pages have by what they are. */
const CLASSES: Readonly<Partial<Record<Thing['section'], string>>> = {
  ...{ pages: 'page', kinds: 'kind', templates: 'template', builders: 'built' },
}

function renamedClasses(project: SiteProject, { section, id }: Thing, to: string): readonly TextChange[] {
  const prefix = CLASSES[section]
  const styled = project.sources.filter(({ value }) => isObject(value) && valueAt(value, '/styles') !== undefined)
  if (prefix === undefined) return []
  const files = [...project.styles, ...styled.map((source) => source.file)]
  return [...new Set(files)].flatMap((file) => {
    const lines = project.lines(file)
    return [...lines.text.matchAll(new RegExp(`(?<=\\.${prefix}-)${escaped(id)}(?![\\w-])`, 'g'))].map(({ index }) => ({
      ...{ file, text: to, span: lines.span({ from: index, to: index + id.length }) },
    }))
  })
}

const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

const TOKEN = /"\{([^{}"]+)\}"|'\{([^{}']+)\}'/g

/** The design token that is named at a place. */
export function tokenAt(project: SiteProject, file: string, place: TextPlace): string | undefined {
  const lines = project.lines(file)
  const { text } = lines
  const offset = lines.offset(place)
  const start = text.lastIndexOf('\n', offset - 1) + 1
  const end = text.indexOf('\n', offset)
  for (const found of text.slice(start, end === -1 ? text.length : end).matchAll(TOKEN)) {
    const from = start + found.index
    if (from <= offset && offset <= from + found[0].length) return found[1] ?? found[2]
  }
  return undefined
}

function tokenPlaces(project: SiteProject, token: string): readonly FileSpan[] {
  const path = token.split('.')
  return project.sources.flatMap(({ file, value, locate }) => {
    if (valueAt(value, `${toPointer(path)}/$value`) === undefined) return []
    const lines = project.lines(file)
    const range = rangeOf(lines.text, file, path, 'key')
    return [{ file, span: lines.span(range ?? lines.wordAt(locate(toPointer(path)))) }]
  })
}

const tokenUses = (project: SiteProject, token: string): readonly FileSpan[] =>
  project.sources.flatMap(({ file }) => {
    const lines = project.lines(file)
    return [...lines.text.matchAll(TOKEN)]
      .filter((found) => (found[1] ?? found[2]) === token)
      .map((found) => ({ file, span: lines.span({ from: found.index, to: found.index + found[0].length }) }))
  })

/** A thing by its name, for outlines and for looking things up. */
export interface SiteSymbol extends FileSpan {
  readonly name: string
  /** What it is: `template`; of a section of the file the section's own name. */
  readonly kind: string
  readonly whole: Span
  readonly children: readonly SiteSymbol[]
}

/** What a file holds: its sections, and the things in them. */
export function symbolsIn(project: SiteProject, file: string): readonly SiteSymbol[] {
  const lines = project.lines(file)
  const symbol = ({ name, path, key, whole, children }: Outlined): SiteSymbol => {
    const [section] = path
    const kind = path.length === 2 && isSection(section) ? THING[section] : (section ?? name)
    return { file, name, kind, span: lines.span(key), whole: lines.span(whole), children: children.map(symbol) }
  }
  return outlineOf(lines.text, file, 2).map((each) =>
    isSection(each.path[0]) ? symbol(each) : symbol({ ...each, children: [] }),
  )
}

/** Things of the whole site whose id or title has a text in it. */
export function symbolsNamed(project: SiteProject, query: string, most = 200): readonly SiteSymbol[] {
  const wanted = query.toLowerCase()
  const found: SiteSymbol[] = []
  for (const { file, value, locate } of project.sources) {
    if (!isObject(value)) continue
    for (const section of Object.keys(value).filter(isSection))
      for (const [id, thing] of Object.entries(isObject(value[section]) ? value[section] : {})) {
        const title = isObject(thing) ? String(thing['title'] ?? thing['label'] ?? '') : ''
        if (found.length >= most || !`${id} ${title}`.toLowerCase().includes(wanted)) continue
        const lines = project.lines(file)
        const span = lines.span(lines.wordAt(locate(definitionPointer(section, id))))
        found.push({
          file,
          span,
          whole: span,
          name: title === '' ? id : `${id}: ${title}`,
          kind: THING[section],
          children: [],
        })
      }
  }
  return found
}

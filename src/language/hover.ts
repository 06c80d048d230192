import { catalogOf } from '../change/catalog.js'
import { surroundInWords, templateInWords, valueInWords } from '../draw/catalog.js'
import { countOf, someOf } from '../draw/count.js'
import { markdownCode, markdownText } from '../draw/markdown.js'
import { RULES } from '../inspect/rules/index.js'
import { definitionOf, type PropertyPath } from '../model/facets.js'
import { isObject, own, toPointer, valueAt, type Json } from '../model/json.js'
import type { ChainEntry } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { effectsOf, propertiesAt, type Effect } from './effect.js'
import { THING, type Section } from './names.js'
import { foundAt, tokenAt, type Thing } from './navigate.js'
import type { Lines, Span, TextPlace } from './places.js'
import type { SiteProject } from './project.js'
import { sentenceOf } from './schema-keys.js'
import { tokenValue } from './token-value.js'

/** What is told of a place, as Markdown. */
export interface Hover {
  readonly span: Span
  readonly markdown: string
}

/** How many pages are named in a line. */
const PAGES_NAMED = 6

/** What a setting does, what a name means, or what a key is for. */
export function hoverAt(project: SiteProject, file: string, place: TextPlace): Hover | undefined {
  const { site: resolved } = project
  const lines = project.lines(file)
  if (!resolved) return undefined
  if (file.endsWith('.css')) return hoverStyle(resolved, file, lines, place)
  const found = foundAt(project, file, place)
  if (!found) return undefined
  const span = lines.span(found)
  const blocks: string[] = []
  const token = tokenAt(project, file, place)
  if (token !== undefined)
    blocks.push(`**token** ${markdownCode(token)}: ${markdownCode(tokenValue(resolved.site.tokens, token))}`)
  if (found.thing) blocks.push(...aboutThing(resolved, found.thing))
  const rule = RULES.find(({ id }) => id === found.word)
  if (rule && (found.path.includes('rule') || found.path[0] === 'severity'))
    blocks.push(`**${rule.id}** (${rule.severity})`, rule.summary)
  blocks.push(...aboutSetting(project, resolved, file, found.path))
  const sentence = found.on === 'key' ? sentenceOf(found.path) : undefined
  if (sentence !== undefined) blocks.push(sentence)
  return blocks.length > 0 ? { span, markdown: blocks.join('\n\n') } : undefined
}

function aboutSetting(
  project: SiteProject,
  resolved: ResolvedSite,
  file: string,
  path: readonly string[],
): readonly string[] {
  const source = project.sources.find((each) => each.file === file)
  if (!source) return []
  const properties = propertiesAt(source.value, path, viewportsOf(resolved))
  const layout = path.slice(0, path.indexOf('layout') + 1)
  // What is written short is where its facet is.
  const placeOf = (property: PropertyPath) => source.locate(toPointer([...layout, ...property.split('.')]))
  const places = new Map(properties.map((property) => [property, placeOf(property)]))
  const isIt = ({ at }: ChainEntry, property: PropertyPath): boolean => {
    const place = places.get(property)
    return at?.file === file && at.line === place?.line && at.column === place.column
  }
  return effectsOf(resolved, isIt, () => properties).map(effectInWords)
}

const viewportsOf = (resolved: ResolvedSite): readonly string[] => resolved.site.viewports.map(({ name }) => name)

const OUTCOMES = {
  wins: 'wins on',
  same: 'says what a stronger setting says as well on',
  overridden: 'overridden on',
  locked: 'locked on',
  skipped: 'skipped on',
} as const

/** `header.position` in lines: where it wins, what it comes to, where something else wins. */
function effectInWords({ property, outcomes, winners, px }: Effect): string {
  const definition = definitionOf(property)
  const lines = Object.entries(OUTCOMES).flatMap(([outcome, words]) => {
    const pages = outcomes.get(outcome as keyof typeof OUTCOMES)
    if (!pages) return []
    const by = outcome === 'overridden' || outcome === 'locked' ? `, by ${someOf(winners, 3)}` : ''
    const views = new Set([...pages.values()].map((names) => names.join(', ')))
    const [only = ''] = views.size === 1 ? views : []
    const at = views.size === 1 && isPart(only, outcomes) ? ` at ${only}` : ''
    return [
      `- ${words} ${countOf(pages.size, 'page')}${at}: ${markdownText(someOf([...pages.keys()], PAGES_NAMED) + by)}`,
    ]
  })
  const lengths = [...px].map(([viewport, [least, most]]) =>
    least === most ? `${round(least)} px at ${viewport}` : `${round(least)} to ${round(most)} px at ${viewport}`,
  )
  if (lengths.length > 0) lines.push(`- ${markdownText(lengths.join(', '))}`)
  const baseline = definition?.baseline ?? null
  if (baseline !== null) lines.push(`- without any setting: ${markdownCode(String(baseline))}`)
  return `**${markdownText(property)}**\n\n${lines.join('\n')}`
}

const isPart = (viewports: string, outcomes: Effect['outcomes']): boolean =>
  [...outcomes.values()].some((pages) => [...pages.values()].some((names) => names.join(', ') !== viewports))

const round = (px: number): number => Math.round(px * 100) / 100

function aboutThing(resolved: ResolvedSite, { section, id }: Thing): readonly string[] {
  const tell = (name: string, lines: readonly (readonly [string, string])[]): readonly string[] => [
    `**${name}** ${markdownCode(id)}`,
    lines.map(([what, text]) => `- ${markdownText(what)}: ${markdownText(text)}`).join('\n'),
  ]
  const pages = (having: (page: string) => boolean): string => {
    const ids = resolved.pageIds.filter(having)
    return ids.length === 0 ? 'none' : `${countOf(ids.length, 'page')}: ${someOf(ids, PAGES_NAMED)}`
  }
  if (section === 'tags') {
    return tell('tag', [['pages', pages((page) => resolved.site.pageData(page)?.tags?.includes(id) ?? false)]])
  }
  const data = valueAt(resolved.site.data as unknown as Json, toPointer([section, id]))
  if (data === undefined) return [`there is no ${THING[section]} ${markdownCode(id)}`]
  return tell(THING[section], linesAbout(resolved, section, id, isObject(data) ? data : {}, pages))
}

function linesAbout(
  resolved: ResolvedSite,
  section: Section,
  id: string,
  data: Readonly<Record<string, Json>>,
  pages: (having: (page: string) => boolean) => string,
): readonly (readonly [string, string])[] {
  const said = (keys: readonly string[]): readonly (readonly [string, string])[] =>
    keys.flatMap((key) => (data[key] === undefined ? [] : [[key, valueInWords(data[key])] as const]))
  const { site } = resolved
  switch (section) {
    case 'templates': {
      const template = catalogOf(resolved).templates.find((each) => each.id === id)
      return template ? templateInWords(template) : []
    }
    case 'surrounds': {
      const surround = catalogOf(resolved).surrounds.find((each) => each.id === id)
      return surround ? [['as', surround.as], ...surroundInWords(surround)] : []
    }
    case 'pages': {
      const page = resolved.page(id)
      if (page.dormant) return [...said(['path', 'title', 'kind']), ['dormant', 'its extension is off']]
      const template: readonly (readonly [string, string])[] = [['template', page.choice.template?.id ?? 'none']]
      return [...said(['path', 'title', 'kind', 'status', 'access']), ...template, ...printedOn(resolved, id)]
    }
    case 'menus': {
      const entries = own(site.data.menus, id) ?? []
      return entries.map(({ label, page, url }, n) => [String(n + 1), `${label} → ${page ?? url ?? 'nowhere'}`])
    }
    case 'kinds':
      return [...said(['label', 'from', 'template']), ['pages', pages((page) => resolved.page(page).facts.kind === id)]]
    case 'builders':
      return [
        ...said(['label', 'from', 'kinds', 'template']),
        ['pages', pages((page) => resolved.page(page).facts.builder === id)],
      ]
    case 'extensions':
      return said(['label', 'enabled'])
    default:
      return said(['file', 'width', 'height'])
  }
}

/** What a page gets of what it shares with others, by viewport where that differs. */
function printedOn(resolved: ResolvedSite, id: string): readonly (readonly [string, string])[] {
  const page = resolved.page(id)
  return (['header', 'footer', 'title', 'sidebar'] as const).map((facet) => {
    const values = resolved.site.viewports.map(({ name }) => {
      const view = page.at(name)
      const presence = view.presence(`${facet}.presence`)
      const use = facet === 'title' ? null : view.value(`${facet}.use`)
      const isNone = facet === 'sidebar' && view.value('sidebar.side') === 'none'
      return isNone ? 'none' : presence === 'shown' && use !== null ? String(use) : presence
    })
    const [first = ''] = values
    const isSame = values.every((value) => value === first)
    const each = resolved.site.viewports.map(({ name }, n) => `${values[n] ?? ''} at ${name}`)
    return [facet, isSame ? first : each.join(', ')]
  })
}

/** Which facets a declaration of a style sheet changes, and on which pages. */
function hoverStyle(resolved: ResolvedSite, file: string, lines: Lines, place: TextPlace): Hover | undefined {
  const isBefore = (at: TextPlace): boolean =>
    at.line < place.line || (at.line === place.line && at.column <= place.column)
  const declared = new Map<string, TextPlace>()
  for (const page of resolved.pages()) {
    if (page.dormant) continue
    for (const { name } of resolved.site.viewports) {
      const { entries, passed, notUnderstood } = page.at(name).style
      const all = [
        ...[...entries.values()].flatMap(({ declarations }) => declarations),
        ...[...passed.values()].flat(),
        ...notUnderstood.map(({ declaration }) => declaration),
      ]
      for (const { place: at } of all) if (at.file === file && isBefore(at)) declared.set(`${at.line}:${at.column}`, at)
    }
  }
  const [nearest] = [...declared.values()].sort((a, b) => b.line - a.line || b.column - a.column)
  if (!nearest) return undefined
  const from = lines.offset(nearest)
  const [declaration = ''] = /^[^;}]*/.exec(lines.text.slice(from)) ?? []
  if (lines.offset(place) > from + declaration.length) return undefined
  const isIt = ({ at }: ChainEntry): boolean =>
    at?.file === file && at.line === nearest.line && at.column === nearest.column
  const effects = effectsOf(resolved, isIt, ({ style }) =>
    [...style.entries.keys(), ...style.passed.keys()].filter(isProperty),
  )
  const span = lines.span({ from, to: from + declaration.trimEnd().length })
  if (effects.length > 0) return { span, markdown: effects.map(effectInWords).join('\n\n') }
  return { span, markdown: 'This moves or hides a part of pages in a way that is not followed.' }
}

const isProperty = (path: string): path is PropertyPath => definitionOf(path) !== undefined

import { longhandsOf } from '../css/longhands.js'
import { readStylesheet, type StyleRule, type Unread } from '../css/stylesheet.js'
import type { Place } from '../model/problem.js'
import type { Site } from '../model/site.js'
import type { PageFacts } from '../select/page-facts.js'
import { compileWhere, type CompiledWhere } from '../select/selector.js'
import { classesIn, selectorMatcher, type ChromeElement } from './chrome-tree.js'
import { isOn } from './extensions.js'

/** One longhand that a rule sets, with all that decides whether it wins. */
export interface StyleDeclaration {
  readonly property: string
  readonly value: string
  readonly important: boolean
  readonly specificity: StyleRule['specificity']
  /** Over all sheets, in order. */
  readonly order: number
  readonly selector: string
  readonly place: Place
  /** Pointer of the style's entry in the site file. */
  readonly pointer: string
}

interface CompiledRule {
  readonly matches: (element: ChromeElement) => boolean
  readonly media: readonly string[]
  readonly declarations: readonly StyleDeclaration[]
}

/** A style sheet of the site, read once. */
export interface SiteStyle {
  readonly where: CompiledWhere | undefined
  readonly rules: readonly CompiledRule[]
  readonly unread: readonly (Unread & { readonly place: Place; readonly pointer: string })[]
}

/** The site's style sheets; `classes` are those that any selector mentions, by which pages can differ. */
export interface SiteStyles {
  readonly styles: readonly SiteStyle[]
  readonly classes: ReadonlySet<string>
  readonly appliesTo: (facts: PageFacts, template: string | null) => readonly SiteStyle[]
}

export function readSiteStyles(site: Site): SiteStyles {
  const classes = new Set<string>()
  let order = 0
  const styles = (site.data.styles ?? []).flatMap((style, index): SiteStyle[] => {
    if (!isOn(site.data, style.from)) return []
    const pointer = `/styles/${index}`
    const file =
      style.file === undefined ? undefined : site.files.resolve(site.origin(`${pointer}/file`).file, style.file)
    const text = style.css ?? (file === undefined ? '' : (site.files.read(file) ?? ''))
    const placeOf =
      file === undefined
        ? inlinePlaces(site, `${pointer}/css`)
        : (line: number, column: number) => ({ file, line, column })
    const { rules, unread } = readStylesheet(text)
    for (const { selector } of rules) for (const name of classesIn(selector)) classes.add(name)
    return [
      {
        where: style.where && compileWhere(site, style.where),
        unread: unread.map((u) => ({
          ...{ ...u, pointer },
          get place() {
            return placeOf(u.line, u.column)
          },
        })),
        rules: rules.flatMap((rule): CompiledRule[] => {
          const matches = selectorMatcher(rule.selector)
          if (!matches) return []
          const declarations = rule.declarations.flatMap((d) =>
            longhandsOf(d.property, d.value).map(([property, value]): StyleDeclaration => ({
              ...{ property, value, important: d.important, specificity: rule.specificity, selector: rule.selector },
              ...{ order: order++, pointer },
              get place() {
                return placeOf(d.line, d.column)
              },
            })),
          )
          return [{ matches, media: rule.media, declarations }]
        }),
      },
    ]
  })
  return {
    styles,
    classes,
    appliesTo: (facts, template) => styles.filter((s) => !s.where || s.where.match(facts, template) !== undefined),
  }
}

/** Places within CSS that is written in the site file itself, which is looked at once somebody asks for one. */
function inlinePlaces(site: Site, pointer: string): (line: number, column: number) => Place {
  let known: ((line: number, column: number) => Place) | undefined
  return (line, column) => (known ??= placesFrom(site, pointer))(line, column)
}

/** A block scalar begins on the line below its mark. */
function placesFrom(site: Site, pointer: string): (line: number, column: number) => Place {
  const start = site.locate(pointer, 'value')
  const lines = site.sources.find((s) => s.file === start.file)?.text.split('\n') ?? []
  const mark = lines[start.line - 1]?.[start.column - 1]
  if (mark === '|' || mark === '>') {
    const indent = (lines[start.line]?.length ?? 0) - (lines[start.line]?.trimStart().length ?? 0)
    return (line, column) => ({ file: start.file, line: start.line + line, column: indent + column })
  }
  const quote = mark === '"' || mark === "'" ? 1 : 0
  return (line, column) => ({
    file: start.file,
    line: start.line + line - 1,
    column: line === 1 ? start.column + quote + column - 1 : column,
  })
}

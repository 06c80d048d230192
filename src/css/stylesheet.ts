import { calculateForAST } from '@bramus/specificity/core'
import type { CssNode, Rule, StyleSheet } from 'css-tree'
import generate from 'css-tree/generator'
import parse from 'css-tree/parser'
import walk from 'css-tree/walker'
import { isFollowed } from './media.js'

/** One declaration of a style sheet, shorthands not yet taken apart. */
export interface Declaration {
  readonly property: string
  readonly value: string
  readonly important: boolean
  /** Counted from 1, within the style sheet's text. */
  readonly line: number
  readonly column: number
}

/** One selector of a rule, with the rule's declarations. */
export interface StyleRule {
  readonly selector: string
  /** Specificity by Selectors 4, section 17: ids, classes, types. */
  readonly specificity: readonly [number, number, number]
  /** Media queries around it, all of which must hold. */
  readonly media: readonly string[]
  readonly declarations: readonly Declaration[]
}

/** A part of a style sheet that is not read. */
export interface Unread {
  readonly what: string
  readonly line: number
  readonly column: number
}

export interface ReadStylesheet {
  /** In order of the sheet. */
  readonly rules: readonly StyleRule[]
  readonly unread: readonly Unread[]
}

/** At-rules whose contents change how rules win, which this reader does not follow. */
const NOT_FOLLOWED = new Set(['layer', 'import', 'scope', 'container', 'starting-style'])

const TOO_DEEP = 'this is nested deeper than can be followed'

let longest = 0

/**
 * The parser keeps its buffer of tokens, and where a bracket is never closed it looks one past the text for the type of one
 * that was there before: it may then never end. Padded with spaces, the text ends where no token ever was.
 */
function padded(css: string): string {
  longest = Math.max(longest, css.length)
  return css.padEnd(longest + 4)
}

/** Reads a style sheet (CSS Syntax 3): rules with their media queries, specificity and positions. */
export function readStylesheet(css: string): ReadStylesheet {
  const unread: Unread[] = []
  const ast = parse(padded(css), {
    positions: true,
    parseValue: false,
    onParseError: (error) => {
      const { line = 1, column = 1 } = error as { line?: number; column?: number }
      unread.push({ what: error.message.includes('call stack') ? TOO_DEEP : error.message, line, column })
    },
  }) as StyleSheet
  const rules: StyleRule[] = []
  const media: string[] = []
  /** What the library can follow only so deep is told where it begins. */
  const unlessTooDeep = <T>(node: CssNode, work: () => T): T | undefined => {
    try {
      return work()
    } catch (error) {
      if (!(error instanceof RangeError)) throw error
      unread.push({ what: TOO_DEEP, ...startOf(node) })
      return undefined
    }
  }
  const enter = function (this: { skip: symbol }, node: CssNode): symbol | undefined {
    if (node.type === 'Atrule') {
      if (NOT_FOLLOWED.has(node.name) && (node.block || node.name === 'import')) {
        unread.push({ what: `@${node.name} is not followed`, ...startOf(node) })
        return this.skip
      }
      if (node.name === 'media') {
        const { prelude } = node
        const query = prelude ? unlessTooDeep(node, () => generate(prelude)) : 'all'
        if (query === undefined) return this.skip
        if (!isFollowed(query)) {
          unread.push({ what: 'a media query as long as this is not followed', ...startOf(node) })
          return this.skip
        }
        media.push(query)
      } else if (node.name !== 'supports') return this.skip
    }
    if (node.type === 'Rule') {
      rules.push(...(unlessTooDeep(node, () => readRule(node, [...media])) ?? []))
      return this.skip
    }
    return undefined
  }
  const leave = (node: CssNode): void => {
    if (node.type === 'Atrule' && node.name === 'media') media.pop()
  }
  unlessTooDeep(ast, () => walk(ast, { enter, leave }))
  return { rules, unread }
}

const startOf = (node: CssNode): { line: number; column: number } => ({
  line: node.loc?.start.line ?? 1,
  column: node.loc?.start.column ?? 1,
})

function readRule(rule: Rule, media: readonly string[]): StyleRule[] {
  if (rule.prelude.type !== 'SelectorList') return [] // broken, and reported by the parser
  const declarations: Declaration[] = []
  rule.block.children.forEach((node) => {
    if (node.type !== 'Declaration') return
    const value = generate(node.value).trim()
    const property = node.property.startsWith('--') ? node.property : node.property.toLowerCase()
    declarations.push({ property, value, important: node.important !== false, ...startOf(node) })
  })
  if (declarations.length === 0) return []
  return rule.prelude.children.toArray().map((node) => {
    const selector = generate(node)
    const { a, b, c } = calculateForAST(node).value
    return { selector, specificity: [a, b, c], media, declarations }
  })
}

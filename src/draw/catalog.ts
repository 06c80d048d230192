import { h } from 'hastscript'
import { toHtml } from 'hast-util-to-html'
import type { Element } from 'hast'
import { markdownTable } from 'markdown-table'
import type { Catalog, CatalogSurround, CatalogTemplate } from '../change/catalog.js'
import type { Json } from '../model/json.js'
import { countOf, someOf } from './count.js'
import { markdownBlocks, markdownText } from './markdown.js'

/** How many pages are named in a cell. */
const PAGES_NAMED = 6
/** Settings that tell most about a template, with what they are called in one line. */
const MAIN_SETTINGS = ['header.use', 'header.position', 'footer.use', 'sidebar.side', 'sidebar.use', 'title.presence']
const WIDTH_SETTINGS = ['width.mode', 'width.max', 'width.gutter', 'width.padding', 'width.columnMax']
const SPACE_SETTINGS = ['spacing.before', 'spacing.after']

/** A template in short lines, each with a name: what it prints, sets, is for, and who gets it. */
export function templateInWords(template: CatalogTemplate): readonly (readonly [string, string])[] {
  const { settings } = template
  const shown = (paths: readonly string[]): string =>
    paths.flatMap((path) => (settings[path] === undefined ? [] : `${path} ${valueInWords(settings[path])}`)).join(', ')
  const known = new Set([...MAIN_SETTINGS, ...WIDTH_SETTINGS, ...SPACE_SETTINGS])
  const others = Object.keys(settings).filter((path) => !known.has(path))
  const lines: readonly (readonly [string, string])[] = [
    ['prints', template.arrange.join(', ') || 'nothing'],
    ['chrome', shown(MAIN_SETTINGS)],
    ['width', shown(WIDTH_SETTINGS)],
    ['spacing', shown(SPACE_SETTINGS)],
    ['also sets', shown(others)],
    ['based on', template.base ?? ''],
    ['for kinds', template.for?.join(', ') ?? 'all'],
    ['builder', template.builder ?? ''],
    ['extension', template.extension ?? ''],
    ['pages', pagesInWords(template.pages)],
    ['overridden', template.overridden.length === 0 ? '' : pagesInWords(template.overridden)],
  ]
  return lines.filter(([, text]) => text !== '')
}

/** A surround in short lines, each with a name. */
export function surroundInWords(surround: CatalogSurround): readonly (readonly [string, string])[] {
  const rows = surround.rows.map(({ id, items }, n) => {
    const name = id === null ? (surround.rows.length === 1 ? 'items' : `row ${n + 1}`) : `row ${id}`
    return [name, items.join(', ') || 'nothing'] as const
  })
  const lines: readonly (readonly [string, string])[] = [
    ...(rows.length > 0 ? rows : [['items', 'nothing'] as const]),
    ['copy of', surround.copyOf ?? ''],
    ['extension', surround.extension ?? ''],
    ['pages', pagesInWords(surround.pages)],
  ]
  return lines.filter(([, text]) => text !== '')
}

const pagesInWords = (pages: readonly string[]): string =>
  pages.length === 0 ? 'none' : `${countOf(pages.length, 'page')}: ${someOf(pages, PAGES_NAMED)}`

/** A setting's value on one line. */
export function valueInWords(value: Json | undefined): string {
  if (value === null || value === undefined) return '–'
  if (typeof value !== 'object') return String(value)
  if (Array.isArray(value)) return value.map((each) => valueInWords(each as Json)).join(' ')
  return Object.entries(value)
    .map(([key, each]) => `${key} ${valueInWords(each as Json)}`)
    .join(' / ')
}

/** Header cells and rows of the table of kinds, templates and builders. */
export const useRows = ({ uses }: Catalog): readonly (readonly string[])[] =>
  uses.map(({ kind, template, builder, pages }) => [kind, template ?? 'none', builder ?? 'none', String(pages)])

/** Header of that table. */
export const USE_HEAD = ['Kind', 'Template', 'Builder', 'Pages'] as const

/** The catalog as Markdown with a table for each list. */
export function catalogMarkdown(site: string, catalog: Catalog): string {
  const table = (head: readonly string[], rows: readonly (readonly string[])[]): string =>
    markdownTable(
      [head, ...rows.map((row) => row.map(markdownText))].map((row) => [...row]),
      { alignDelimiters: false },
    )
  const cell = (lines: readonly (readonly [string, string])[]): string =>
    lines.map(([name, text]) => `${name}: ${text}`).join('; ')
  return markdownBlocks([
    `## Templates and surrounds of ${markdownText(site)}`,
    `### ${countOf(catalog.templates.length, 'template')}`,
    table(
      ['Template', 'What it does'],
      catalog.templates.map((t) => [t.label === null ? t.id : `${t.id} (${t.label})`, cell(templateInWords(t))]),
    ),
    `### ${countOf(catalog.surrounds.length, 'surround')}`,
    table(
      ['Surround', 'As', 'What it prints'],
      catalog.surrounds.map((s) => [s.id, s.as, cell(surroundInWords(s))]),
    ),
    '### Kinds, templates, builders',
    table(USE_HEAD, useRows(catalog)),
  ])
}

/** The catalog as one self-contained HTML page. */
export function catalogHtml(site: string, catalog: Catalog): string {
  const card = (title: string, note: string, lines: readonly (readonly [string, string])[]): Element =>
    h('article', [
      h('h3', [title, ...(note === '' ? [] : [' ', h('small', note)])]),
      h(
        'dl',
        lines.flatMap(([name, text]) => [h('dt', name), h('dd', text)]),
      ),
    ])
  const root = h('html', { lang: 'en' }, [
    h('head', [
      h('meta', { charset: 'utf-8' }),
      h('meta', { name: 'viewport', content: 'width=device-width, initial-scale=1' }),
      h('meta', { httpEquiv: 'Content-Security-Policy', content: "default-src 'none'; style-src 'unsafe-inline'" }),
      h('title', `${site}: templates and surrounds`),
      h('style', STYLE),
    ]),
    h('body', [
      h('main', [
        h('h1', `${site}: templates and surrounds`),
        h('h2', countOf(catalog.templates.length, 'template')),
        h(
          'div',
          { className: ['cards'] },
          catalog.templates.map((t) =>
            card(t.id, [t.label ?? '', t.isOn ? '' : 'off'].filter(Boolean).join(', '), templateInWords(t)),
          ),
        ),
        h('h2', countOf(catalog.surrounds.length, 'surround')),
        h(
          'div',
          { className: ['cards'] },
          catalog.surrounds.map((s) => card(s.id, s.as, surroundInWords(s))),
        ),
        h('h2', 'Kinds, templates, builders'),
        h('table', [
          h(
            'thead',
            h(
              'tr',
              USE_HEAD.map((text) => h('th', { scope: 'col' }, text)),
            ),
          ),
          h(
            'tbody',
            useRows(catalog).map((row) =>
              h(
                'tr',
                row.map((text) => h('td', text)),
              ),
            ),
          ),
        ]),
      ]),
    ]),
  ])
  return `${toHtml([{ type: 'doctype' }, root])}\n`
}

const STYLE = `
:root{color-scheme:light dark;--paper:light-dark(#fbfaf7,#14171d);--card:light-dark(#fff,#1b1f27);--ink:light-dark(#1b2230,#e4e7ec);--faint:light-dark(#5a6472,#a3adba);--line:light-dark(#d5d9df,#353c47)}
*{box-sizing:border-box}body{margin:0;font:15px/1.5 system-ui,sans-serif;background:var(--paper);color:var(--ink)}
main{max-width:80rem;margin:0 auto;padding:1.5rem}h1{font-size:1.6rem;margin:0}h2{font-size:1.15rem;margin:2rem 0 .5rem}h3{font-size:1rem;margin:0 0 .5rem}
small{font-weight:400;color:var(--faint)}.cards{display:grid;grid-template-columns:repeat(auto-fill,minmax(min(24rem,100%),1fr));gap:1rem}
article{background:var(--card);border:1px solid var(--line);border-radius:.4rem;padding:1rem}
dl{display:grid;grid-template-columns:6rem 1fr;gap:.2rem .75rem;margin:0}dt{color:var(--faint)}dd{margin:0;overflow-wrap:anywhere}
table{border-collapse:collapse;font-variant-numeric:tabular-nums}th,td{text-align:left;padding:.25rem 1.5rem .25rem 0;border-bottom:1px solid var(--line)}th{color:var(--faint);font-weight:600}td:last-child,th:last-child{text-align:right;padding-right:0}
`

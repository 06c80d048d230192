import { h } from 'hastscript'
import { toHtml } from 'hast-util-to-html'
import type { Element } from 'hast'
import type { SiteDiff } from '../change/diff.js'
import type { ChangeGroup } from '../change/page-changes.js'
import { measurePage } from '../measure/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { changeInWords, diffSummary, findingChangesInWords, groupHeadline, siteChangesInWords } from './diff-words.js'
import { wireframeTree } from './wireframe.js'

/** What changed, as one self-contained HTML page; where both states are sites, with a page of each group before and after. */
export function diffHtml(diff: SiteDiff, before?: ResolvedSite, after?: ResolvedSite): string {
  const list = (title: string, keys: readonly string[]): Element[] =>
    keys.length === 0
      ? []
      : [
          h('h2', title),
          h(
            'ul',
            keys.map((key) => h('li', key)),
          ),
        ]
  const root = h('html', { lang: 'en' }, [
    h('head', [
      h('meta', { charset: 'utf-8' }),
      h('meta', { name: 'viewport', content: 'width=device-width, initial-scale=1' }),
      h('meta', { httpEquiv: 'Content-Security-Policy', content: "default-src 'none'; style-src 'unsafe-inline'" }),
      h('title', 'What would change'),
      h('style', STYLE),
    ]),
    h('body', [
      h('main', [
        h('h1', 'What would change'),
        h('p', `${diffSummary(diff)}.`),
        ...diff.groups.map((group, n) => groupOf(group, n, before, after)),
        ...list('Pages and surrounds', siteChangesInWords(diff)),
        ...list(
          'Findings',
          findingChangesInWords(diff).map((words) => words.join(': ')),
        ),
      ]),
    ]),
  ])
  return `${toHtml([{ type: 'doctype' }, root])}\n`
}

function groupOf(group: ChangeGroup, n: number, before?: ResolvedSite, after?: ResolvedSite): Element {
  const [page = ''] = group.pages
  return h('section', [
    h('h2', groupHeadline(group)),
    h(
      'ul',
      changeInWords(group).map((line) => h('li', line)),
    ),
    h('p', { className: ['pages'] }, group.pages.join(', ')),
    ...(before && after
      ? [
          h('details', [
            h('summary', `${page}, before and after`),
            h('div', { className: ['pair'] }, [drawing('before', before, page, n), drawing('after', after, page, n)]),
          ]),
        ]
      : []),
  ])
}

function drawing(state: 'before' | 'after', site: ResolvedSite, id: string, n: number): Element {
  const page = site.page(id)
  const measures = page.dormant ? [] : site.site.viewports.map(({ name }) => measurePage(page, name))
  const svg = measures.length === 0 ? [] : [wireframeTree(measures, { heading: false, idPrefix: `${state}-${n}-` })]
  return h('figure', [h('figcaption', state === 'before' ? 'Before' : 'After'), ...svg])
}

const STYLE = `
:root{color-scheme:light dark;--paper:light-dark(#fbfaf7,#14171d);--ink:light-dark(#1b2230,#e4e7ec);--faint:light-dark(#5a6472,#a3adba);--line:light-dark(#d5d9df,#353c47)}
*{box-sizing:border-box}body{margin:0;font:16px/1.5 system-ui,sans-serif;background:var(--paper);color:var(--ink)}
main{max-width:75rem;margin:0 auto;padding:1.5rem}h1{font-size:1.75rem}h2{font-size:1.2rem;margin:2rem 0 .25rem}
.pages{color:var(--faint)}details{border:1px solid var(--line);border-radius:.4rem;padding:.5rem 1rem}summary{cursor:pointer}
figure{margin:.5rem 0}svg{max-width:100%;height:auto}
`

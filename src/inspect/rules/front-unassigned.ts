import { toPointer } from '../../model/json.js'
import { setAt } from '../propose.js'
import { siteRule } from '../rule.js'

/** A site without a front page, or with two. */
export const frontUnassigned = siteRule({
  id: 'front-unassigned',
  severity: 'warning',
  facet: 'site',
  summary: 'No page is set as the front page, or another page has its address.',
  matters: 'The site’s address shows whatever the system picks by default.',
  holds: '`purposes.front` is missing (or refers to no page), or a page that is not the front page has the path `/`.',
  example: `pages: { visit: { path: /, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: [],
  message: ({ worst }) =>
    worst.words?.['page'] === undefined
      ? 'no page is set as the front page'
      : `the page "${worst.words['page']}" has the path /, where the front page answers`,
  advice: 'set purposes: { front: … }, and give every other page a path of its own',
  keys: ['front'],
  judge(_tally, { site }, report) {
    const front = site.data.purposes?.front
    const hasFront = front !== undefined && site.pageData(front) !== undefined
    const root = site.pageAt('/')
    if (!hasFront)
      report({
        at: site.data.purposes ? '/purposes' : '/site',
        pages: [],
        numbers: {},
        ...(root !== undefined && { words: { root } }),
      })
    else if (root !== undefined && root !== front)
      report({ at: toPointer(['pages', root, 'path']), pages: [root], numbers: {}, words: { page: root } })
  },
  propose: ({ worst }, { site }) => {
    const root = worst.words?.['root']
    return root === undefined
      ? []
      : [{ title: `set "${root}" is the front page`, patch: setAt(site, ['purposes', 'front'], root) }]
  },
})

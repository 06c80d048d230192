import { pageRule } from '../rule.js'
import type { PageData } from '../../model/schema.js'
import type { PageSight } from '../page-sight.js'
import { removeAt, setAt } from '../propose.js'

/** A members' page whose redirect does not end at a page. */
export const redirectBroken = pageRule({
  id: 'redirect-broken',
  severity: 'error',
  facet: 'site',
  summary:
    'A members’ page has no page to send visitors to who are not signed in: none is set, it is for members too, or the redirects form a circle.',
  matters: 'Who is not signed in gets an error where they should get a door.',
  holds:
    'Following `sendTo` (else `purposes.signIn`) from the page ends at no page, at a members’ page, or in a circle.',
  example: `purposes: { signIn: door }
pages:
  visit: { path: /visit, title: Visit, access: members, sendTo: rota, body: [ { section: s, items: [ { text: words } ] } ] }
  rota: { path: /rota, title: Rota, access: members, sendTo: visit, body: [ { section: s, items: [ { text: words } ] } ] }
  door: { path: /door, title: Sign in, body: [ { section: s, items: [ { form: sign-in, to: door } ] } ] }
`,
  numbers: [],
  message: ({ worst }) => `who is not signed in is sent ${worst.words?.['chain'] ?? 'nowhere'}`,
  advice: 'send them to a public page: sendTo, or purposes.signIn for all',
  check(sight, report) {
    const { data } = sight.page
    if (data.access !== 'members') return
    const chain = chainOf(sight, data)
    if (!chain) return
    report({
      at: data.sendTo === undefined ? sight.pointer('access') : sight.pointer('sendTo'),
      numbers: {},
      words: { chain },
    })
  },
  propose: ({ at, pages }, { site }) => {
    const { signIn } = site.data.purposes ?? {}
    if (signIn === undefined || site.pageData(signIn)?.access === 'members') return []
    const removed = at.endsWith('/sendTo')
      ? removeAt(site, at)
      : pages.flatMap((page) => setAt(site, ['pages', page, 'sendTo'], signIn))
    return [{ title: `send them to "${signIn}", as all others are`, patch: removed }]
  },
})

/** The way in words, where it does not end on a public page; `undefined` where it does. */
function chainOf({ page, resolved }: PageSight, data: PageData): string | undefined {
  const { site } = resolved
  const seen = [page.id]
  for (let here: PageData = data; ;) {
    const next = here.sendTo ?? site.data.purposes?.signIn
    const target = next === undefined ? undefined : site.pageData(next)
    if (next === undefined)
      return seen.length === 1 ? 'nowhere' : `to ${seen.slice(1).join(', then ')}, which has no page to send to`
    if (!target) return `to "${next}", which is not there`
    if (seen.includes(next)) return `in a circle: ${[...seen, next].join(' → ')}`
    if (target.access !== 'members') return undefined
    seen.push(next)
    here = target
  }
}

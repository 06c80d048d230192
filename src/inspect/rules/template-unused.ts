import { own, toPointer } from '../../model/json.js'
import { namedTemplates } from '../../resolve/choose-template.js'
import { siteRule } from '../rule.js'
import { removeAt } from '../propose.js'
import { allOf } from '../engine/reads.js'

const USED = 'used'

/** A template that no page gets. */
export const templateUnused = siteRule({
  id: 'template-unused',
  severity: 'note',
  upkeep: 'unused',
  facet: 'template',
  summary: 'No page gets the template, or would get it without another choice.',
  matters: 'It has to be maintained although no page uses it.',
  holds: 'No page, live or dormant, has the template chosen for it by anything, and no template has it as its base.',
  example: `templates: { spare: { layout: { title: absent } } }
`,
  numbers: [],
  message: ({ worst }) => `no page gets the template "${worst.words?.['template'] ?? ''}"`,
  advice: 'assign it, or remove it',
  seesDormant: true,
  marks({ page, resolved }, mark) {
    for (const id of new Set(namedTemplates(resolved, page.facts, page.data))) mark(USED, id)
  },
  keys: [USED],
  judge(tally, { site }, report) {
    const used = new Set(tally.values())
    const templates = Object.entries(allOf(site.data.templates) ?? {})
    for (const [, { base }] of templates) if (base !== undefined) used.add(base)
    for (const [id] of templates)
      if (!used.has(id)) report({ at: toPointer(['templates', id]), pages: [], numbers: {}, words: { template: id } })
  },
  propose: ({ at, worst }, { site }) => {
    // What a file underneath brings is that file's business, and something may still be copied from this one.
    const isCopied = [...Object.values(site.data.templates ?? {})].some((t) => t.copyOf === worst.words?.['template'])
    const isMine = site.nearness(at) === 0 && own(site.data.templates, worst.words?.['template'] ?? '')
    return isMine && !isCopied ? [{ title: 'remove the template', patch: removeAt(site, at), choice: true }] : []
  },
})

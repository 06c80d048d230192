import { viewRule, type Proposal } from '../rule.js'

/** A year after a copyright sign, alone or as the end of a range of years. */
const COPYRIGHT_YEAR = /(?:©|\(c\)|\bcopyright\b)\D*?((?:19|20)\d\d)(?:\s*[–—-]\s*((?:19|20)\d\d|\d\d))?/i

/** A typed year in the footer that has passed. */
export const yearStale = viewRule({
  id: 'year-stale',
  severity: 'note',
  facet: 'footer',
  summary: 'The footer’s copyright names a year that has passed.',
  matters: 'A site with last year’s date looks unmaintained.',
  holds:
    'The footer is printed, and a text in it has ©, (c) or “copyright” before a year, or a range whose last year, that is earlier than this year.',
  example: `surrounds: { foot: { as: footer, rows: [ { items: [ { text: "© 2019 Quillmere" } ] } ] } }
theme: { layout: { footer: { use: foot } } }
`,
  numbers: ['year'],
  worst: 'smallest',
  message: ({ worst }) => `the footer still shows ${worst.numbers['year']}`,
  advice: 'write this year, or leave the year out',
  check(sight, report) {
    if (!sight.footer) return
    for (const { item, place, pointer } of sight.items) {
      const year = place === 'footer' ? yearIn(item.text ?? '') : undefined
      if (year !== undefined && year < sight.now.getUTCFullYear())
        report({
          at: `${pointer}/text`,
          numbers: { year },
          words: { now: String(sight.now.getUTCFullYear()), text: item.text ?? '' },
        })
    }
  },
  propose: ({ at, worst }): readonly Proposal[] => {
    const { text = '', now = '' } = worst.words ?? {}
    const match = COPYRIGHT_YEAR.exec(text)
    if (!match) return []
    const old = match[2] ?? match[1] ?? ''
    const end = match.index + match[0].length
    const value = text.slice(0, end - old.length) + now.slice(-old.length) + text.slice(end)
    return [{ title: `write ${now}`, patch: [{ op: 'replace', path: at, value }] }]
  },
})

/** The last year that a copyright claim names. */
function yearIn(text: string): number | undefined {
  const [, first, last] = COPYRIGHT_YEAR.exec(text) ?? []
  if (first === undefined) return undefined
  return Number(last === undefined ? first : last.length === 2 ? first.slice(0, 2) + last : last)
}

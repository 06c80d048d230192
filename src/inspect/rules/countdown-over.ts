import { viewRule } from '../rule.js'

const DAY_MS = 24 * 60 * 60 * 1000

/** A countdown to something that has been. */
export const countdownOver = viewRule({
  id: 'countdown-over',
  severity: 'warning',
  facet: 'body',
  summary: 'A countdown has reached its end.',
  matters: 'It shows zero, and the page announces something that is over.',
  holds: 'The time that is counted down to is not later than now. days is for how long.',
  example: `pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words }, { countdown: "2020-01-01T00:00:00Z" } ] } ] } }
`,
  numbers: ['days'],
  message: ({ worst }) => {
    const days = Math.floor(worst.numbers['days'] ?? 0)
    return days === 0 ? 'the countdown ended today' : `the countdown ended ${days} ${days === 1 ? 'day' : 'days'} ago`
  },
  advice: 'set the next date, or remove the countdown',
  check(sight, report) {
    for (const { item, pointer } of sight.items) {
      const target = item.countdown === undefined ? NaN : Date.parse(item.countdown)
      const days = (sight.now.getTime() - target) / DAY_MS
      if (days >= 0) report({ at: `${pointer}/countdown`, numbers: { days } })
    }
  },
  propose: ({ at }) => [
    { title: 'remove the countdown', patch: [{ op: 'remove', path: at.replace(/\/countdown$/, '') }], choice: true },
  ],
})

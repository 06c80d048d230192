const PLURALS = new Intl.PluralRules('en')
const LISTS = new Intl.ListFormat('en')

/** A number of things: `1 fix`, `2 fixes`, `1 page changes` (`countOf(1, 'page changes', 'pages change')`). */
export const countOf = (n: number, one: string, many = `${one}${/(s|x|ch|sh)$/.test(one) ? 'es' : 's'}`): string =>
  `${n} ${PLURALS.select(n) === 'one' ? one : many}`

/** `a`, `a and b`, `a, b, and c`; of very many the first, and how many more. */
export const listOf = (names: readonly string[], most = Infinity): string =>
  names.length <= most ? LISTS.format(names) : LISTS.format([...names.slice(0, most), `${names.length - most} more`])

const PLURALS = new Intl.PluralRules('en')

/** A number of things: `1 fix`, `2 fixes`, `1 page changes` (`countOf(1, 'page changes', 'pages change')`). */
export const countOf = (n: number, one: string, many = `${one}${/(s|x|ch|sh)$/.test(one) ? 'es' : 's'}`): string =>
  `${n} ${PLURALS.select(n) === 'one' ? one : many}`

/** `a, b, c and 4 more`. */
export const someOf = (names: readonly string[], most: number): string =>
  names.length <= most ? names.join(', ') : `${names.slice(0, most).join(', ')} and ${names.length - most} more`

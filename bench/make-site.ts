/** A made-up site of a size, as one JSON document: 200 templates, 500 assign entries, five kinds. */
export function makeSite(pages: number, templates = 200, entries = 500): string {
  let state = 12345
  // A small linear generator (Numerical Recipes): the same site on every run.
  const random = (below: number): number => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return state % below
  }
  const kinds = ['page', 'article', 'listing', 'event', 'product']
  const range = (n: number): number[] => Array.from({ length: n }, (_, i) => i)
  const sections = 40
  const selector = (n: number): Record<string, string> => {
    switch (n % 6) {
      case 0:
        return { path: `/part-${random(sections)}/**` }
      case 1:
        return { tag: `tag-${random(200)}` }
      case 2:
        return { kind: kinds[random(5)] as string, tag: `tag-${random(200)}` }
      case 3:
        return { page: `p${random(pages)}` }
      case 4:
        return { under: `p${random(Math.min(pages, sections))}` }
      default:
        return { path: `/part-${random(sections)}/group-${random(30)}/*` }
    }
  }
  const site = {
    wembra: 1,
    site: { name: 'Bench' },
    surrounds: Object.fromEntries(range(20).map((n) => [`h${n}`, { as: 'header', height: `${60 + n}px` }])),
    theme: { layout: { header: { use: 'h0' } } },
    kinds: Object.fromEntries(kinds.map((kind) => [kind, { template: `t${random(templates)}` }])),
    templates: Object.fromEntries(
      range(templates).map((n) => [
        `t${n}`,
        { layout: { header: { use: `h${n % 20}` }, width: { max: 900 + n }, spacing: { before: n, after: 2 * n } } },
      ]),
    ),
    assign: range(entries).map((n) =>
      n % 2 === 0
        ? { template: `t${random(templates)}`, where: selector(n / 2) }
        : { layout: { title: 'hidden', spacing: { before: n } }, where: selector((n - 1) / 2) },
    ),
    pages: Object.fromEntries(
      range(pages).map((n) => [
        `p${n}`,
        {
          path: n < sections ? `/part-${n}` : `/part-${n % sections}/group-${random(30)}/page-${n}`,
          title: `Page number ${n} of the bench site`,
          kind: kinds[n % 5],
          ...(n >= sections && { parent: `p${n % sections}` }),
          tags: [`tag-${random(200)}`],
          ...(n % 20 === 0 && { layout: { title: { presence: 'hidden' }, width: { max: 800 + (n % 7) } } }),
          body: [
            {
              section: 'hero',
              band: 'full',
              padding: '80px 24px',
              background: { color: '#123456' },
              items: [
                { heading: 1, text: `Page number ${n}` },
                { text: 'Words that say what this page is about, in a sentence or so.' },
              ],
            },
            {
              section: 'words',
              padding: '40px 24px',
              items: [
                { heading: 2, text: 'More' },
                { text: 'Some more words, so that a page of the bench is as long as a short real one.' },
              ],
            },
          ],
        },
      ]),
    ),
  }
  return JSON.stringify(site)
}

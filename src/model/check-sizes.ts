import { own, toPointer } from './json.js'
import { LIMITS } from './limits.js'
import type { NameProblem } from './problem.js'
import type { Item } from './site-data.js'
import type { SiteData, SurroundData } from './schema.js'

/**
 * What no schema can count: how much is printed where surrounds print other surrounds, which may double at every step.
 *
 * @param site - The parts to check.
 * @param surrounds - All surrounds that their names can mean; none of them prints itself.
 */
export function checkSizes(site: SiteData, surrounds: SiteData['surrounds'] = site.surrounds): NameProblem[] {
  const printed = new Printed(surrounds ?? {})
  const problems: NameProblem[] = []
  const tooLarge = (pointer: string, what: string, most: number, wayOut: string): void =>
    void problems.push({
      ...{ code: 'too-large', pointer },
      message: `${what} prints more than ${most} items, those of surrounds in it included; ${wayOut}`,
    })
  for (const id of Object.keys(site.surrounds ?? {}))
    if (printed.of(id) > LIMITS.surround)
      tooLarge(toPointer(['surrounds', id]), `the surround "${id}"`, LIMITS.surround, 'take some out')
  // With one of those in it everything else would be too large as well.
  if (problems.length > 0) return problems
  for (const [id, page] of Object.entries(site.pages))
    if (printed.in(page.body ?? []) > LIMITS.body)
      tooLarge(toPointer(['pages', id, 'body']), `the page "${id}"`, LIMITS.body, 'split it into several pages')
  for (const [id, { arrange = [] }] of Object.entries(site.templates ?? {}))
    if (printed.in(arrange.filter((entry) => typeof entry !== 'string')) > LIMITS.body)
      tooLarge(toPointer(['templates', id, 'arrange']), `the template "${id}"`, LIMITS.body, 'take some out')
  let inserted = 0
  for (const [n, insert] of (site.inserts ?? []).entries()) {
    inserted += printed.in([insert as unknown as Item])
    if (inserted <= LIMITS.inserted) continue
    tooLarge(`/inserts/${n}`, 'the inserts up to this one together', LIMITS.inserted, 'take some out')
    break
  }
  return problems
}

/** How many items are printed, surrounds in them included; counting stops past the largest number that is allowed. */
class Printed {
  readonly #surrounds: NonNullable<SiteData['surrounds']>
  readonly #known = new Map<string, number>()
  static readonly #MOST = Math.max(LIMITS.surround, LIMITS.body, LIMITS.inserted) + 1

  constructor(surrounds: NonNullable<SiteData['surrounds']>) {
    this.#surrounds = surrounds
  }

  of(id: string, depth = 0): number {
    const known = this.#known.get(id)
    if (known !== undefined) return known
    const surround = own(this.#surrounds, id)
    // As deep as this nothing is shown to anybody.
    const count = !surround ? 0 : depth > LIMITS.nesting ? Printed.#MOST : this.in(itemsOf(surround), depth + 1)
    this.#known.set(id, count)
    return count
  }

  in(items: readonly Item[], depth = 0): number {
    let count = 0
    const open: (readonly Item[])[] = [items]
    for (let list = open.pop(); list; list = open.pop()) {
      count += list.length
      for (const { use, items: inside, columns } of list) {
        if (use !== undefined) count += this.of(use, depth)
        if (count >= Printed.#MOST) return Printed.#MOST
        if (inside) open.push(inside)
        for (const column of columns ?? []) if (column.items) open.push(column.items)
      }
    }
    return count
  }
}

const itemsOf = ({ rows = [], items = [] }: SurroundData): readonly Item[] => [
  ...rows.flatMap((row) => row.items ?? []),
  ...items,
]

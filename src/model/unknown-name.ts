import { didYouMean } from './did-you-mean.js'
import { FACET_NAMES, HEADLINE_PROPERTY, pathOf, PROPERTY_PATHS } from './facets.js'
import { WembraError } from './wembra-error.js'

/** What names are looked up as. */
export type NamedThing =
  | 'page'
  | 'viewport'
  | 'property'
  | 'facet'
  | 'rule'
  | 'severity'
  | 'template'
  | 'surround'
  | 'menu'
  | 'asset'
  | 'box'
  | 'column'

/** Thrown for a name that there is not: `unknown page "vist"; did you mean "visit"?`. */
export class UnknownNameError extends WembraError {
  override readonly name = 'UnknownNameError'
  readonly code = 'unknown-name'
  readonly thing: NamedThing
  /** The name that was asked for. */
  readonly asked: string
  /** The name that was probably meant. */
  readonly meant: string | undefined

  constructor(thing: NamedThing, asked: string, known: Iterable<string>, hint?: string) {
    const meant = typeof asked === 'string' ? didYouMean(asked, known) : undefined
    super(
      `unknown ${thing} "${String(asked)}"; ${meant === undefined ? (hint ?? listed(known)) : `did you mean "${meant}"?`}`,
    )
    this.thing = thing
    this.asked = asked
    this.meant = meant
  }
}

const MOST_LISTED = 12

function listed(known: Iterable<string>): string {
  const all = [...known]
  const more = all.length - MOST_LISTED
  return `known: ${all.slice(0, MOST_LISTED).join(', ')}${more > 0 ? ` and ${more} more` : ''}`
}

/** Thrown for a value that a function cannot work with: `expected a width in px above 0, got NaN`. */
export class ValueError extends WembraError {
  override readonly name = 'ValueError'
  readonly code = 'value'
}

/** The error for a path that is no property: a facet alone stands for the property people mean by it. */
export function unknownProperty(path: string): UnknownNameError {
  const facet = path.includes('.') ? undefined : FACET_NAMES.find((name) => name === didYouMean(path, FACET_NAMES))
  const known = facet ? [pathOf(facet, HEADLINE_PROPERTY[facet])] : undefined
  return new UnknownNameError('property', path, known ?? PROPERTY_PATHS, known && `did you mean "${known[0] ?? ''}"?`)
}

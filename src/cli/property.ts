import { didYouMean } from '../model/did-you-mean.js'
import { definitionOf, HEADLINE_PROPERTY, isFacet, PROPERTY_PATHS } from '../model/facets.js'
import { UsageError } from './io.js'

/** The property that a word means: a facet's name stands for what people mean by it. */
export function propertyNamed(asked: string): string {
  if (asked === 'template') return asked
  if (isFacet(asked)) return `${asked}.${HEADLINE_PROPERTY[asked]}`
  if (definitionOf(asked)) return asked
  const meant = didYouMean(asked, ['template', ...PROPERTY_PATHS])
  throw new UsageError(
    `there is no property "${asked}"${meant ? `; did you mean "${meant}"?` : `; there are: ${PROPERTY_PATHS.join(', ')}`}`,
  )
}

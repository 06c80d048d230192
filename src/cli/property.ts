import {
  HEADLINE_PROPERTY,
  isFacet,
  isPropertyPath,
  pathOf,
  PROPERTY_PATHS,
  type PropertyPath,
} from '../model/facets.js'
import { UnknownNameError } from '../model/unknown-name.js'

/** The property that a word means: a facet's name stands for what people mean by it. */
export function propertyNamed(asked: string): PropertyPath | 'template' {
  if (asked === 'template') return asked
  if (isFacet(asked)) return pathOf(asked, HEADLINE_PROPERTY[asked])
  if (isPropertyPath(asked)) return asked
  throw new UnknownNameError('property', asked, ['template', ...PROPERTY_PATHS])
}

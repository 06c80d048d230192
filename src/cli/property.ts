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
  const path = asked === 'template' ? asked : pathNamed(asked)
  if (path === undefined) throw new UnknownNameError('property', asked, ['template', ...PROPERTY_PATHS])
  return path
}

/** The path that a word means: its own, or the main one of a facet; `undefined` where it is neither. */
export function pathNamed(asked: string): PropertyPath | undefined {
  if (isFacet(asked)) return pathOf(asked, HEADLINE_PROPERTY[asked])
  return isPropertyPath(asked) ? asked : undefined
}

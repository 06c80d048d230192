import { fromPointer } from '../model/json.js'
import type { Finding } from './rule.js'

/** The steps in which a site is set up, in their order; a finding is fixed at one of them. */
export const STEPS = ['Theme', 'Surrounds', 'Templates', 'Assignment', 'Page overrides', 'Content', 'Site'] as const
/** A step of the work, as findings are grouped by. */
export type Step = (typeof STEPS)[number]

const BY_SECTION: Readonly<Record<string, Step>> = {
  theme: 'Theme',
  kinds: 'Theme',
  styles: 'Theme',
  typography: 'Theme',
  surrounds: 'Surrounds',
  menus: 'Surrounds',
  assets: 'Surrounds',
  templates: 'Templates',
  builders: 'Templates',
  assign: 'Assignment',
}
const OF_BODY = new Set(['body', 'image', 'share'])

/** The step of work at which a finding's cause was set, and is to be changed. */
export function stepOf({ at }: Pick<Finding, 'at'>): Step {
  const [section = '', , key] = fromPointer(at.pointer)
  if (section === 'pages' && key !== undefined) return OF_BODY.has(key) ? 'Content' : 'Page overrides'
  return BY_SECTION[section] ?? 'Site'
}

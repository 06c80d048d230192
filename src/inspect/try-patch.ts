import { PatchError } from '../model/edited-document.js'
import type { Patch } from '../model/patch.js'
import { SiteError } from '../model/problem.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

/** The site with a patch applied in memory; `undefined` where that is no site, or nothing is changed. */
export function tryPatch(resolved: ResolvedSite, patch: Patch): ResolvedSite | undefined {
  if (patch.length === 0) return undefined
  try {
    return resolved.with(patch)
  } catch (error) {
    if (error instanceof SiteError || error instanceof PatchError) return undefined
    throw error
  }
}

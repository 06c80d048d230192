import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

/** A whole site, for rules that only the whole shows. */
export class Survey {
  readonly resolved: ResolvedSite
  readonly now: Date

  constructor(resolved: ResolvedSite, now: Date) {
    this.resolved = resolved
    this.now = now
  }

  get site() {
    return this.resolved.site
  }

  get viewports(): readonly string[] {
    return this.site.viewports.map((v) => v.name)
  }

  /** What one page looks like. */
  page(id: string | undefined): ResolvedPage | undefined {
    return id !== undefined && this.site.pageData(id) ? this.resolved.page(id) : undefined
  }
}

import { expose } from 'comlink'
import {
  catalogOf,
  EditError,
  PatchError,
  SiteError,
  diffFacets,
  diffSites,
  measurePage,
  groupPages,
  inspectAsync,
  mapSite,
  findWays,
  type Catalog,
  rewriteSite,
  type Finding,
  type Goal,
  type Groups,
  type InspectProgress,
  type MappedThing,
  type Patch,
  type ResolvedSite,
  type SiteDiff,
  type Ways,
} from 'wembra'
import { findingsHtml, previewSvg } from 'wembra/report'
import { readProject, type Project, type Texts } from '../session/project.ts'
import { textDiff } from './text-diff.ts'

let resolved: ResolvedSite | undefined
let opened: Texts = {}
/** Ends what is still asked about earlier texts. */
let turn = new AbortController()

const site = (): ResolvedSite => {
  if (!resolved) throw new Error('no site is open')
  return resolved
}

/** Told so often, that telling costs nothing beside the work. */
const TOLD = 250

/** What takes longer than a frame, done beside the page. */
const work = {
  open(project: Pick<Project, 'file' | 'binary'>, texts: Texts): void {
    const read = readProject(project, texts)
    resolved = 'resolved' in read ? read.resolved : undefined
    opened = texts
    turn.abort()
    turn = new AbortController()
  },
  /** Every conflict, without fixes; what is asked about other texts ends it. */
  findings(onProgress: (progress: InspectProgress) => void): Promise<readonly Finding[]> {
    return inspectAsync(site(), {
      signal: turn.signal,
      onProgress: (progress) => {
        if (progress.done % TOLD === 0) onProgress(progress)
      },
    })
  },
  /** One conflict with its fixes tried. */
  async fixed(key: string): Promise<Finding | undefined> {
    return (await inspectAsync(site(), { signal: turn.signal, keys: new Set([key]), fixes: true }))[0]
  },
  /** How many pages get other facets with a change. */
  reach: (patch: Patch): number =>
    diffFacets(site(), site().with(patch)).reduce((sum, group) => sum + group.pages.length, 0),
  /** The texts that a change writes, or why it cannot be written. */
  rewrite(patch: Patch): { readonly texts: Texts } | { readonly problem: string } {
    try {
      return { texts: Object.fromEntries(rewriteSite(site().site, patch).texts) }
    } catch (error) {
      if (error instanceof EditError || error instanceof PatchError || error instanceof SiteError)
        return { problem: error.message }
      throw error
    }
  },
  /** The lines that a change would write. */
  lines: (patch: Patch): string => textDiff(opened, rewriteSite(site().site, patch).texts),
  diff: (patch: Patch): SiteDiff => diffSites(site(), site().with(patch)),
  ways: (pages: readonly string[], goals: readonly Goal[]): Ways => findWays(site(), pages, goals),
  /** The first screen of a page, as SVG; with a change, as it would be then. */
  picture(page: string, viewport: string, change?: Patch): string {
    const state = change ? site().with(change) : site()
    const found = state.page(page)
    return found.dormant ? '' : previewSvg(measurePage(found, viewport))
  },
  catalog: (): Catalog => catalogOf(site()),
  groups: (): Groups => groupPages(site()),
  map: (): readonly MappedThing[] => mapSite(site()),
  report: async (): Promise<string> =>
    findingsHtml(site(), await inspectAsync(site(), { signal: turn.signal, fixes: true })),
}

export type Work = typeof work

expose(work)

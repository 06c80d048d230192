import { expose } from 'comlink'
import {
  catalogOf,
  diffSites,
  measurePage,
  groupPages,
  inspectAsync,
  mapSite,
  findWays,
  type Catalog,
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

let resolved: ResolvedSite | undefined

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
  },
  findings(fixes: boolean, onProgress: (progress: InspectProgress) => void): Promise<readonly Finding[]> {
    return inspectAsync(site(), {
      fixes,
      onProgress: (progress) => {
        if (progress.step === 'fixes' || progress.done % TOLD === 0) onProgress(progress)
      },
    })
  },
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
  report: (findings: readonly Finding[]): string => findingsHtml(site(), findings),
}

export type Work = typeof work

expose(work)

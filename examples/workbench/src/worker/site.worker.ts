import { expose } from 'comlink'
import { createPatch } from 'rfc6902'
import {
  assignedPages,
  catalogOf,
  EditError,
  PatchError,
  SiteError,
  diffFacets,
  diffSitesAsync,
  fontProblem,
  measurePage,
  groupLayouts,
  groupPages,
  inspectAsync,
  mapSite,
  findWays,
  type Catalog,
  type ChainEntry,
  rewriteSite,
  type Finding,
  type Goal,
  type Groups,
  type InspectProgress,
  type LayoutGroup,
  type MappedThing,
  type Patch,
  type Problem,
  type PropertyPath,
  type ResolvedSite,
  type SerializedSite,
  type SiteDiff,
  type SourcePlace,
  type Ways,
} from 'wembra'
import {
  completionsAt,
  effectsOf,
  hoverAt,
  type Completion,
  type Hover,
  type SiteProject,
  type TextPlace,
} from 'wembra/language'
import { findingsHtml, previewSvg } from 'wembra/report'
import type { Project, Texts } from '../session/project.ts'
import { Latest } from './latest.ts'
import { OpenSite, type Read } from './open-site.ts'
import { textDiff } from './text-diff.ts'

let resolved: ResolvedSite | undefined
/** Why there is none. */
let problems: readonly Problem[] = []
let opened: Texts = {}
/** The site as it is, and with the text that somebody is writing, which need not be read yet. */
let open: OpenSite | undefined
let writing: OpenSite | undefined
/** Ends what is still asked about earlier texts. */
const turn = new Latest()
/** Ends what is still tried for a conflict. */
const fixing = new Latest()
/** Ends what is still asked about a change that is only planned. */
const trying = new Latest()

const site = (): ResolvedSite => {
  if (!resolved) throw new Error('no site is open')
  return resolved
}

/** How far a setting reaches: pages on which it wins, and others on which it is said and does not. */
export interface SettingReach {
  readonly wins: number
  readonly others: number
}

/** The pages that an entry of `assign` means. */
export interface AssignedPages {
  readonly count: number
  readonly first: readonly string[]
}

/** The site as it is with a file's text as it is being written. */
function withText(file: string, text: string): SiteProject {
  if (!writing) throw new Error('no site is open')
  writing.read({ ...opened, [file]: text })
  return writing.project
}

/** Findings of one hour are told by one clock, so that what is known of pages still holds after the next change. */
const clock = (): Date => open?.project.now ?? new Date()

/** Takes the site as it is read now for the one that everything is asked about. */
function take(read: Read | undefined, texts: Texts): void {
  if (read && 'resolved' in read) [resolved, problems] = [read.resolved, []]
  else [resolved, problems] = [undefined, read?.problems ?? []]
  opened = texts
  turn.next()
}

/** What the app is told of a site that was read: the site as data, or why there is none. */
export type Told = { readonly site: SerializedSite } | { readonly problems: readonly Problem[] }

/** Receives pages of a site. */
export type OnPages = (pages: SerializedSite['pages']) => Promise<void>

/** All pages of a large site at once would take the app longer to receive than a frame. */
async function told({ pages, ...rest }: SerializedSite, onPages: OnPages): Promise<Told> {
  for (let n = 0; n < pages.length; n += PAGES_AT_ONCE) await onPages(pages.slice(n, n + PAGES_AT_ONCE))
  return { site: { ...rest, pages: [] } }
}

/** Told so often, that telling costs nothing beside the work. */
const TOLD = 250
/** So many findings are received well within a frame. */
const AT_ONCE = 500
const PAGES_AT_ONCE = 250

const plain = (value: unknown): unknown => JSON.parse(JSON.stringify(value)) as unknown

/** What takes longer than a frame, done beside the page. */
const work = {
  open(project: Pick<Project, 'file' | 'binary'>, texts: Texts): void {
    open = new OpenSite(project, texts)
    writing = new OpenSite(project, texts)
    take(open.read(texts), texts)
  },
  /** Some of the texts are others now. */
  change(texts: Texts): void {
    const now = { ...opened, ...texts }
    take(open?.read(now), now)
  },
  /** The site that is open. */
  tell: async (onPages: OnPages): Promise<Told> => (resolved ? told(resolved.serialize(), onPages) : { problems }),
  /** Some of the texts are others now, if they can be read; else all stays as it was. */
  async attempt(texts: Texts, onPages: OnPages): Promise<Told> {
    const before = site()
    const now = { ...opened, ...texts }
    const read = open?.read(now)
    if (!read || 'problems' in read) {
      if (open) open.texts = opened
      return { problems: read?.problems ?? [] }
    }
    take(read, now)
    return told(read.resolved.serialize(before), onPages)
  },
  /** Where parts of the site are written. */
  places: (pointers: readonly string[]): readonly SourcePlace[] =>
    pointers.map((pointer) => site().site.locate(pointer)),
  /** What makes the site of earlier texts that of today, as a JSON Patch. */
  changesSince(project: Pick<Project, 'file' | 'binary'>, texts: Texts): Patch {
    const before = new OpenSite(project, texts).read(texts)
    if ('problems' in before) throw new SiteError(before.problems)
    return createPatch(plain(before.resolved.site.data), plain(site().site.data)) as unknown as Patch
  },
  /**
   * Every conflict, without fixes and cases, some at a time; what is asked about other texts ends it.
   *
   * @returns What is wrong with a file that was needed for them, though the site can be read without it.
   */
  async findings(
    onProgress: (progress: InspectProgress) => void,
    onFound: (some: readonly Finding[]) => Promise<void>,
  ): Promise<Problem | undefined> {
    const { signal } = turn
    const found = await inspectAsync(site(), {
      ...{ now: clock(), signal, cases: false },
      onProgress: (progress) => {
        if (progress.done % TOLD === 0) onProgress(progress)
      },
    })
    // All of a large site at once would take the page a second to receive.
    for (let n = 0; n < found.length && !signal.aborted; n += AT_ONCE) await onFound(found.slice(n, n + AT_ONCE))
    signal.throwIfAborted()
    return fontProblem(site().site)
  },
  /** One conflict with all its cases. */
  whole: async (key: string): Promise<Finding | undefined> =>
    (await inspectAsync(site(), { now: clock(), signal: turn.signal, keys: new Set([key]) }))[0],
  /** One conflict with its fixes tried, unless another one is asked about before they are. */
  async fixed(key: string): Promise<Finding | undefined> {
    const signal = AbortSignal.any([turn.signal, fixing.next()])
    return (await inspectAsync(site(), { now: clock(), signal, keys: new Set([key]), fixes: true }))[0]
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
  /** All that a change does, unless somebody goes on before that is known. */
  async diff(patch: Patch): Promise<SiteDiff> {
    const signal = AbortSignal.any([turn.signal, trying.next()])
    return diffSitesAsync(site(), site().with(patch), { now: clock(), signal })
  },
  /** Nobody asks about a change any more. */
  leave: (): void => trying.leave(),
  ways: (pages: readonly string[], goals: readonly Goal[]): Ways => findWays(site(), pages, goals),
  /** The first screen of a page, as SVG; with a change, as it would be then. */
  picture(page: string, viewport: string, change?: Patch): string {
    const state = change ? site().with(change) : site()
    const found = state.page(page)
    return found.dormant ? '' : previewSvg(measurePage(found, viewport))
  },
  /** What a place of a text means that is being written. */
  hover: (file: string, text: string, place: TextPlace): Hover | undefined =>
    hoverAt(withText(file, text), file, place),
  completions: (file: string, text: string, place: TextPlace): readonly Completion[] =>
    completionsAt(withText(file, text), file, place),
  /** On how many pages each setting of a layer wins, and on how many something overrides it. */
  settingReach(at: string, properties: readonly PropertyPath[]): Readonly<Record<string, SettingReach>> {
    const places = new Map(properties.map((path) => [path, `/${`${at}.layout.${path}`.replaceAll('.', '/')}`]))
    const isIt = (entry: ChainEntry, path: PropertyPath): boolean => {
      const pointer = places.get(path) ?? ''
      return entry.pointer === pointer || (entry.pointer?.startsWith(`${pointer}/`) ?? false)
    }
    const found = effectsOf(site(), isIt, () => properties, { isMeasured: false })
    return Object.fromEntries(
      found.map(({ property, outcomes }) => {
        const wins = outcomes.get('wins')?.size ?? 0
        const all = new Set([...outcomes.values()].flatMap((pages) => [...pages.keys()])).size
        return [property, { wins, others: all - wins }]
      }),
    )
  },
  catalog: (): Catalog => catalogOf(site()),
  /** By entry of `assign`: how many pages it means, and the first of them. */
  assigned: (most: number): readonly AssignedPages[] =>
    assignedPages(site()).map((pages) => ({ count: pages.length, first: pages.slice(0, most) })),
  layouts: (): readonly LayoutGroup[] => groupLayouts(site()),
  groups: (): Groups => groupPages(site()),
  map: (): readonly MappedThing[] => mapSite(site()),
  report: async (): Promise<string> =>
    findingsHtml(site(), await inspectAsync(site(), { now: clock(), signal: turn.signal, fixes: true })),
}

export type Work = typeof work

expose(work)

import { expect } from 'chai'
import {
  deserializeSite,
  diffSites,
  EditError,
  facetRecord,
  facetsInPx,
  inspect,
  measurePage,
  memoryFiles,
  PatchError,
  readSite,
  resolveSite,
  rewriteSite,
  SiteError,
  type Files,
  type Finding,
  type Json,
  type Patch,
  type ResolvedSite,
  type Site,
} from 'wembra'
import { PATCHES, randomPatch } from './random-patch.js'
import { randomSite, type Random } from './random-site.js'
import { NOW } from './site.js'

const FIXED = 2
/** Of a large site the findings elsewhere are not compared after each change. */
const MANY_PAGES = 20

/** Compares a site with a random change in memory with its files, changed and read afresh. Returns what could be done. */
export function holdAgainstFiles(
  before: ResolvedSite,
  kind: string,
  r: Random,
  fixes = false,
): 'no' | 'memory' | 'files' {
  const patch = randomPatch(kind, before, r)
  const after = patch && tried(before, patch)
  if (!patch || !after) return 'no'
  const written = rewritten(before.site, patch)
  // In a copy all entries are of one file, which decides ties.
  if (!written && hasEntriesUnderneath(after.site)) return 'no'
  const fresh = resolveSite(written ?? copyOf(after.site))
  expect(after.pageIds).to.deep.equal(fresh.pageIds)
  for (const id of after.pageIds) expect(picture(after, id), `${kind}: ${id}`).to.deep.equal(picture(fresh, id))
  inspect(before, { now: NOW })
  const [mine, theirs] = [inspect(after, { now: NOW }), inspect(fresh, { now: NOW })]
  expect(mine.map(plain), kind).to.deep.equal(theirs.map(plain))
  expect(diffSites(before, after, { now: NOW }), `${kind}, diff`).to.deep.equal(diffSites(before, fresh, { now: NOW }))
  if (written) mine.forEach((finding, n) => expectSamePlace(after.site, patch, finding, theirs[n] as Finding, written))
  if (fixes) {
    const some = (site: ResolvedSite): unknown =>
      inspect(site, { now: NOW, fixes: true, max: FIXED }).map((finding) => [finding.key, finding.fixes])
    expect(some(after), `${kind}, fixes`).to.deep.equal(some(fresh))
  }
  return written ? 'files' : 'memory'
}

/**
 * Compares a site that was read, whose files then changed by a random patch and were read again, with the files read
 * afresh: to the line and column of every finding. The same holds of what another thread is sent of it. Returns whether
 * the patch could be written.
 */
export function holdReread(site: Site, kind: string, r: Random): boolean {
  const over = new Map<string, string>()
  const { read, lines } = site.files
  const first = site.sources.find(({ file }) => file === site.file)?.text ?? ''
  const files: Files = {
    ...site.files,
    read: (path) => over.get(path) ?? (path === site.file ? first : read(path)),
    lines: (path) => over.get(path)?.split('\n') ?? lines(path),
  }
  const textOf = (): string => over.get(site.file) ?? first
  const before = resolveSite(readSite(textOf(), { file: site.file, files }))
  const elsewhere = resolveSite(deserializeSite(structuredClone(before.serialize()), files))
  inspect(before, { now: NOW })
  const patch = randomPatch(kind, before, r)
  const texts = patch && textsOf(before.site, patch)
  if (!texts) return false
  for (const [file, text] of texts) over.set(file, text)
  const after = before.reread(textOf(), texts.keys())
  const fresh = resolveSite(readSite(textOf(), { file: site.file, files }))
  expect(after.site.data, kind).to.deep.equal(fresh.site.data)
  expect(after.pageIds, kind).to.deep.equal(fresh.pageIds)
  for (const id of after.pageIds) expect(picture(after, id), `${kind}: ${id}`).to.deep.equal(picture(fresh, id))
  const found = inspect(fresh, { now: NOW })
  expect(inspect(after, { now: NOW }), kind).to.deep.equal(found)
  const there = elsewhere.receive(structuredClone(after.serialize(before)))
  expect(there.site.data, kind).to.deep.equal(fresh.site.data)
  expect(there.pageIds, kind).to.deep.equal(fresh.pageIds)
  for (const id of there.pageIds) expect(picture(there, id), `${kind}: ${id}`).to.deep.equal(picture(fresh, id))
  if (there.pageIds.length < MANY_PAGES) expect(inspect(there, { now: NOW }), `${kind}, elsewhere`).to.deep.equal(found)
  return true
}

/** The texts that a patch changes; `undefined` where it cannot be written. */
function textsOf(site: Site, patch: Patch): ReadonlyMap<string, string> | undefined {
  try {
    return rewriteSite(site, patch).texts
  } catch (error) {
    if (error instanceof EditError || error instanceof SiteError || error instanceof PatchError) return undefined
    throw error
  }
}

/** A random site, resolved; `undefined` where it cannot be read. */
export function randomResolved(seed: number): ResolvedSite | undefined {
  const { main, vendor } = randomSite(seed)
  const menus = {
    ...(main['menus'] as object),
    primary: [
      { label: 'Home', page: 'p0' },
      { label: 'Off', page: 'p7' },
    ],
  }
  try {
    const files = memoryFiles({ 'vendor.yaml': JSON.stringify(vendor) })
    return resolveSite(readSite(JSON.stringify({ ...main, menus }), { file: 'main.site.json', files }))
  } catch (error) {
    if (error instanceof SiteError) return undefined
    throw error
  }
}

export const KINDS = Object.keys(PATCHES)

function tried(before: ResolvedSite, patch: Patch): ResolvedSite | undefined {
  try {
    return before.with(patch)
  } catch (error) {
    if (error instanceof SiteError || error instanceof PatchError) return undefined
    throw error
  }
}

/** The site as its files give it once the patch is written into them; `undefined` where that is not possible. */
function rewritten(site: Site, patch: Patch): Site | undefined {
  try {
    return rewriteSite(site, patch).site
  } catch (error) {
    if (error instanceof EditError) return undefined
    throw error
  }
}

/** Whether entries of a list are written in a file underneath. */
const hasEntriesUnderneath = (site: Site): boolean =>
  (site.data.assign ?? []).some((_, n) => site.nearness(`/assign/${n}`) > 0)

/** The same document, read from a text of its own. */
function copyOf(site: Site): Site {
  const {
    extends: _extends,
    include: _include,
    tokens: _tokens,
    ...data
  } = site.data as unknown as Record<string, unknown>
  return readSite(JSON.stringify(data), { file: site.file, files: { ...memoryFiles({}), ...site.files } })
}

function picture(site: ResolvedSite, id: string): unknown {
  const page = site.page(id)
  if (page.dormant) return 'dormant'
  return site.site.viewports.map(({ name }) => {
    const measure = measurePage(page, name)
    const boxes = measure.boxes.map(({ id: box, x, y, width, height, pointer }) => [box, x, y, width, height, pointer])
    const chain = page.choice.chain.map(({ value, outcome, pointer }) => [value, outcome, pointer])
    expect(facetRecord(page)[name], `${id} at ${name}`).to.deep.equal(flat(facetsInPx(measure)))
    return [page.choice.template?.id, chain, facetsInPx(measure), boxes]
  })
}

/** By `facet.property`, what has a value. */
const flat = (facets: ReturnType<typeof facetsInPx>): Readonly<Record<string, Json>> =>
  Object.fromEntries(
    Object.entries(facets).flatMap(([facet, properties]) =>
      Object.entries(properties).flatMap(([name, value]) => (value === null ? [] : [[`${facet}.${name}`, value]])),
    ),
  )

/** A finding without its place's line and column, which are those of different texts. */
const plain = ({ at, related, fixes: _fixes, ...rest }: Finding): unknown => ({
  ...rest,
  at: at.pointer,
  related: related.map(({ pointer, because }) => [pointer, because]),
})

/** What stands at a place is the same word before and after, in the same file, where the change did not put it there. */
function expectSamePlace(site: Site, patch: Patch, mine: Finding, theirs: Finding, written: Site): void {
  // What stands beside a new value is written anew with it where both were one shorthand.
  const beside = (path: string): string => path.slice(0, path.lastIndexOf('/'))
  if (
    patch.some(
      ({ op, path }) =>
        op !== 'remove' && (theirs.at.pointer.startsWith(beside(path)) || path.startsWith(theirs.at.pointer)),
    )
  )
    return
  expect(mine.at.file, mine.key).to.equal(theirs.at.file)
  expect(wordAt(site, mine.at), mine.key).to.equal(wordAt(written, theirs.at))
}

function wordAt(site: Site, { file, line, column }: Finding['at']): string {
  const text = site.sources.find((source) => source.file === file)?.text || (site.files.read(file) ?? '')
  return /^[\w"'-]*/.exec(text.split('\n')[line - 1]?.slice(column - 1) ?? '')?.[0] ?? ''
}

import { appendFileSync, existsSync, readFileSync, statSync, truncateSync, writeFileSync } from 'node:fs'
import { basename, dirname, relative, resolve, sep } from 'node:path'
import { globSync } from 'tinyglobby'
import type { Viewport } from '../model/site.js'
import { PageLoader } from '../node/browse.js'
import { observeAll } from '../node/observe-all.js'
import { Robots } from '../node/robots.js'
import { readSitemap } from '../node/sitemap.js'
import { Folder, Web, type Source } from '../node/source.js'
import { writeWhole } from '../node/write-file.js'
import type { Locators } from '../observe/parts.js'
import {
  ObservationError,
  readObservation,
  type Observation,
  type ObservationFailure,
  type ObservedBox,
} from '../reality/observation.js'
import { withoutRepeatedTitles } from '../reality/repeated-titles.js'
import type { CrawlOptions } from './crawl-options.js'
import { UsageError, type Io } from './io.js'
import { readInput } from './read-input.js'
import { count } from './text.js'

export type Seen = Observation | ObservationFailure

export interface CrawlContext {
  readonly viewports: readonly Viewport[]
  readonly locators: Locators
  /** Where files are served. */
  readonly home: string
  /** More addresses to look at, beside those named: paths of the site. */
  readonly paths?: readonly string[]
  /** Called when all is seen, while pages can still be opened. */
  readonly after?: (seen: readonly Seen[], camera: Camera | undefined) => Promise<void>
}

/** Takes a picture of a part of a page, as a data address. */
export type Camera = (url: string, viewport: Viewport, view: ObservedBox) => Promise<string>

/** Pages are looked at one by one even where they are few: it takes seconds. */
const FEW_PAGES = 2
const LONGEST_LINE = 16 * 1024 * 1024

let isSaid = false

/** Once, however many pages are looked at. */
function sayNoSandbox(io: Io): void {
  if (isSaid) return
  isSaid = true
  const why = process.getuid?.() === 0 ? 'the root user has' : 'this machine allows'
  io.err(`note: the browser runs without its sandbox, for ${why} none; look only at pages that you trust\n`)
}

/** Looks at what the words of a command name: addresses, sitemaps, folders and files of HTML, saved observations. */
export async function crawl(
  words: readonly string[],
  options: CrawlOptions,
  context: CrawlContext,
  io: Io,
): Promise<readonly Seen[]> {
  const saved = words.filter((word) => word.endsWith('.ndjson')).flatMap((file) => readSaved(file))
  const targets = words.filter((word) => !word.endsWith('.ndjson'))
  if (targets.length === 0) {
    const seen = withoutRepeatedTitles(saved)
    await context.after?.(seen, undefined)
    return seen
  }
  const file = prepareFile(options)
  const earlier = file !== undefined && options.resume ? file.earlier : []
  const found: Seen[] = [...saved, ...earlier]
  const done = new Set(earlier.map(({ url }) => url))
  const timeoutMs = positive(options.timeout, '--timeout', 'seconds') * 1000
  const most = positive(options.maxPages, '--max-pages', 'a number')
  const { source, urls } = await gather(targets, options, context, timeoutMs, most)
  const left = urls.filter((url) => !done.has(url))
  if (left.length > 0 && file !== undefined && done.size > 0)
    io.err(`${count(done.size, 'page')} observed before, ${left.length} left\n`)
  const bar = io.progress?.('pages', left.length, FEW_PAGES)
  const loader = options.browser ? await PageLoader.open() : undefined
  if (loader && !loader.hasSandbox && source instanceof Web) sayNoSandbox(io)
  let pages = 0
  const place = new Map(urls.map((url, n) => [url, n]))
  try {
    await observeAll(left, {
      ...{ source, loader, timeoutMs, viewports: context.viewports, locators: context.locators },
      robots: options.ignoreRobots || !(source instanceof Web) ? undefined : new Robots(source),
      concurrency: positive(options.concurrency ?? (options.browser ? '2' : '4'), '--concurrency', 'a number'),
      onResult: (results) => {
        if (file) appendFileSync(file.path, linesOf(results))
        found.push(...results)
        bar?.update((pages += 1))
      },
    })
    const placeOf = ({ url }: Seen): number => place.get(url) ?? 0
    const inOrder = [...found].sort((a, b) => placeOf(a) - placeOf(b))
    if (file) {
      // Pages were saved as they were done; now that all are, they have the order in which they were asked for.
      const others = new Set(saved)
      writeWhole(file.path, linesOf(inOrder.filter((each) => !others.has(each))))
    }
    const seen = withoutRepeatedTitles(inOrder)
    const camera: Camera | undefined =
      loader && ((url, viewport, view) => loader.picture(source, url, viewport, view, timeoutMs))
    await context.after?.(seen, camera)
    return seen
  } finally {
    bar?.stop()
    await loader?.close()
  }
}

const linesOf = (all: readonly Seen[]): string => all.map((each) => `${JSON.stringify(each)}\n`).join('')

/** Every address that the words name, and from where it is fetched. */
async function gather(
  words: readonly string[],
  options: CrawlOptions,
  context: CrawlContext,
  timeoutMs: number,
  most: number,
): Promise<{ source: Source; urls: readonly string[] }> {
  const maxBytes = positive(options.maxSize, '--max-size', 'megabytes') * 1024 * 1024
  const addresses = words.filter((word) => /^https?:\/\//i.test(word))
  const local = words.filter((word) => !addresses.includes(word))
  if (addresses.length > 0 && local.length > 0) throw new UsageError('name addresses or files, not both')
  if (local.length > 0) return fromFiles(local, context.home, maxBytes, most)
  for (const address of addresses)
    if (!URL.canParse(address))
      throw new UsageError(`"${address}" is not an address; write it like https://example.org/visit`)
  const origins = new Set(addresses.map((address) => new URL(address).origin))
  const source = new Web(
    options.otherOrigins ? undefined : origins,
    { timeoutMs, maxBytes },
    headersOf(options),
    origins,
  )
  const urls: string[] = []
  for (const address of addresses) {
    const looksSo = /\.(xml|txt)(\.gz)?$/i.test(new URL(address).pathname)
    const listed = looksSo ? await readSitemap(source, address, most) : undefined
    urls.push(...(listed ?? [withoutHash(address)]))
  }
  const [origin = ''] = origins
  urls.push(...(context.paths ?? []).map((path) => new URL(path, origin).href))
  return { source, urls: [...new Set(urls)].slice(0, most) }
}

const withoutHash = (address: string): string => {
  const url = new URL(address)
  url.hash = ''
  return url.href
}

function fromFiles(
  words: readonly string[],
  home: string,
  maxBytes: number,
  most: number,
): { source: Source; urls: readonly string[] } {
  const [first = ''] = words
  for (const word of words)
    if (!existsSync(word)) throw new UsageError(`"${word}" is neither a file, a folder nor an address (https://…)`)
  const isFolder = statSync(first).isDirectory()
  if (words.length > 1 && words.some((word) => statSync(word).isDirectory()))
    throw new UsageError('name one folder, or several files')
  const root = isFolder ? first : dirname(resolve(first))
  const files = isFolder
    ? globSync('**/*.{html,htm}', { cwd: root }).sort()
    : words.map((word) => relative(root, resolve(word)))
  if (files.length === 0) throw new UsageError(`there are no HTML files in ${first}`)
  const { origin } = new URL(home)
  const urls = files.slice(0, most).map((file) => new URL(addressOfFile(file), origin).href)
  return { source: new Folder(root, origin, maxBytes), urls }
}

/** `visit/index.html` and `visit.html` are served at `/visit`, as most servers do. */
const addressOfFile = (file: string): string => {
  const path = file
    .split(sep)
    .join('/')
    .replace(/\.html?$/i, '')
  const short = basename(path) === 'index' ? path.slice(0, -'index'.length).replace(/\/$/, '') : path
  return `/${short.split('/').map(encodeURIComponent).join('/')}`
}

function headersOf({ header = [] }: CrawlOptions): Readonly<Record<string, string>> {
  return Object.fromEntries(
    header.map((line) => {
      const [, name, value] = /^([\w-]+)\s*:\s*(.*)$/.exec(line) ?? []
      if (name === undefined || value === undefined)
        throw new UsageError(`"${line}" is not a header; write it like "cookie: member=1"`)
      return [name.toLowerCase(), value]
    }),
  )
}

export function positive(text: string, option: string, what: string): number {
  const n = Number(text)
  if (!Number.isFinite(n) || n <= 0) throw new UsageError(`${option} expects ${what} above 0, not "${text}"`)
  return n
}

/** The file of `--save`, with what is in it: a last line that was cut short is taken off. */
function prepareFile({
  save,
  resume,
  overwrite,
}: CrawlOptions): { path: string; earlier: readonly Seen[] } | undefined {
  if (save === undefined) {
    if (resume) throw new UsageError('--resume needs --save: name the file to continue')
    return undefined
  }
  if (existsSync(save) && !resume && !overwrite)
    throw new UsageError(`${save} exists: --resume continues it, --overwrite starts it over`)
  if (!resume || !existsSync(save)) {
    writeFileSync(save, '')
    return { path: save, earlier: [] }
  }
  const text = readFileSync(save, 'utf8')
  const whole = text.slice(0, text.lastIndexOf('\n') + 1)
  if (whole.length < text.length) truncateSync(save, Buffer.byteLength(whole))
  // What failed is tried again.
  return { path: save, earlier: readLines(whole, save).filter(({ report }) => report === 'observation') }
}

/** Observations that were saved before. @throws {ObservationError} With the line that is none. */
export function readSaved(file: string): readonly Seen[] {
  const text = readInput(file, 'wembra observe --save writes observations')
  const latest = new Map<string, Seen>()
  for (const seen of readLines(text, file)) {
    // A page that failed and was observed later was observed.
    if (seen.report === 'observation') latest.delete(`${seen.url} failed`)
    const key = seen.report === 'observation' ? `${seen.url} ${seen.viewport?.name}` : `${seen.url} failed`
    latest.set(key, seen)
  }
  return [...latest.values()]
}

function readLines(text: string, file: string): readonly Seen[] {
  return text.split('\n').flatMap((line, n) => {
    if (line.trim() === '') return []
    if (line.length > LONGEST_LINE)
      throw new ObservationError(`${file}:${n + 1}:1: too-large: this line is too long for an observation`)
    return [readObservation(line, `${file}:${n + 1}:1`)]
  })
}

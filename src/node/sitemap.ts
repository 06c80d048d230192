import { XMLParser } from 'fast-xml-parser'
import { gunzipSync } from 'node:zlib'
import { FetchError, type Source } from './source.js'

/** Bounds of the protocol (sitemaps.org): a file has at most so many addresses and so many bytes. */
const MOST_BYTES = 50 * 1024 * 1024
const MOST_FILES = 1000
const DEEPEST = 3

/**
 * The addresses of a sitemap, those of the sitemaps it names included (sitemaps.org; XML, plain text, gzip).
 *
 * @returns `undefined` where the address is no sitemap.
 * @throws {FetchError} When it does not come, or is none that could be read.
 */
export async function readSitemap(source: Source, url: string, most: number): Promise<readonly string[] | undefined> {
  const found = new Set<string>()
  let files = 0
  const read = async (at: string, depth: number): Promise<boolean> => {
    files += 1
    const { body, status, type } = await source.get(at)
    if (status >= 400) throw new FetchError('http-error', `the sitemap ${at}: the server answers ${status}`, status)
    const text = textOf(body, at)
    if (/text\/html/i.test(type) || /^\s*<!doctype html/i.test(text)) return false
    const { pages, sitemaps } = parse(text, at)
    if (pages.length + sitemaps.length === 0) return false
    for (const page of pages) if (found.size < most) found.add(new URL(page, at).href)
    for (const next of sitemaps)
      if (depth < DEEPEST && files < MOST_FILES && found.size < most) await read(new URL(next, at).href, depth + 1)
    return true
  }
  return (await read(url, 0)) ? [...found] : undefined
}

function textOf(body: Uint8Array, at: string): string {
  const isZipped = body[0] === 0x1f && body[1] === 0x8b
  try {
    return new TextDecoder().decode(isZipped ? gunzipSync(body, { maxOutputLength: MOST_BYTES }) : body)
  } catch (error) {
    throw new FetchError('too-large', `the sitemap ${at} cannot be unpacked: ${(error as Error).message}`)
  }
}

function parse(text: string, at: string): { pages: readonly string[]; sitemaps: readonly string[] } {
  if (!text.trimStart().startsWith('<')) {
    const lines = text.split(/\r?\n/).filter((line) => URL.canParse(line.trim()))
    return { pages: lines.map((line) => line.trim()), sitemaps: [] }
  }
  refuseDoctype(text, `the sitemap ${at}`)
  const document = new XMLParser({
    removeNSPrefix: true,
    isArray: (name) => name === 'url' || name === 'sitemap',
  }).parse(text) as { urlset?: { url?: unknown[] }; sitemapindex?: { sitemap?: unknown[] } }
  const locations = (list: unknown[] | undefined): readonly string[] =>
    (list ?? []).flatMap((each) => {
      const loc = (each as { loc?: unknown } | null)?.loc
      return typeof loc === 'string' && URL.canParse(loc.trim(), at) ? [loc.trim()] : []
    })
  return { pages: locations(document.urlset?.url), sitemaps: locations(document.sitemapindex?.sitemap) }
}

/** Entities of a document's own may expand without bound; no sitemap or export needs them. */
export function refuseDoctype(text: string, what: string): void {
  if (/<!(DOCTYPE|ENTITY)/i.test(text.slice(0, 10_000)))
    throw new FetchError(
      'not-reached',
      `${what} declares a document type, which may hold entities without end; take it out`,
    )
}

import sniffEncoding from 'html-encoding-sniffer'
import { parseHTML } from 'linkedom'
import { observe, type ObserveOptions } from '../observe/index.js'
import type { Observation } from '../reality/observation.js'
import { Ends, expectBounded } from './page-bounds.js'
import { FetchError, type Fetched } from './source.js'

/** Whether something that came is a page. @throws {FetchError} When it is not, with what it is. */
export function expectPage({ status, type, body }: Fetched): void {
  if (status >= 400) throw new FetchError('http-error', `the server answers ${status}`, status)
  const isHtml = /^\s*(text\/html|application\/xhtml\+xml)/i.test(type)
  // A server that does not set what it sends may still send a page.
  const looksSo = type === '' && /^\s*(<!doctype html|<html)/i.test(new TextDecoder().decode(body.subarray(0, 512)))
  if (!isHtml && !looksSo) throw new FetchError('not-html', `it is ${type || 'of no type'}, not HTML`, status)
}

/** A page's text, in the encoding that its bytes, its header or its markup set (HTML, section 13.2.3). */
export function decodePage({ body, type }: Fetched): string {
  const said = /charset\s*=\s*"?([\w-]+)/i.exec(type)?.[1]
  const label = sniffEncoding(body, said === undefined ? {} : { transportLayerEncodingLabel: said })
  try {
    return new TextDecoder(label).decode(body)
  } catch {
    return new TextDecoder('windows-1252').decode(body)
  }
}

/**
 * Observes a page's markup alone.
 *
 * @throws {FetchError} For a page of more elements than can be gone through, or nested deeper than any browser follows.
 */
export function observeMarkup(fetched: Fetched, options: Pick<ObserveOptions, 'locators'>): Observation {
  const text = decodePage(fetched)
  expectBounded(text)
  const { document } = parseHTML(withBody(text)) as unknown as { document: Document }
  const base = document.querySelector('base[href]')?.getAttribute('href')
  const set = (name: string, value: string): void =>
    void Object.defineProperty(document, name, { value, configurable: true })
  set('URL', fetched.url)
  set('baseURI', base ? (URL.canParse(base, fetched.url) ? new URL(base, fetched.url).href : fetched.url) : fetched.url)
  return withHeaders(observe({ ...options, document, structureOnly: true, url: fetched.url }), fetched)
}

/** What may be before a page's body. */
const HEAD = new Set(['html', 'head', 'title', 'meta', 'link', 'base', 'style', 'script', 'noscript', 'template'])
/** Of these, what ends with a tag of the same name, whatever is in between. */
const WHOLE = ['title', 'style', 'script', 'noscript', 'template']

/** A page with the tags that HTML lets be left out (section 13.1.2.4): the parser asks for them. */
function withBody(text: string): string {
  if (/<body[\s>]/i.test(text)) return text
  const at = bodyStart(text)
  const attributes = /<html([^>]{0,5000})>/i.exec(text)?.[1] ?? ''
  const head = text.slice(0, at).replace(/<!doctype[^>]{0,5000}>|<\/?(html|head)\b[^>]{0,5000}>/gi, '')
  return `<!doctype html><html${attributes}><head>${head}</head><body>${text.slice(at)}</body></html>`
}

/** Where the first element is that does not belong in a head. */
function bodyStart(text: string): number {
  const tag = /<([a-z][\w-]*|!--)/gi
  const ends = new Ends(text, [...WHOLE, '!--'])
  for (let found = tag.exec(text); found; found = tag.exec(text)) {
    const name = (found[1] ?? '').toLowerCase()
    const after = ends.after(name, tag.lastIndex)
    if (after !== undefined) tag.lastIndex = after
    else if (name !== '!--' && !HEAD.has(name)) return found.index
  }
  return text.length
}

/** What the response itself declares about a page. */
export function withHeaders(observation: Observation, { status, headers }: Fetched): Observation {
  const robots = [observation.robots, headers['x-robots-tag']].filter(Boolean).join(', ')
  return { ...observation, status, ...(robots !== '' && { robots }) }
}

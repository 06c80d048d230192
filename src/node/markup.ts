import sniffEncoding from 'html-encoding-sniffer'
import { parseHTML } from 'linkedom'
import { observe, type ObserveOptions } from '../observe/index.js'
import type { Observation } from '../reality/observation.js'
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

/** Observes a page's markup alone. */
export function observeMarkup(fetched: Fetched, options: Pick<ObserveOptions, 'locators'>): Observation {
  const { document } = parseHTML(withBody(decodePage(fetched))) as unknown as { document: Document }
  const base = document.querySelector('base[href]')?.getAttribute('href')
  const set = (name: string, value: string): void =>
    void Object.defineProperty(document, name, { value, configurable: true })
  set('URL', fetched.url)
  set('baseURI', base ? (URL.canParse(base, fetched.url) ? new URL(base, fetched.url).href : fetched.url) : fetched.url)
  return withHeaders(observe({ ...options, document, structureOnly: true, url: fetched.url }), fetched)
}

/** What may be before a page's body. */
const HEAD = new Set(['html', 'head', 'title', 'meta', 'link', 'base', 'style', 'script', 'noscript', 'template'])

/** A page with the tags that HTML lets be left out (section 13.1.2.4): the parser asks for them. */
function withBody(text: string): string {
  if (/<body[\s>]/i.test(text)) return text
  const tag = /<(title|style|script|noscript|template)\b[\s\S]*?<\/\1\s*>|<([a-z][\w-]*)/gi
  let at = text.length
  for (let found = tag.exec(text); found; found = tag.exec(text))
    if (found[2] !== undefined && !HEAD.has(found[2].toLowerCase())) {
      at = found.index
      break
    }
  const attributes = /<html([^>]*)>/i.exec(text)?.[1] ?? ''
  const head = text.slice(0, at).replace(/<!doctype[^>]*>|<\/?(html|head)\b[^>]*>/gi, '')
  return `<!doctype html><html${attributes}><head>${head}</head><body>${text.slice(at)}</body></html>`
}

/** What the response itself declares about a page. */
export function withHeaders(observation: Observation, { status, headers }: Fetched): Observation {
  const robots = [observation.robots, headers['x-robots-tag']].filter(Boolean).join(', ')
  return { ...observation, status, ...(robots !== '' && { robots }) }
}

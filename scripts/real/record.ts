// Keeps observations of some real pages for the tests, with every word, name and address put into made-up ones of the
// same length: what is left of a page is where things are and how they look.
import { createHash } from 'node:crypto'
import { gzipSync } from 'node:zlib'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { readObservation, type Observation } from 'wembra/reality'
import { CACHE, type RealSite } from './sites.js'

const FOLDER = new URL('../../test/reality/recorded/', import.meta.url).pathname
/** So many pages of a site are kept. */
const PAGES = 3

/** Values of these keys are words of a standard or of the observer, not of the page. */
const KEPT = new Set([
  ...['kind', 'presence', 'role', 'by', 'position', 'rule', 'place', 'background', 'ink', 'color', 'direction'],
  ...['language', 'at', 'from', 'report', 'types', 'robots', 'behindHeader'],
])
const ADDRESSES = new Set(['url', 'source', 'canonical', 'shareImage', 'header', 'footer', 'sidebar', 'body'])
/** Words by which nothing is known of a page, and something of how it is built. */
const PLAIN =
  /^(desk|tablet|phone|html?|index|www|https?|main|body|div|nav|header|footer|aside|section|article|span|ul|ol|li|a|p|h[1-6]|img|nth|child|of|type)$/i

/** A made-up word of the same length, always the same for the same word. */
function madeUp(word: string): string {
  if (PLAIN.test(word)) return word
  const digest = createHash('sha256').update(word.toLowerCase()).digest()
  return [...word]
    .map((letter, n) => {
      const byte = digest[n % digest.length] ?? 0
      const made = (n % 2 === 0 ? 'bdfgklmnprst' : 'aeiou')[byte % (n % 2 === 0 ? 12 : 5)] ?? 'a'
      return letter === letter.toUpperCase() && letter !== letter.toLowerCase() ? made.toUpperCase() : made
    })
    .join('')
}

const wordsIn = (text: string): string => text.replace(/\p{L}+/gu, madeUp)

function addressIn(text: string): string {
  const found = /^(https?:\/\/)([^/?#]+)(.*)$/i.exec(text)
  if (!found) return wordsIn(text)
  const host = /^127\.0\.0\.1/.test(found[2] ?? '')
    ? 'pages.example'
    : `${madeUp((found[2] ?? '').replace(/\W/g, ''))}.example`
  const path = (found[3] ?? '').replace(/%[0-9a-f]{2}/gi, 'x')
  return `https://${host}${wordsIn(path)}`
}

function masked(value: unknown, key = ''): unknown {
  if (typeof value === 'string') return KEPT.has(key) ? value : ADDRESSES.has(key) ? addressIn(value) : wordsIn(value)
  if (Array.isArray(value)) return value.map((each) => masked(each, key))
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(Object.entries(value).map(([name, each]) => [name, masked(each, name)]))
}

/** Writes down what was observed last of some sites' first pages. */
export function recordReal(sites: readonly RealSite[]): void {
  sites.forEach((site, n) => {
    const seen = readFileSync(join(CACHE, `seen-${site.id}.ndjson`), 'utf8')
      .split('\n')
      .filter(Boolean)
      .map((line) => readObservation(line, site.id))
      .filter((each): each is Observation => each.report === 'observation')
    const urls = [...new Set(seen.map(({ url }) => url))].slice(0, PAGES)
    const lines = seen
      .filter(({ url }) => urls.includes(url))
      .map((each) => {
        const { at: _at, ...rest } = each
        return JSON.stringify(masked(rest))
      })
    const file = `${FOLDER}others-${n + 1}.ndjson.gz`
    writeFileSync(file, gzipSync(`${lines.join('\n')}\n`, { level: 9 }))
    console.log(`${file.replace(/.*\/test\//, 'test/')}: ${lines.length} observations`)
  })
}

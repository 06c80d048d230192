import { serve } from '@hono/node-server'
import { Hono } from 'hono'
import { bodyLimit } from 'hono/body-limit'
import { getMimeType } from 'hono/utils/mime'
import { createHash, randomBytes, timingSafeEqual } from 'node:crypto'
import { existsSync, readFileSync, readdirSync, realpathSync, statSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { dirname, join, relative, resolve, sep } from 'node:path'
import { measurePage } from '../measure/page.js'
import type { Files } from '../model/files.js'
import { toPointer, type Json } from '../model/json.js'
import { SiteError } from '../model/problem.js'
import { WembraError } from '../model/wembra-error.js'
import { readSite } from '../model/read-site.js'
import { resolveSite } from '../resolve/resolve-site.js'
import { diskFiles } from './load-site.js'
import { writeTogether } from './write-file.js'

/** A site that is served to the workbench on this machine alone. */
export interface ServedSite {
  /** With the key that the requests need. */
  readonly address: string
  /** Ends the server. */
  readonly close: () => Promise<void>
}

/** One value of a real page that is not as it was worked out. */
export interface LiveDifference {
  readonly viewport: string
  readonly property: string
  readonly expected: Json
  readonly seen: Json
  /** The change that would explain it, in words; `null` where none was found. */
  readonly because: string | null
  /** Who decided what was expected, and where. */
  readonly decided: string | null
}

/** A real page beside what was worked out. */
export interface LivePage {
  readonly address: string
  /** By viewport, as data addresses. */
  readonly pictures: Readonly<Record<string, string>>
  readonly differences: readonly LiveDifference[]
  /** Numbers that were only estimated, and are otherwise. */
  readonly estimates: readonly Pick<LiveDifference, 'viewport' | 'property' | 'expected' | 'seen'>[]
}

/** What else is served beside a site. */
export interface ServeOptions {
  /** Looks at a real page by the id of the site's. */
  readonly live?: ((page: string) => Promise<LivePage>) | undefined
}

const LARGEST = 256 * 1024 * 1024
const TEXT = /\.(ya?ml|json|ndjson|css|svg)$/i

/**
 * Serves the built workbench with a site, and writes what it sends back into the site's own files and no others.
 *
 * @param app - The folder of the built workbench.
 * @param port - 0 for any that is free.
 */
export async function serveSite(
  file: string,
  app: string,
  port: number,
  { live }: ServeOptions = {},
): Promise<ServedSite> {
  const key = randomBytes(16).toString('hex')
  const main = realpathSync(file)
  const assets = new Set(filesIn(app).map((path) => path.split(sep).join('/')))
  const hono = new Hono()
  let host = ''

  // Another site's page in the same browser may send requests here, but knows neither the key nor this host's name.
  hono.use('*', async (c, next) => {
    if (c.req.header('host') !== host) return c.text('this server answers to its own address only', 403)
    return next()
  })
  hono.use('/api/*', async (c, next) => {
    if (!isKey(c.req.header('x-wembra-key') ?? '', key))
      return c.text('the key is missing: use the address that was printed', 403)
    return next()
  })
  hono.get('/api/site', (c) => {
    try {
      return c.json({ ...readAll(main), live: live !== undefined })
    } catch (error) {
      if (error instanceof SiteError) return c.text(error.message, 422)
      throw error
    }
  })
  hono.get('/api/live', async (c) => {
    if (!live) return c.text('the real pages are not looked at: start with --live ADDRESS', 404)
    try {
      return c.json(await live(c.req.query('page') ?? ''))
    } catch (error) {
      if (error instanceof WembraError) return c.text(error.message, 422)
      throw error
    }
  })
  hono.get('/api/version', (c) => c.json({ version: versionOf(filesOf(main)) }))
  hono.put('/api/site', bodyLimit({ maxSize: LARGEST }), async (c) => {
    const sent: unknown = await c.req.json().catch(() => undefined)
    if (!isSent(sent)) return c.text('expected a map of file names to texts', 400)
    const known = new Map(filesOf(main).map((path) => [nameOf(main, path), path]))
    const strange = Object.keys(sent.texts).filter((name) => !known.has(name) && !isNewBeside(name))
    if (strange.length > 0) return c.text(`${strange.join(', ')} is not a file of this site`, 403)
    if (versionOf([...known.values()]) !== sent.version) return c.text('the files were changed in the meantime', 409)
    writeTogether(
      new Map(
        Object.entries(sent.texts).map(([name, text]) => [known.get(name) ?? resolve(dirname(main), name), text]),
      ),
      { beside: main },
    )
    return c.json({ version: versionOf(filesOf(main)) })
  })
  hono.get('*', (c) => {
    const asked = decoded(new URL(c.req.url).pathname)?.slice(1)
    if (asked === undefined) return c.text('the address cannot be read', 400)
    const name = asked === '' ? 'index.html' : asked
    if (!assets.has(name)) return c.text('there is no such file', 404)
    const type = getMimeType(name) ?? 'application/octet-stream'
    return c.body(new Uint8Array(readFileSync(join(app, name))), 200, {
      'content-type': type,
      'x-content-type-options': 'nosniff',
    })
  })

  const server = serve({ fetch: hono.fetch, hostname: '127.0.0.1', port })
  await new Promise<void>((done, fail) => {
    server.once('listening', done)
    server.once('error', fail)
  })
  host = `127.0.0.1:${(server.address() as AddressInfo).port}`
  return {
    address: `http://${host}/?key=${key}`,
    close: () => new Promise((done) => server.close(() => done())),
  }
}

/** A path as it was meant; `undefined` where it is no text. */
function decoded(path: string): string | undefined {
  try {
    return decodeURIComponent(path)
  } catch {
    return undefined
  }
}

function isKey(given: string, key: string): boolean {
  const [mine, theirs] = [Buffer.from(key), Buffer.from(given)]
  return mine.length === theirs.length && timingSafeEqual(mine, theirs)
}

/** A tokens file that a change begins; everything else has to be there already. */
const isNewBeside = (name: string): boolean => name === 'tokens.json'

function isSent(value: unknown): value is { texts: Record<string, string>; version: string } {
  const { texts, version } = (value ?? {}) as { texts?: unknown; version?: unknown }
  return (
    typeof version === 'string' &&
    typeof texts === 'object' &&
    texts !== null &&
    Object.values(texts).every((text) => typeof text === 'string')
  )
}

/** A file as the site file names it: from the folder of that. */
const nameOf = (main: string, path: string): string => relative(dirname(main), path).split(sep).join('/')

/** Every file that the site is made of. One that does not read now still has the files that were found on the way. */
function filesOf(main: string): readonly string[] {
  const seen = new Set<string>([main])
  const note = (path: string): string => {
    if (existsSync(path) && statSync(path).isFile()) seen.add(realpathSync(path))
    return path
  }
  const files: Files = {
    ...diskFiles,
    read: (path) => diskFiles.read(note(path)),
    bytes: (path) => diskFiles.bytes(note(path)),
    lines: (path) => diskFiles.lines(note(path)),
    font: (path) => diskFiles.font?.(note(path)),
  }
  try {
    const site = readSite(readFileSync(main, 'utf8'), { file: main, files })
    const page = [...resolveSite(site).pages()].find(({ dormant }) => !dormant)
    // The font is read when the first words are measured.
    if (page) measurePage(page, site.viewports[0]?.name ?? '')
    for (const [id, { file }] of Object.entries(site.data.assets ?? {}))
      if (file !== undefined) note(files.resolve(site.origin(toPointer(['assets', id, 'file'])).file, file))
  } catch (error) {
    if (!(error instanceof SiteError)) throw error
  }
  return [...seen].sort()
}

function readAll(main: string) {
  const paths = filesOf(main)
  const texts: Record<string, string> = {}
  const binary: Record<string, string> = {}
  for (const path of paths)
    if (TEXT.test(path)) texts[nameOf(main, path)] = readFileSync(path, 'utf8')
    else binary[nameOf(main, path)] = readFileSync(path).toString('base64')
  return { file: nameOf(main, main), texts, binary, version: versionOf(paths) }
}

/** A hash over the files' content. */
function versionOf(paths: readonly string[]): string {
  const hash = createHash('sha256')
  for (const path of paths) hash.update(path).update('\0').update(readFileSync(path)).update('\0')
  return hash.digest('hex')
}

const filesIn = (folder: string): readonly string[] =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((name) => statSync(join(folder, name)).isFile())

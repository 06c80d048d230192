import { serve } from '@hono/node-server'
import { Command } from 'commander'
import { Hono } from 'hono'
import { readFileSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { gzipSync } from 'node:zlib'
import { CHANGES, makeChanges } from './changes.js'
import { isServed } from './decide.js'
import { exportCsv, exportJson, exportXml, TABLES, type TableName } from './export.js'
import { addressOf, renderEntry, servedEntries, themeCss } from './render.js'
import { seed, type Entry, type Store } from './store.js'

const QUILLMERE = fileURLToPath(new URL('../../quillmere/', import.meta.url))

export interface Host {
  readonly address: string
  readonly store: Store
  readonly close: () => Promise<void>
}

/** Starts the stand-in host on a local port; 0 for any that is free. */
export async function startHost(options: { port?: number; changes?: readonly number[] } = {}): Promise<Host> {
  const store = seed(QUILLMERE)
  makeChanges(store, options.changes ?? [])
  const server = serve({ fetch: hostApp(store).fetch, hostname: '127.0.0.1', port: options.port ?? 0 })
  await new Promise<void>((done, fail) => {
    server.once('listening', done)
    server.once('error', fail)
  })
  const { port } = server.address() as AddressInfo
  return {
    address: `http://127.0.0.1:${port}`,
    store,
    close: () => new Promise((done) => server.close(() => done())),
  }
}

export function hostApp(store: Store): Hono {
  const app = new Hono()
  const css = (text: string): Response => new Response(text, { headers: { 'content-type': 'text/css; charset=utf-8' } })
  app.get('/theme.css', () => css(themeCss(store)))
  app.get('/custom.css', () => css(store.css))
  app.get(
    '/fonts/text.ttf',
    () => new Response(readFileSync(join(store.folder, store.type.font)), { headers: { 'content-type': 'font/ttf' } }),
  )
  app.get('/media/:name', (c) => {
    const media = store.media[c.req.param('name')]
    if (!media) return c.notFound()
    const svg = media.file ? readFileSync(join(store.folder, media.file), 'utf8') : drawn(media)
    return c.body(svg, 200, { 'content-type': 'image/svg+xml' })
  })
  app.get('/robots.txt', (c) =>
    c.text(`User-agent: *\nDisallow: /export\nSitemap: ${new URL(c.req.url).origin}/sitemap.xml\n`),
  )
  app.get('/sitemap.xml', (c) => {
    const { origin } = new URL(c.req.url)
    return xml(
      `<sitemapindex xmlns="http://www.sitemaps.org/schemas/sitemap/0.9"><sitemap><loc>${origin}/sitemap-pages.xml.gz</loc></sitemap><sitemap><loc>${origin}/sitemap-rest.xml</loc></sitemap></sitemapindex>`,
    )
  })
  const listed = (): readonly Entry[] => servedEntries(store).filter((entry) => !entry.members)
  app.get('/sitemap-pages.xml.gz', (c) => {
    const text = urlset(
      store,
      listed().filter((entry) => entry.type === 'page'),
      new URL(c.req.url).origin,
    )
    return c.body(gzipSync(text), 200, { 'content-type': 'application/gzip' })
  })
  app.get('/sitemap-rest.xml', (c) =>
    xml(
      urlset(
        store,
        listed().filter((entry) => entry.type !== 'page'),
        new URL(c.req.url).origin,
      ),
    ),
  )
  app.get('/export/site.json', (c) => c.json(exportJson(store)))
  app.get('/export/site.xml', () => xml(exportXml(store)))
  app.get('/export/:table{[a-z]+\\.csv}', (c) => {
    const table = c.req.param('table').slice(0, -4)
    if (!TABLES.includes(table as TableName)) return c.notFound()
    return c.body(exportCsv(store, table as TableName), 200, { 'content-type': 'text/csv; charset=utf-8' })
  })
  app.get('*', (c) => {
    const path = new URL(c.req.url).pathname.replace(/(.)\/$/, '$1')
    const entry = [...store.entries.values()].find((each) => addressOf(store, each) === path && each.state === 'live')
    if (entry && isServed(store, entry)) {
      const isMember = /\bmember=1\b/.test(c.req.header('cookie') ?? '')
      if (entry.members && !isMember) return c.redirect(addressOf(store, doorOf(store)), 302)
      return c.html(renderEntry(store, entry))
    }
    const moved = [...store.entries.values()].find((each) => each.address === path)
    if (moved && isServed(store, moved) && moved.state === 'live') return c.redirect(addressOf(store, moved), 301)
    const lost = store.entries.get(String(store.roles['notFound']))
    return lost ? c.html(renderEntry(store, lost), 404) : c.text('not found', 404)
  })
  return app
}

function doorOf(store: Store): Entry {
  const door = store.entries.get(String(store.roles['signIn']))
  if (!door) throw new Error('the host has no door')
  return door
}

const xml = (text: string): Response =>
  new Response(`<?xml version="1.0" encoding="UTF-8"?>\n${text}`, {
    headers: { 'content-type': 'application/xml; charset=utf-8' },
  })

const urlset = (store: Store, entries: readonly Entry[], origin: string): string =>
  `<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">${entries
    .map((entry) => `<url><loc>${origin}${addressOf(store, entry)}</loc></url>`)
    .join('')}</urlset>`

/** A picture of which only the colors are known. */
function drawn({ width, height, color = '#888', range = [color, color] }: Store['media'][string]): string {
  const [dark, light] = range
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}"><defs><linearGradient id="g" x1="0" y1="1" x2="0" y2="0"><stop stop-color="${dark}"/><stop offset=".8" stop-color="${color}"/><stop offset="1" stop-color="${light}"/></linearGradient></defs><rect width="100%" height="100%" fill="url(#g)"/></svg>`
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const program = new Command('host')
    .description('Serves Quillmere Observatory as real pages: a stand-in for the system a site runs on.')
    .option('--port <port>', 'where', '8420')
    .option('--change <n...>', 'make these changes behind the site file’s back; "all" for all of them')
    .option('--list', 'list the changes')
    .parse()
  const { port, change = [], list } = program.opts<{ port: string; change?: string[]; list?: true }>()
  if (list) process.stdout.write(CHANGES.map(({ title }, n) => `${n + 1} ${title}\n`).join(''))
  else {
    const numbers = change.includes('all') ? CHANGES.map((_, n) => n + 1) : change.map(Number)
    const { address } = await startHost({ port: Number(port), changes: numbers })
    const told = numbers.map((n) => `\n  ${n} ${CHANGES[n - 1]?.title}`).join('')
    process.stdout.write(`Quillmere Observatory at ${address}${told}\n`)
  }
}

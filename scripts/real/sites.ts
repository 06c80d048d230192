// The list of sites that others wrote, and where they lie once they were fetched.
import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { serve } from '@hono/node-server'
import { serveStatic } from '@hono/node-server/serve-static'
import { Hono } from 'hono'
import type { AddressInfo } from 'node:net'
import { parse } from 'yaml'

export const CACHE = fileURLToPath(new URL('../../.cache/real/', import.meta.url))
const LIST = fileURLToPath(new URL('sites.yaml', import.meta.url))

/** A site of the list. */
export interface RealSite {
  readonly id: string
  /** What made it. */
  readonly make: string
  readonly npm?: string
  readonly deb?: string
  /** More packages, of which files are used. */
  readonly with?: readonly string[]
  /** The only folder that is unpacked, of a package that is very large. */
  readonly only?: string
  /** The folder with its pages, and the one that is served where its pages use files beside it. */
  readonly root: string
  readonly base?: string
  readonly pages: readonly string[]
}

export function realSites(only: readonly string[] = []): RealSite[] {
  const list = parse(readFileSync(LIST, 'utf8')) as Record<string, Omit<RealSite, 'id'>>
  const all = Object.entries(list).map(([id, site]) => ({ id, ...site }))
  return only.length === 0 ? all : all.filter(({ id }) => only.includes(id))
}

export const folderOf = (site: RealSite, ...more: readonly string[]): string => join(CACHE, 'sites', site.id, ...more)

/** A site that is served on this machine. */
export interface ServedReal {
  /** Address of a page of the list. */
  readonly addressOf: (page: string) => string
  readonly close: () => Promise<void>
}

/** Serves a site's files as they were packed; nothing is asked of anybody else. */
export async function serveReal(site: RealSite, change?: (page: string) => string): Promise<ServedReal> {
  const base = site.base ?? site.root
  const folder = folderOf(site, base)
  if (!existsSync(folder)) throw new Error(`${site.id} was not fetched: npm run real -- fetch`)
  const app = new Hono()
  const inside = site.root.slice(base.length).replace(/^\//, '')
  if (change)
    app.use('*', async (context, next) => {
      await next()
      const type = context.res.headers.get('content-type') ?? ''
      if (!type.includes('html')) return
      const path = decodeURIComponent(new URL(context.req.url).pathname).slice(1)
      const page = path.slice(inside === '' ? 0 : inside.length + 1)
      const text = `${await context.res.text()}${change(page)}`
      // The old length would cut what is added.
      context.res = undefined
      context.res = new Response(text, { headers: { 'content-type': type } })
    })
  app.use('*', serveStatic({ root: folder }))
  const server = serve({ fetch: app.fetch, port: 0, hostname: '127.0.0.1' })
  await new Promise((done) => server.once('listening', done))
  const origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  return {
    addressOf: (page) => `${origin}/${inside === '' ? '' : `${inside}/`}${page}`,
    close: () => new Promise((done) => void server.close(() => done())),
  }
}

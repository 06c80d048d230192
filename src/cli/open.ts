import { existsSync, statSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { Option, type Command } from 'commander'
import { findSite } from '../node/load-site.js'
import type { ServeOptions } from '../node/serve-site.js'
import { addCommand } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import type { CrawlOptions } from './crawl-options.js'
import { againOption, formatOption } from './options.js'
import { openSite, type SiteOptions } from './site-argument.js'
import { json } from './text.js'

interface OpenOptions extends SiteOptions, LiveOptions {
  readonly format: 'text' | 'json'
  readonly port: string
}

interface LiveOptions extends Pick<CrawlOptions, 'timeout' | 'header' | 'ignoreRobots'> {
  readonly live?: string
}

/** Where the workbench is built to: `npm run build:workbench`. */
const APP = fileURLToPath(new URL('../../examples/workbench/dist', import.meta.url))

/** `open [site]`: the workbench on this site, which saves into its files. */
export function addOpen(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<OpenOptions>(program, io, done, {
    name: 'open',
    examples: [
      'wembra open',
      'wembra open quillmere.site.yaml --port 4000',
      'wembra open --live https://quillmere.example',
    ],
    options: [
      new Option('--port <port>', 'local port; default: one that is free').default('0', 'any'),
      new Option('--live <address>', 'address of the real site, to see its pages beside the previews'),
      againOption('--header <line>', 'send this header with each request to the real site: "cookie: member=1"'),
      new Option('--ignore-robots', 'fetch what robots.txt does not allow: for a site of your own'),
      new Option('--timeout <seconds>', 'time limit for one real page').default('15'),
      formatOption(['text', 'json'], 'how to print the address'),
    ],
    run: async (_words, options, site, io) => {
      if (site === '-') throw new UsageError('standard input cannot be saved; name a file')
      const port = Number(options.port)
      if (!Number.isInteger(port) || port < 0 || port > 65_535)
        throw new UsageError(`"${options.port}" is not a port; expected 0 to 65535`)
      if (!existsSync(APP))
        throw new UsageError(
          'the app is not part of this copy of wembra; in its repository, `npm run build:workbench` builds it',
        )
      openSite(site, io) // errors in it are reported here, with places
      const file = statSync(site).isDirectory() ? findSite(site) : site
      const { serveSite } = await import('../node/serve-site.js')
      const served = await serveSite(file, APP, port, { live: looker(file, options, io) }).catch(
        (error: NodeJS.ErrnoException) => {
          if (error.code !== 'EADDRINUSE') throw error
          throw new UsageError(`port ${port} is in use; choose another, or leave --port out`)
        },
      )
      io.out(
        options.format === 'json'
          ? json({ wembra: 1, report: 'open', address: served.address, file })
          : `${file} is open at\n  ${served.address}\nCtrl+C ends it.\n`,
      )
      await new Promise<void>((end) => {
        for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => end())
      })
      await served.close()
      return ExitCode.fine
    },
  })
}

/** What looks at a real page, one after the other: each starts a browser. */
function looker(file: string, { live, ...options }: OpenOptions, io: Io): ServeOptions['live'] {
  if (live === undefined) return undefined
  if (!/^https?:\/\//i.test(live)) throw new UsageError(`"${live}" is not an address; expected https://…`)
  const crawl: CrawlOptions = { ...options, maxSize: '10', maxPages: '1' }
  let last: Promise<unknown> = Promise.resolve()
  return (page) => {
    const next = last.then(async () => (await import('./look-live.js')).lookLive(file, page, live, crawl, io))
    last = next.catch(() => undefined)
    return next
  }
}

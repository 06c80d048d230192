import { existsSync, statSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { Option, type Command } from 'commander'
import { findSite } from '../node/load-site.js'
import { serveSite } from '../node/serve-site.js'
import { addCommand } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { formatOption } from './options.js'
import { openSite, type SiteOptions } from './site-argument.js'
import { json } from './text.js'

interface OpenOptions extends SiteOptions {
  readonly format: 'text' | 'json'
  readonly port: string
}

/** Where the workbench is built to: `npm run build:workbench`. */
const APP = fileURLToPath(new URL('../../examples/workbench/dist', import.meta.url))

/** `open [site]`: the workbench on this site, which saves into its files. */
export function addOpen(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<OpenOptions>(program, io, done, {
    name: 'open',
    examples: ['wembra open', 'wembra open quillmere.site.yaml --port 4000'],
    options: [
      new Option('--port <port>', 'local port; default: one that is free').default('0', 'any'),
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
      const served = await serveSite(file, APP, port).catch((error: NodeJS.ErrnoException) => {
        if (error.code !== 'EADDRINUSE') throw error
        throw new UsageError(`port ${port} is in use; choose another, or leave --port out`)
      })
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

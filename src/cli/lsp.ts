import { Option, type Command } from 'commander'
import { addCommand } from './command.js'
import type { ExitCode, Io } from './io.js'
import type { SiteOptions } from './site-argument.js'
import { VERSION } from './version.js'

/** `lsp`: serves editors by the Language Server Protocol, on standard input and output. */
export function addLsp(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<SiteOptions>(program, io, done, {
    name: 'lsp',
    examples: ['wembra lsp', 'wembra lsp --stdio', '# set it up in an editor: docs/editors.md'],
    options: [new Option('--stdio', 'speak on standard input and output; the only way, and the default')],
    run: async () => {
      const { serveStdio } = await import('../lsp/stdio.js')
      serveStdio(VERSION)
      // The connection ends the process when the editor says so, or is gone.
      return new Promise<never>(() => undefined)
    },
  })
}

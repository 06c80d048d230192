import type { Command } from 'commander'
import { takeSnapshot } from '../change/snapshot.js'
import { writeWhole } from '../node/write-file.js'
import { addCommand } from './command.js'
import { ExitCode, type Io } from './io.js'
import { formatOption, nowOption, outOption, readClock } from './options.js'
import { openSite, type SiteOptions } from './site-argument.js'
import { count, json } from './text.js'

interface SnapshotOptions extends SiteOptions {
  readonly format: 'json'
  readonly out?: string
  readonly now?: string
}

/** `snapshot [site]`: what every page gives its visitors now, to compare with later. */
export function addSnapshot(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<SnapshotOptions>(program, io, done, {
    name: 'snapshot',
    examples: ['wembra snapshot -o before.snapshot.json', 'wembra diff before.snapshot.json quillmere.site.yaml'],
    options: [formatOption(['json']), outOption(), nowOption()],
    run: (_words, options, site, io) => {
      const snapshot = takeSnapshot(openSite(site, io), { now: readClock(options.now) })
      if (options.out === undefined) io.out(json(snapshot))
      else {
        writeWhole(options.out, json(snapshot))
        io.out(`${count(Object.keys(snapshot.pages).length, 'page')} in ${options.out}\n`)
      }
      return ExitCode.fine
    },
  })
}

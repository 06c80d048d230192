import { Option, type Command } from 'commander'
import { takeSnapshot } from '../change/snapshot.js'
import { writeWhole } from '../node/write-file.js'
import { addCommand, choice } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { readClock } from './options.js'
import { openSite, splitSite, type SiteOptions } from './site-argument.js'
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
    options: [
      choice('--format <format>', 'a snapshot is JSON', ['json'], 'json'),
      new Option('-o, --out <file>', 'where to write; default standard output'),
      new Option('--now <date>', 'the day that years and countdowns are held against; default today'),
    ],
    run: (given, options) => {
      const { words, site } = splitSite(given, options)
      if (words.length > 0) throw new UsageError(`"${words.join(' ')}" is no site file`)
      const snapshot = takeSnapshot(openSite(site, io), readClock(options.now))
      if (options.out === undefined) io.out(json(snapshot))
      else {
        writeWhole(options.out, json(snapshot))
        io.out(`${count(Object.keys(snapshot.pages).length, 'page')} in ${options.out}\n`)
      }
      return ExitCode.fine
    },
  })
}

import type { Command } from 'commander'
import { packTemplates } from '../change/pack.js'
import { PACK_SECTIONS, type Pack } from '../change/pack-format.js'
import { writeWhole } from '../node/write-file.js'
import { addCommand } from './command.js'
import { ExitCode, type Io } from './io.js'
import { formatOption, outOption } from './options.js'
import { openSite, type SiteOptions } from './site-argument.js'
import { columnsOf, count, json } from './text.js'

interface PackOptions extends SiteOptions {
  readonly format: 'json'
  readonly out?: string
}

/** `pack <template…> [site]`: carry templates to another site. */
export function addPack(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<PackOptions>(program, io, done, {
    name: 'pack',
    examples: ['wembra pack campaign -o campaign.pack.json', 'wembra unpack campaign.pack.json other.site.yaml'],
    options: [formatOption(['json']), outOption()],
    run: (words, options, site, io) => {
      const pack = packTemplates(openSite(site, io).site, words)
      if (options.out === undefined) io.out(json(pack))
      else {
        writeWhole(options.out, json(pack))
        io.out(packText(pack, options.out, io))
      }
      return ExitCode.fine
    },
  })
}

function packText({ entries, files }: Pack, out: string, { colors: c }: Io): string {
  const bySection = [...PACK_SECTIONS].reverse()
  const rows = bySection.flatMap((section) =>
    entries.flatMap((entry) => (entry.section === section ? [[`${section}/${entry.id}`, c.dim(entry.because)]] : [])),
  )
  const pictures = files.map(({ path, asset }) => [path, c.dim(`the file of assets/${asset}`)])
  return `${columnsOf([...rows, ...pictures])}\n${count(entries.length, 'thing')} and ${count(files.length, 'file')} in ${out}\n`
}

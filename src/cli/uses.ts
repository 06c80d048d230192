import type { Command } from 'commander'
import {
  kindsNamed,
  sharedNames,
  SHARED_THINGS,
  usesOf,
  type SharedThing,
  type Use,
  type Uses,
} from '../change/uses.js'
import { usesDocument } from '../draw/documents.js'
import { didYouMean } from '../model/did-you-mean.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { formatOption } from './options.js'
import { openSite, type SiteOptions } from './site-argument.js'
import { columnsOf, count, json, paragraph, placeText } from './text.js'

interface UsesOptions extends SiteOptions {
  readonly format: 'text' | 'json'
}

/** `uses <template|surround|menu|asset> [site]`: who uses it, and who would change with it? */
export function addUses(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<UsesOptions>(program, io, done, {
    name: 'uses',
    examples: ['wembra uses campaign', 'wembra uses site-footer', 'wembra uses menu:primary --format json'],
    options: [formatOption(['text', 'json'])],
    run: (words, options, site, io) => {
      const [name = ''] = words
      const resolved = openSite(site, io)
      const found = usesOf(resolved, ...named(resolved, name))
      io.out(options.format === 'json' ? json(usesDocument(found)) : usesText(found, resolved, io))
      return ExitCode.fine
    },
  })
}

/** `kind:id`, or an id that only one kind of thing has. */
function named(resolved: ResolvedSite, name: string): [SharedThing, string] {
  const [prefix = '', ...rest] = name.split(':')
  const asked = SHARED_THINGS.find((kind) => kind === prefix)
  const id = asked && rest.length > 0 ? rest.join(':') : name
  const kinds = kindsNamed(resolved, id).filter((kind) => asked === undefined || rest.length === 0 || kind === asked)
  const [kind, other] = kinds
  if (kind && !other) return [kind, id]
  if (kind) throw new UsageError(`"${id}" names a ${kinds.join(' and a ')}; write which: ${kind}:${id}`)
  const meant = didYouMean(id, sharedNames(resolved))
  throw new UsageError(
    `unknown template, surround, menu or asset "${name}"${meant ? `; did you mean "${meant}"?` : ''}`,
  )
}

function usesText({ kind, id, at, uses, would, through, changes }: Uses, resolved: ResolvedSite, io: Io): string {
  const { colors: c, columns } = io
  const all = resolved.site.viewports.length
  const row = (use: Use): string[] => [
    `  ${use.page}`,
    use.viewports.length === all || use.viewports.length === 0 ? '' : use.viewports.join(', '),
    use.because,
    c.dim(placeText(use.at)),
  ]
  const part = (title: string, list: readonly Use[]): string =>
    list.length === 0 ? '' : `\n${c.bold(title)}\n${columnsOf(list.map(row))}\n`
  const heirs = through.map((t) => `  ${t.kind} ${t.id} (${placeText(t.at)})`)
  return [
    `${kind} ${c.bold(id)}  ${c.dim(placeText(at))}\n`,
    uses.length === 0 ? '\nNo page uses it.\n' : '',
    part(`used by ${count(new Set(uses.map((u) => u.page)).size, 'page')}`, uses),
    part('assigned but overridden', would),
    heirs.length > 0 ? `\n${c.bold('the base of')}\n${heirs.join('\n')}\n` : '',
    changes.length > 0
      ? `\n${c.bold(`if it changed, ${count(changes.length, 'page')} would`)}\n${paragraph(changes.join(', '), columns)}\n`
      : '',
  ].join('')
}

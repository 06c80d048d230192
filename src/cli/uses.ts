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
import { catalogOf, type Catalog } from '../change/catalog.js'
import { catalogDocument, usesDocument } from '../draw/documents.js'
import { surroundInWords, templateInWords, USE_HEAD, useRows } from '../draw/catalog.js'
import { writeWhole } from '../node/write-file.js'
import { didYouMean } from '../model/did-you-mean.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { formatOption, outOption } from './options.js'
import { openSite, type SiteOptions } from './site-argument.js'
import { columnsOf, count, json, paragraph, placeText } from './text.js'

interface UsesOptions extends SiteOptions {
  readonly format: 'text' | 'json' | 'markdown' | 'html'
  readonly out?: string
}

/** `uses [template|surround|menu|asset] [site]`: who uses it, and who would change with it? Alone: the catalog. */
export function addUses(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<UsesOptions>(program, io, done, {
    name: 'uses',
    examples: [
      'wembra uses',
      'wembra uses --format html -o catalog.html',
      'wembra uses campaign',
      'wembra uses menu:primary --format json',
    ],
    options: [
      formatOption(['text', 'json', 'markdown', 'html'], 'how to print; markdown and html: the list of all'),
      outOption(),
    ],
    run: async (words, options, site, io) => {
      const [name] = words
      const resolved = openSite(site, io)
      const text = name === undefined ? await catalogText(resolved, options, io) : oneText(resolved, name, options, io)
      if (options.out === undefined) io.out(text)
      else writeWhole(options.out, text)
      return ExitCode.fine
    },
  })
}

function oneText(resolved: ResolvedSite, name: string, { format }: UsesOptions, io: Io): string {
  if (format !== 'text' && format !== 'json')
    throw new UsageError(`--format ${format} lists all templates and surrounds; leave out "${name}"`)
  const found = usesOf(resolved, ...named(resolved, name))
  return format === 'json' ? json(usesDocument(found)) : usesText(found, resolved, io)
}

/** Every template and surround. */
async function catalogText(resolved: ResolvedSite, { format }: UsesOptions, io: Io): Promise<string> {
  const { name } = resolved.site.data.site
  if (format === 'json') return json(catalogDocument(resolved))
  const catalog = catalogOf(resolved)
  if (format === 'text') return listText(catalog, io)
  const { catalogHtml, catalogMarkdown } = await import('../draw/catalog.js')
  return format === 'html' ? catalogHtml(name, catalog) : catalogMarkdown(name, catalog)
}

function listText(catalog: Catalog, { colors: c, columns }: Io): string {
  const lines = (list: readonly (readonly [string, string])[]): string =>
    list.map(([name, text]) => hanging(c.dim(`  ${name.padEnd(NAME_COLUMNS)}`), text, columns)).join('\n')
  const off = (isOn: boolean): string => (isOn ? '' : c.yellow('  off'))
  const templates = catalog.templates.map(
    (t) =>
      `${c.bold(t.id)}${t.label === null ? '' : `  ${t.label}`}${off(t.isOn)}  ${c.dim(placeText(t.at))}\n${lines(templateInWords(t))}`,
  )
  const surrounds = catalog.surrounds.map(
    (s) => `${c.bold(s.id)}  ${s.as}  ${c.dim(placeText(s.at))}\n${lines(surroundInWords(s))}`,
  )
  const table = columnsOf(
    useRows(catalog),
    USE_HEAD.map((text) => c.dim(text.toLowerCase())),
  )
  const none = (list: readonly string[], what: string): readonly string[] => (list.length > 0 ? list : [`No ${what}.`])
  return `${[
    c.bold(count(catalog.templates.length, 'template').toUpperCase()),
    ...none(templates, 'templates'),
    c.bold(count(catalog.surrounds.length, 'surround').toUpperCase()),
    ...none(surrounds, 'surrounds'),
    c.bold('KINDS, TEMPLATES, BUILDERS'),
    table,
  ].join('\n\n')}\n`
}

/** Columns for the names of lines. */
const NAME_COLUMNS = 11

/** A text behind a name, its further lines indented under the first. */
function hanging(name: string, text: string, columns: number): string {
  const indent = NAME_COLUMNS + 3
  return `${name} ${paragraph(text, columns, indent).trimStart()}`
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

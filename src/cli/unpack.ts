import { existsSync, readFileSync, realpathSync } from 'node:fs'
import { dirname, isAbsolute, relative, resolve } from 'node:path'
import { Option, type Command } from 'commander'
import { readPack, type Pack } from '../change/pack-format.js'
import { undoPatch } from '../change/undo.js'
import {
  unpackInto,
  type CollisionChoice,
  type UnpackedEntry,
  type Unpacking,
  type UnpackOptions,
} from '../change/unpack.js'
import { unpackingDocument } from '../draw/documents.js'
import { changeInWords, groupHeadline } from '../draw/diff-words.js'
import { SiteError } from '../model/problem.js'
import { whyUnreadable } from '../node/why-unreadable.js'
import { writeSiteFiles } from '../node/write-site-files.js'
import { writeWhole } from '../node/write-file.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { formatOption, listOption, nowOption, readClock, undoOption } from './options.js'
import { openSite, type SiteOptions } from './site-argument.js'
import { refuseStdin, undoText } from './apply.js'
import { columnsOf, count, json, paragraph, someOf } from './text.js'

interface UnpackCliOptions extends SiteOptions {
  readonly format: 'text' | 'json'
  readonly keep?: readonly string[]
  readonly replace?: readonly string[]
  readonly rename?: readonly string[]
  readonly onCollision?: CollisionChoice
  readonly viewport?: readonly string[]
  readonly apply?: true
  readonly undo?: string
  readonly now?: string
}

/** `unpack <file> [site]`: add a pack to this site. */
export function addUnpack(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<UnpackCliOptions>(program, io, done, {
    name: 'unpack',
    examples: [
      'wembra unpack campaign.pack.json',
      'wembra unpack campaign.pack.json --on-collision keep --apply',
      'wembra unpack campaign.pack.json --replace assets/mark --rename surrounds/main-header=their-header',
      'wembra unpack campaign.pack.json --viewport desk=wide,phone=small',
    ],
    options: [
      formatOption(['text', 'json']),
      listOption('--keep <thing>', "where names collide, keep this site's: surrounds/main-header"),
      listOption('--replace <thing>', "where names collide, use the pack's in its place"),
      listOption('--rename <thing>', "add the pack's under another name: assets/mark=their-mark"),
      new Option('--on-collision <choice>', 'what to do where names collide otherwise').choices([
        'keep',
        'replace',
        'rename',
      ]),
      listOption('--viewport <name>', "this site's name for a viewport of the pack: phone=small"),
      new Option('--apply', 'write it to the files'),
      undoOption(),
      nowOption(),
    ],
    run: ([file = ''], options, site, io) => {
      const pack = readPackFile(file)
      const resolved = openSite(site, io)
      const unpacking = plan(resolved, pack, options)
      const undo = undoPatch(resolved.site, unpacking.patch)
      if (options.apply) expectReady(resolved, unpacking)
      if (options.apply && options.undo !== undefined) writeWhole(options.undo, json(undo))
      if (options.apply) write(resolved, unpacking)
      if (options.format === 'json') io.out(json(unpackingDocument(unpacking, options.apply ?? false, undo)))
      else {
        io.out(unpackText(pack, unpacking, options, io))
        if (options.apply) io.out(`\n${undoText(undo, options, io)}`)
      }
      return unpacking.isReady ? ExitCode.fine : ExitCode.findings
    },
  })
}

function readPackFile(file: string): Pack {
  let text: string
  try {
    text = readFileSync(file, 'utf8')
  } catch (error) {
    const message = `${whyUnreadable(error)}; \`wembra pack\` writes a pack`
    throw new SiteError([{ file, line: 1, column: 1, code: 'unreadable', message }])
  }
  return readPack(text, file)
}

function plan(resolved: ResolvedSite, pack: Pack, options: UnpackCliOptions): Unpacking {
  const now = readClock(options.now)
  return unpackInto(resolved, pack, {
    choices: choicesOf(options),
    viewports: Object.fromEntries((options.viewport ?? []).map((pair) => twoNames(pair, '--viewport phone=small'))),
    ...(options.onCollision && { otherwise: options.onCollision }),
    ...(now && { now }),
  })
}

function choicesOf({ keep = [], replace = [], rename = [] }: UnpackCliOptions): NonNullable<UnpackOptions['choices']> {
  return Object.fromEntries([
    ...keep.map((thing) => [thing, 'keep'] as const),
    ...replace.map((thing) => [thing, 'replace'] as const),
    ...rename.map((thing) => {
      if (!thing.includes('=')) return [thing, 'rename'] as const
      const [id, name] = twoNames(thing, '--rename assets/mark=their-mark')
      return [id, { rename: name }] as const
    }),
  ])
}

function twoNames(pair: string, example: string): [string, string] {
  const [one, other, ...more] = pair.split('=')
  if (!one || !other || more.length > 0) throw new UsageError(`"${pair}" is not two names; write ${example}`)
  return [one, other]
}

function expectReady({ site }: ResolvedSite, unpacking: Unpacking): void {
  refuseStdin(site)
  if (!unpacking.isReady) throw new UsageError('some names collide: run it without --apply to see them, then choose')
  for (const path of unpacking.pictures.keys()) expectInside(site.file, path)
}

/** @throws {UsageError} For a picture that would land outside of the site's folder, by way of a link. */
function expectInside(file: string, path: string): void {
  const home = realpathSync(dirname(file))
  let folder = dirname(resolve(path))
  while (!existsSync(folder)) folder = dirname(folder)
  const away = relative(home, realpathSync(folder))
  if (away.startsWith('..') || isAbsolute(away))
    throw new UsageError(`${path} leads out of the site's folder by a link; such a pack is not taken in`)
}

function write({ site }: ResolvedSite, { pictures, texts }: Unpacking): void {
  writeSiteFiles(site, new Map<string, string | Uint8Array>([...pictures, ...texts]))
}

const PAGES_NAMED = 8

function unpackText(pack: Pack, unpacking: Unpacking, { apply: isWritten }: UnpackCliOptions, io: Io): string {
  const { colors: c, columns } = io
  const { entries, viewports, missing, isReady, changes, texts, pictures } = unpacking
  const state = (entry: UnpackedEntry): string => {
    if (entry.state === 'new') return c.green('new')
    if (entry.state === 'same') return c.dim('the same in this site')
    switch (entry.choice) {
      case 'keep':
        return 'this site’s is kept'
      case 'replace':
        return c.yellow('this site’s is replaced')
      case 'rename':
        return c.green(`added as ${entry.as}`)
      default:
        return c.red('differs')
    }
  }
  const rows = entries.map((entry) => [`${entry.section}/${entry.id}`, state(entry)])
  const open = entries
    .filter((entry) => entry.state === 'differs' && entry.choice === undefined)
    .map((entry) => collisionText(entry, io))
  const shapes = viewports.map(({ name, nearest }) =>
    paragraph(
      c.red(`values in the pack are for a viewport "${name}", which this site does not have; `) +
        `name one of its own instead: --viewport ${name}=${nearest}`,
      columns,
      0,
    ),
  )
  const holes = missing.map(({ to, name, by }) => `  ${by} names the ${to} "${name}"`)
  const changed = changes?.groups.flatMap((group) => [
    c.bold(groupHeadline(group)),
    ...changeInWords(group).map((line) => paragraph(line, columns)),
    paragraph(c.dim(someOf(group.pages, PAGES_NAMED)), columns),
  ])
  const files = [...texts.keys(), ...pictures.keys()]
  const end = !isReady
    ? 'Choose for each of these; nothing is written before.'
    : isWritten
      ? `written to ${files.join(', ')}`
      : files.length === 0
        ? 'this site has all of it'
        : `would be written to ${files.join(', ')}; --apply writes it`
  return (
    [
      `${c.bold(pack.templates.join(', '))} from ${pack.site}`,
      columnsOf(rows).trimEnd(),
      ...open,
      ...shapes,
      ...(holes.length > 0 ? [`${c.yellow('Missing in this site, so without effect:')}\n${holes.join('\n')}`] : []),
      ...(changed
        ? [
            changed.length > 0
              ? changed.join('\n')
              : c.green(`no page of this site changes (${count(changes?.unchanged ?? 0, 'page')})`),
          ]
        : []),
      end,
    ].join('\n\n') + '\n'
  )
}

function collisionText({ section, id, replaceChanges }: UnpackedEntry, { colors: c, columns }: Io): string {
  const thing = `${section}/${id}`
  const replaced =
    replaceChanges === undefined
      ? ''
      : replaceChanges.length === 0
        ? 'no page of this site'
        : `${count(replaceChanges.length, 'page')} of this site: ${someOf(replaceChanges, PAGES_NAMED)}`
  return [
    c.bold(`${thing} differs from this site’s`),
    paragraph(`--keep ${thing}     use this site’s`, columns),
    paragraph(`--replace ${thing}  ${replaced ? `changes ${replaced}` : ''}`, columns),
    paragraph(`--rename ${thing}   keep both; the pack’s gets another name`, columns),
  ].join('\n')
}

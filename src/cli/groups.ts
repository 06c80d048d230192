import { Option, type Command } from 'commander'
import { groupPages, type Groups } from '../change/groups.js'
import { groupsDocument } from '../draw/documents.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand, choice } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { openSite, splitSite, type SiteOptions } from './site-argument.js'
import { takePatch, undoOption, type TakeOptions } from './take.js'
import { count, json, paragraph, someOf } from './text.js'

interface GroupsOptions extends SiteOptions {
  readonly undo?: string
  readonly format: 'text' | 'json'
  readonly take?: string
}

/** `groups [site]`: which pages are really the same? */
export function addGroups(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<GroupsOptions>(program, io, done, {
    name: 'groups',
    examples: ['wembra groups', 'wembra groups --take all', 'wembra groups --format json'],
    options: [
      choice('--format <format>', 'how to print', ['text', 'json'], 'text'),
      new Option('--take <n>', 'write the first n proposals into the files, or all of them'),
      undoOption(),
    ],
    run: (given, options) => {
      const { words, site } = splitSite(given, options)
      if (words.length > 0) throw new UsageError(`"${words.join(' ')}" is no site file`)
      const resolved = openSite(site, io)
      const groups = groupPages(resolved)
      if (options.take !== undefined) return take(resolved, groups, options.take, options, io)
      io.out(options.format === 'json' ? json(groupsDocument(groups)) : groupsText(groups, io))
      return ExitCode.fine
    },
  })
}

/** Proposals stand on each other, so the first n are taken together. */
function take(resolved: ResolvedSite, { proposals }: Groups, text: string, options: TakeOptions, io: Io): ExitCode {
  const n = text === 'all' ? proposals.length : Number(text)
  if (!Number.isInteger(n) || n < 1 || n > proposals.length)
    throw new UsageError(
      `--take takes 1 to ${proposals.length}, or all; there ${proposals.length === 0 ? 'are no proposals' : 'is no ' + text}`,
    )
  const patch = proposals.slice(0, n).flatMap((proposal) => proposal.patch)
  return takePatch(resolved.site, patch, `${count(n, 'proposal')}, every page as it was`, options, io)
}

const PAGES_NAMED = 6

function groupsText({ groups, proposals, alike, fewest, used }: Groups, io: Io): string {
  const { colours: c, columns } = io
  const blocks = groups.map((group, n) => {
    const near = group.nearest
    const distance = near ? `; differs from group ${near.group + 1} in ${someOf(near.differ, 4)}` : ''
    return [
      `${c.bold(`${String(n + 1).padStart(2)}  ${count(group.pages.length, 'page')}`)}  ${c.dim(`template ${group.templates.join(', ')}${distance}`)}`,
      paragraph(someOf(group.pages, PAGES_NAMED), columns, 4),
    ].join('\n')
  })
  const offered = proposals.map(({ title, saved }, n) =>
    paragraph(`${n + 1}  ${title} ${c.dim(`(${count(saved, 'setting')} fewer)`)}`, columns, 0),
  )
  return (
    [
      ...blocks,
      ...(offered.length > 0 ? [`${c.bold('Every page stays as it is with')}\n${offered.join('\n')}`] : []),
      ...(alike.length > 0
        ? [
            `${c.bold('Templates that differ in settings alone, which other layers could say')}\n${alike.map((ids) => paragraph(ids.join(', '), columns)).join('\n')}`,
          ]
        : []),
      `${count(groups.length, 'group')}; ${count(used, 'template')} in use, ${fewest} would serve: one for each arrangement and ground`,
    ].join('\n\n') + '\n'
  )
}

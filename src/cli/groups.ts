import { Option, type Command } from 'commander'
import { groupPages, type Groups } from '../change/groups.js'
import { groupsDocument } from '../draw/documents.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { formatOption, undoOption } from './options.js'
import { openSite, type SiteOptions } from './site-argument.js'
import { applyPatchToFiles, type ApplyOptions } from './apply.js'
import { count, json, paragraph, someOf } from './text.js'

interface GroupsOptions extends SiteOptions {
  readonly undo?: string
  readonly format: 'text' | 'json'
  readonly apply?: string
}

/** `groups [site]`: which pages are really the same? */
export function addGroups(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<GroupsOptions>(program, io, done, {
    name: 'groups',
    examples: ['wembra groups', 'wembra groups --apply all', 'wembra groups --format json'],
    options: [
      formatOption(['text', 'json']),
      new Option('--apply <n>', 'write the first n proposals to the files; all: all of them'),
      undoOption(),
    ],
    run: (_words, options, site, io) => {
      const resolved = openSite(site, io)
      const groups = groupPages(resolved)
      if (options.apply !== undefined) return applyProposals(resolved, groups, options.apply, options, io)
      io.out(options.format === 'json' ? json(groupsDocument(groups)) : groupsText(groups, io))
      return ExitCode.fine
    },
  })
}

/** Proposals build on each other, so the first n are applied together. */
function applyProposals(
  resolved: ResolvedSite,
  { proposals }: Groups,
  text: string,
  options: ApplyOptions,
  io: Io,
): ExitCode {
  const n = text === 'all' ? proposals.length : Number(text)
  if (!Number.isInteger(n) || n < 1 || n > proposals.length)
    throw new UsageError(
      proposals.length === 0
        ? 'there are no proposals to apply'
        : `--apply expects a number from 1 to ${proposals.length}, or all, not "${text}"`,
    )
  const patch = proposals.slice(0, n).flatMap((proposal) => proposal.patch)
  return applyPatchToFiles(resolved.site, patch, `${count(n, 'proposal')}; no page changes`, options, io)
}

const PAGES_NAMED = 6

function groupsText({ groups, proposals, alike, fewest, used }: Groups, io: Io): string {
  const { colors: c, columns } = io
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
      ...(offered.length > 0 ? [`${c.bold('Proposals that change no page')}\n${offered.join('\n')}`] : []),
      ...(alike.length > 0
        ? [
            `${c.bold('Templates that differ only in settings, which other layers could set')}\n${alike.map((ids) => paragraph(ids.join(', '), columns)).join('\n')}`,
          ]
        : []),
      `${count(groups.length, 'group')}; ${count(used, 'template')} in use; ${fewest === 0 ? 'theme settings could replace all of them' : `${fewest} would do, one for each arrange list and ground`}`,
    ].join('\n\n') + '\n'
  )
}

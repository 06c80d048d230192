import { rewriteSite } from '../change/rewrite.js'
import { undoPatch } from '../change/undo.js'
import type { Patch } from '../model/patch.js'
import type { Site } from '../model/site.js'
import { writeSiteFiles } from '../node/write-site-files.js'
import { writeWhole } from '../node/write-file.js'
import { appliedDocument } from '../draw/documents.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { json } from './text.js'

/** What every command has that writes a change to the files. */
export interface ApplyOptions {
  readonly format: string
  readonly undo?: string
}

/** Writes a patch to a site's files, and reports what was written and how to revert it. */
export function applyPatchToFiles(site: Site, patch: Patch, title: string, options: ApplyOptions, io: Io): ExitCode {
  refuseStdin(site)
  const { texts } = rewriteSite(site, patch)
  const undo = undoPatch(site, patch)
  // What reverts the change is safe before it is made.
  if (options.undo !== undefined) writeWhole(options.undo, json(undo))
  writeSiteFiles(site, texts)
  const files = [...texts.keys()]
  if (options.format === 'json') io.out(json(appliedDocument(title, files, undo)))
  else
    io.out(
      `${title}: ${files.length > 0 ? `written to ${files.join(', ')}` : 'nothing to write'}\n\n${undoText(undo, options, io)}`,
    )
  return ExitCode.fine
}

/** @throws {UsageError} For a site that was piped in: there is no file to write to. */
export function refuseStdin(site: Site): void {
  if (site.file === '<stdin>') throw new UsageError('standard input cannot be changed; name a file')
}

/** The patch that reverts a change, and how to use it. */
export function undoText(undo: Patch, options: Pick<ApplyOptions, 'undo'>, io: Io): string {
  const { colors: c } = io
  if (options.undo !== undefined) return `to revert: wembra diff --patch ${options.undo} --apply\n`
  const lines = undo.map((operation) => `  ${JSON.stringify(operation)}`)
  return c.dim(
    `to revert, save this as undo.json and run wembra diff --patch undo.json --apply\n[\n${lines.join(',\n')}\n]\n`,
  )
}

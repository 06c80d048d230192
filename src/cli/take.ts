import { Option } from 'commander'
import { rewriteSite } from '../change/rewrite.js'
import { undoPatch } from '../change/undo.js'
import type { Patch } from '../model/patch.js'
import type { Site } from '../model/site.js'
import { writeTogether, writeWhole } from '../node/write-file.js'
import { takenDocument } from '../draw/documents.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { json } from './text.js'

/** What every command has that writes a change into the files. */
export interface TakeOptions {
  readonly format: string
  readonly undo?: string
}

export const undoOption = (): Option => new Option('--undo <file>', 'save the patch that takes the change back')

/** Writes a patch into a site's files, and tells what was written and how to take it back. */
export function takePatch(site: Site, patch: Patch, title: string, options: TakeOptions, io: Io): ExitCode {
  refuseStdin(site)
  const { texts } = rewriteSite(site, patch)
  const undo = undoPatch(site, patch)
  writeTogether(texts)
  if (options.undo !== undefined) writeWhole(options.undo, json(undo))
  const files = [...texts.keys()]
  if (options.format === 'json') io.out(json(takenDocument(title, files, undo)))
  else
    io.out(
      `${title}: ${files.length > 0 ? `written to ${files.join(', ')}` : 'nothing to write'}\n\n${undoText(undo, options, io)}`,
    )
  return ExitCode.fine
}

/** @throws {UsageError} For a site that was piped in: there is no file to write to. */
export function refuseStdin(site: Site): void {
  if (site.file === '<stdin>') throw new UsageError('name a file to write to: standard input cannot be changed')
}

/** The patch that takes a change back, and how it is used. */
export function undoText(undo: Patch, options: Pick<TakeOptions, 'undo'>, io: Io): string {
  const { colours: c } = io
  if (options.undo !== undefined) return `to take it back: wembra diff --patch ${options.undo} --take\n`
  const lines = undo.map((operation) => `  ${JSON.stringify(operation)}`)
  return c.dim(
    `to take it back, save this as undo.json and run wembra diff --patch undo.json --take\n[\n${lines.join(',\n')}\n]\n`,
  )
}

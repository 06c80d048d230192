import { readSite } from '../model/read-site.js'
import { diskFiles } from '../node/load-site.js'
import { writeTogether } from '../node/write-file.js'
import { UsageError, type Io } from './io.js'
import { json } from './text.js'

export interface NewSiteOptions {
  readonly format: 'text' | 'json'
  readonly out?: string
}

/** @throws {UsageError} When a site file is to be written under a name that none has. */
export function expectSiteName(out: string | undefined): void {
  if (out !== undefined && !/\.(ya?ml|json)$/.test(out))
    throw new UsageError(`a site file ends in .site.yaml or .site.json, not "${out}"`)
}

/**
 * Writes a site file that was made, after it was read as one: what is no site is not written.
 *
 * @throws {SiteError} With every problem of it.
 */
export function writeSite(text: string, options: NewSiteOptions, io: Io, report: (text: string) => string): void {
  const { out } = options
  readSite(text, { file: out ?? 'imported.site.yaml', files: diskFiles })
  const told = report(text)
  if (out === undefined) {
    io.out(options.format === 'json' ? told : text)
    if (options.format === 'text') io.err(told)
    return
  }
  writeTogether(new Map([[out, out.endsWith('.json') ? asJson(text) : text]]))
  io.out(told)
}

const asJson = (text: string): string => json(readSite(text, { file: 'imported.site.yaml', files: diskFiles }).data)

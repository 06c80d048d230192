import { readSite } from '../model/read-site.js'
import { diskFiles } from '../node/load-site.js'
import { writeWhole } from '../node/write-file.js'
import type { CrawlOptions } from './crawl.js'
import type { Io } from './io.js'
import type { SiteOptions } from './site-argument.js'
import { json } from './text.js'

export interface AdoptOptions extends SiteOptions, CrawlOptions {
  readonly format: 'text' | 'json'
  readonly url?: true
  readonly out?: string
}

/**
 * Writes a site file that was made, after it was read as one: what is no site is not written.
 *
 * @throws {SiteError} With every problem of it.
 */
export function writeAdopted(text: string, options: AdoptOptions, io: Io, report: (text: string) => string): void {
  const { out } = options
  readSite(text, { file: out ?? 'adopted.site.yaml', files: diskFiles })
  const told = report(text)
  if (out === undefined) {
    io.out(options.format === 'json' ? told : text)
    if (options.format === 'text') io.err(told)
    return
  }
  writeWhole(out, out.endsWith('.json') ? asJson(text) : text)
  io.out(told)
}

const asJson = (text: string): string => json(readSite(text, { file: 'adopted.site.yaml', files: diskFiles }).data)

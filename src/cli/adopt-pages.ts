import { draftDocument } from '../draw/documents.js'
import { draftSite, type Draft } from '../reality/draft.js'
import { crawl } from './crawl.js'
import { ExitCode, type Io } from './io.js'
import { count, json, someOf } from './text.js'
import { writeAdopted, type AdoptOptions } from './write-adopted.js'
import { USUAL_VIEWPORTS } from './viewports.js'

/** `adopt --url <address…>`: drafts a site file from what real pages show. */
export async function adoptPages(words: readonly string[], options: AdoptOptions, io: Io): Promise<ExitCode> {
  const seen = await crawl(
    words,
    options,
    { viewports: USUAL_VIEWPORTS, locators: {}, home: 'https://site.invalid' },
    io,
  )
  const draft = draftSite(seen)
  writeAdopted(draft.text, options, io, (text) =>
    options.format === 'json' ? json(draftDocument(draft, options.out ?? null, text)) : draftText(draft, options, io),
  )
  return ExitCode.fine
}

function draftText({ pages, settings, surrounds, failed }: Draft, { out }: AdoptOptions, io: Io): string {
  const { colours: c } = io
  const shared = surrounds.map(({ id, pages: n }) => `${id} on ${n}`)
  const all = settings.theme + settings.kinds + settings.templates + settings.pages
  return [
    `${c.bold(count(pages, 'page'))} described by ${count(all, 'setting')}: ${settings.theme} theme options, ${settings.kinds} of kinds, ${settings.templates} of templates, ${settings.pages} on pages`,
    `shared: ${someOf(shared, 12)}`,
    ...(failed.length > 0
      ? [
          `not observed: ${someOf(
            failed.map(({ url, because }) => `${url} (${because})`),
            6,
          )}`,
        ]
      : []),
    `next: wembra check ${out ?? 'draft.site.yaml'}; what cannot be seen from outside (drafts, tags, builders, who chose a template) is yours to add`,
    '',
  ].join('\n')
}

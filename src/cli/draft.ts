import { Option, type Command } from 'commander'
import { draftDocument } from '../draw/documents.js'
import type { Draft } from '../reality/draft.js'
import { DRAFT_DETAILS, type DraftDetail } from '../reality/draft-shared.js'
import { addCommand } from './command.js'
import { crawlOptions, type CrawlOptions } from './crawl-options.js'
import { ExitCode, type Io } from './io.js'
import { formatOption, outOption } from './options.js'
import { count, json, someOf } from './text.js'
import { expectSiteName, writeSite, type NewSiteOptions } from './write-site.js'
import { USUAL_VIEWPORTS } from './viewports.js'

/** `draft <address…>`: drafts a site file from what real pages show. */
export function addDraft(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<NewSiteOptions & CrawlOptions & { readonly detail: DraftDetail }>(program, io, done, {
    name: 'draft',
    examples: [
      'wembra draft https://quillmere.example/sitemap.xml --browser -o draft.site.yaml',
      'wembra draft build/ -o draft.site.yaml',
      'wembra draft seen.ndjson',
    ],
    options: [
      formatOption(['text', 'json'], 'how to print what was drafted'),
      outOption('site file to write; default: standard output'),
      new Option('--detail <detail>', 'how much of each page: bands, a few lines; full, all that was seen')
        .choices([...DRAFT_DETAILS])
        .default('bands'),
      ...crawlOptions(),
    ],
    run: async (words, options, _site, io) => {
      expectSiteName(options.out)
      const context = { viewports: USUAL_VIEWPORTS, locators: {}, home: 'https://site.invalid' }
      const [{ crawl }, { draftSite }] = await Promise.all([import('./crawl.js'), import('../reality/draft.js')])
      const draft = draftSite(await crawl(words, options, context, io), { detail: options.detail })
      writeSite(draft.text, options, io, (text) =>
        options.format === 'json'
          ? json(draftDocument(draft, options.out ?? null, text))
          : draftText(draft, options, io),
      )
      return ExitCode.fine
    },
  })
}

function draftText({ pages, settings, surrounds, failed }: Draft, { out }: NewSiteOptions, io: Io): string {
  const { colors: c } = io
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
    `next: wembra check ${out ?? 'draft.site.yaml'}; add by hand what cannot be seen from outside (drafts, tags, builders, why a template was chosen)`,
    '',
  ].join('\n')
}

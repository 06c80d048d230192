import { Option, type Command } from 'commander'
import { mkdirSync } from 'node:fs'
import { dirname, extname, join } from 'node:path'
import { drawTerminal } from '../draw/terminal.js'
import { drawWireframe } from '../draw/wireframe.js'
import { renderHtml } from '../draw/render-html.js'
import { measurePage } from '../measure/page.js'
import { svgToPng } from '../node/png.js'
import { writeWhole } from '../node/write-file.js'
import type { ResolvedPage } from '../resolve/page.js'
import { addCommand } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { outOption, viewportOption } from './options.js'
import { findPage, findViewports, openSite, type SiteOptions } from './site-argument.js'
import { count, json } from './text.js'

interface DrawOptions extends SiteOptions {
  readonly format?: Format
  readonly viewport?: string
  readonly out?: string
  readonly all?: true
}

const FORMATS = ['svg', 'png', 'html', 'text', 'json'] as const
type Format = (typeof FORMATS)[number]

/** `draw <page> [site]`: a picture. */
export function addDraw(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<DrawOptions>(program, io, done, {
    name: 'draw',
    examples: [
      'wembra draw visit -o visit.svg',
      'wembra draw visit --viewport phone -o visit.png',
      'wembra draw visit --viewport desk -o visit.html',
      'wembra draw visit --viewport desk --format text',
      'wembra draw --all -o drawings',
    ],
    options: [
      new Option(
        '--format <format>',
        'html: the page itself; text: for the terminal; json: the svg in a document; default: by the ending of -o, else svg',
      ).choices(FORMATS),
      viewportOption('only at this viewport; default: all, side by side'),
      outOption(),
      new Option('--all', 'draw every page, into the folder of -o'),
    ],
    run: (words, options, site, io) => {
      const resolved = openSite(site, io)
      const viewports = findViewports(resolved.site.viewports, options.viewport)
      const format = formatOf(options)
      if (options.all && words.length > 0)
        throw new UsageError(`--all draws every page; is "${words[0]}" the site? then write --site ${words[0]}`)
      if (options.all) return drawAll([...resolved.pages()], viewports, format, options.out, io)
      const [id] = words
      if (id === undefined)
        throw new UsageError('missing <page>; name one, or draw --all: wembra draw visit -o visit.svg')
      const picture = drawPage(findPage(resolved, id), viewports, format, io)
      if (options.out !== undefined) writeWhole(options.out, picture)
      else if (typeof picture === 'string') io.out(picture)
      else throw new UsageError('a PNG cannot be printed; name a file for it: -o visit.png')
      return ExitCode.fine
    },
  })
}

function formatOf({ format, out }: DrawOptions): Format {
  if (format) return format
  const ending = out === undefined ? '' : extname(out).slice(1).toLowerCase()
  return FORMATS.find((known) => known === ending) ?? 'svg'
}

function drawPage(page: ResolvedPage, viewports: readonly string[], format: Format, io: Io): string | Uint8Array {
  if (page.dormant)
    throw new UsageError(`the page "${page.id}" is dormant: its kind comes from an extension that is off`)
  if (format === 'html') return `${htmlOf(page, viewports)}\n`
  if (format === 'text')
    return `${viewports.map((viewport) => drawTerminal(measurePage(page, viewport), io.columns)).join('\n\n')}\n`
  const svg = drawWireframe(viewports.map((viewport) => measurePage(page, viewport)))
  if (format === 'json') return json({ wembra: 1, report: 'drawing', page: page.id, viewports, svg })
  return format === 'png' ? svgToPng(svg) : `${svg}\n`
}

/** As HTML a page is laid out by the browser; its CSS holds the settings of one viewport. */
function htmlOf(page: ResolvedPage, viewports: readonly string[]): string {
  const [viewport, ...more] = viewports
  if (viewport === undefined || more.length > 0)
    throw new UsageError(`an HTML page has one viewport: add --viewport ${viewport ?? 'desk'}`)
  return renderHtml(measurePage(page, viewport))
}

function drawAll(
  pages: readonly ResolvedPage[],
  viewports: readonly string[],
  format: Format,
  folder: string | undefined,
  io: Io,
): ExitCode {
  if (folder === undefined) throw new UsageError('name a folder to draw to: wembra draw --all -o drawings')
  const awake = pages.filter((page) => !page.dormant)
  const names = new Map<string, number>()
  // Two ids may come to one name.
  const nameOf = (id: string): string => {
    const name = id.replace(/[^\p{L}\p{N}._-]/gu, '-').replace(/^\.+/, '-')
    const times = (names.get(name) ?? 0) + 1
    names.set(name, times)
    return times === 1 ? name : `${name}-${times}`
  }
  for (const page of awake) {
    const file = join(folder, `${nameOf(page.id)}.${format === 'text' ? 'txt' : format}`)
    mkdirSync(dirname(file), { recursive: true })
    writeWhole(file, drawPage(page, viewports, format, io))
  }
  io.out(`${count(awake.length, 'drawing')} in ${folder}\n`)
  return ExitCode.fine
}

import { Option, type Command } from 'commander'
import { mkdirSync } from 'node:fs'
import { dirname, extname, join } from 'node:path'
import { drawTerminal } from '../draw/terminal.js'
import { drawWireframe } from '../draw/wireframe.js'
import { writeOut } from '../draw/written-out.js'
import { measurePage } from '../measure/page.js'
import { svgToPng } from '../node/png.js'
import { writeWhole } from '../node/write-file.js'
import type { ResolvedPage } from '../resolve/page.js'
import { addCommand } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { findPage, findViewports, openSite, splitSite, type SiteOptions } from './site-argument.js'
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
        'svg, png, html (the page written out), text (for the terminal), or json (the svg in a document); default by the ending of -o, else svg',
      ).choices(FORMATS),
      new Option('--viewport <name>', 'at this viewport only; default all, side by side'),
      new Option('-o, --out <file>', 'where to write; default standard output'),
      new Option('--all', 'every page, into the folder named by -o'),
    ],
    run: (given, options) => {
      const { words, site } = splitSite(given, options)
      const resolved = openSite(site, io)
      const viewports = findViewports(resolved.site.viewports, options.viewport)
      const format = formatOf(options)
      if (options.all) return drawAll([...resolved.pages()], viewports, format, options.out, io)
      const [id, ...rest] = words
      if (id === undefined || rest.length > 0)
        throw new UsageError('name one page, or --all: wembra draw visit -o visit.svg')
      const picture = drawPage(findPage(resolved, id), viewports, format, io)
      if (options.out !== undefined) writeWhole(options.out, picture)
      else if (typeof picture === 'string') io.out(picture)
      else throw new UsageError('a PNG is no text; say where to write it: -o visit.png')
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
  if (format === 'html') return `${writtenOut(page, viewports)}\n`
  if (format === 'text')
    return `${viewports.map((viewport) => drawTerminal(measurePage(page, viewport), io.columns)).join('\n\n')}\n`
  const svg = drawWireframe(viewports.map((viewport) => measurePage(page, viewport)))
  if (format === 'json') return json({ wembra: 1, report: 'drawing', page: page.id, viewports, svg })
  return format === 'png' ? svgToPng(svg) : `${svg}\n`
}

/** Written out, a page is laid out by the browser at one width; its CSS holds the settings of one viewport. */
function writtenOut(page: ResolvedPage, viewports: readonly string[]): string {
  const [viewport, ...more] = viewports
  if (viewport === undefined || more.length > 0)
    throw new UsageError(`a page is written out at one viewport: add --viewport ${viewport ?? 'desk'}`)
  return writeOut(measurePage(page, viewport))
}

function drawAll(
  pages: readonly ResolvedPage[],
  viewports: readonly string[],
  format: Format,
  folder: string | undefined,
  io: Io,
): ExitCode {
  if (folder === undefined) throw new UsageError('name a folder for the drawings: wembra draw --all -o drawings')
  const awake = pages.filter((page) => !page.dormant)
  for (const page of awake) {
    const file = join(folder, `${page.id.replaceAll('/', '-')}.${format === 'text' ? 'txt' : format}`)
    mkdirSync(dirname(file), { recursive: true })
    writeWhole(file, drawPage(page, viewports, format, io))
  }
  io.out(`${count(awake.length, 'drawing')} in ${folder}\n`)
  return ExitCode.fine
}

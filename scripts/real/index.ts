// `npm run real`: how well real pages, which others wrote, are read. Nothing of them is kept in the project.
//   npm run real -- fetch [site…]     fetches the packages of the list
//   npm run real -- measure [site…]   what truth.yaml names, in px, for those of which it changed
//   npm run real -- drafts [site…]    what is drafted from what score observed: length, drift, findings
//   npm run real -- score [site…]     what is read, right of all, by site and facet; --wrong lists what is not
import { spawn } from 'node:child_process'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { chromium } from 'playwright-core'
import { readObservation, type Observation } from 'wembra/reality'
import { CHROMIUM, CHROMIUM_ARGS } from '../chromium.js'
import { fetchAll } from './fetch.js'
import { measureReal, VIEWPORTS, writtenOf, type TrueView } from './measure.js'
import { FACETS, markView, type FacetScored } from './score.js'
import { CACHE, realSites, serveReal, type RealSite } from './sites.js'

const WEMBRA = new URL('../../bin/wembra.js', import.meta.url).pathname
const [what = 'score', ...words] = process.argv.slice(2)
const isWrongTold = words.includes('--wrong')
const only = words.filter((word) => !word.startsWith('--'))

/** Runs the command; while it runs the pages are served by this process. */
const wembra = (args: readonly string[]): Promise<string> =>
  new Promise((done, fail) => {
    const child = spawn(process.execPath, [WEMBRA, ...args], { stdio: ['ignore', 'pipe', 'pipe'] })
    const [out, err] = [[] as Buffer[], [] as Buffer[]]
    child.stdout.on('data', (piece: Buffer) => out.push(piece))
    child.stderr.on('data', (piece: Buffer) => err.push(piece))
    child.on('close', (code) => {
      if (code === 0 || code === 1) done(Buffer.concat(out).toString())
      else fail(new Error(`wembra ${args[0]} ended with ${code}: ${Buffer.concat(err).toString()}`))
    })
  })

/** The truth about a site; measured once, for neither its files nor what was written of them change often. */
async function truthOf(site: RealSite): Promise<Record<string, Record<string, TrueView>>> {
  const file = join(CACHE, `truth-${site.id}.json`)
  const written = writtenOf(site.id)
  try {
    const known = JSON.parse(readFileSync(file, 'utf8')) as { written: string; truth: never }
    if (known.written === written) return known.truth
  } catch {
    // It was not measured yet.
  }
  const served = await serveReal(site)
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: [...CHROMIUM_ARGS] })
  const context = await browser.newContext()
  await context.route('**/*', (route) =>
    route.request().url().startsWith('http://127.0.0.1:') ? route.continue() : route.abort(),
  )
  const truth: Record<string, Record<string, TrueView>> = {}
  for (const page of site.pages)
    truth[page] = await measureReal(context, { site: site.id, page, address: served.addressOf(page) })
  await browser.close()
  await served.close()
  mkdirSync(CACHE, { recursive: true })
  writeFileSync(file, JSON.stringify({ written, truth }))
  return truth
}

/** What the command observes of a site's pages, by page and viewport. */
async function observed(site: RealSite): Promise<ReadonlyMap<string, Observation>> {
  const served = await serveReal(site)
  const addresses = site.pages.map((page) => served.addressOf(page))
  const out = await wembra(['observe', ...addresses, '--browser', '--format', 'ndjson'])
  await served.close()
  writeFileSync(join(CACHE, `seen-${site.id}.ndjson`), out)
  const found = new Map<string, Observation>()
  for (const line of out.split('\n').filter(Boolean)) {
    const seen = readObservation(line, site.id)
    const page = site.pages[addresses.indexOf(seen.url)]
    const viewport = VIEWPORTS.find(({ width }) => width === seen.viewport?.width)
    if (seen.report === 'observation' && page !== undefined && viewport) found.set(`${page} ${viewport.name}`, seen)
  }
  return found
}

async function score(): Promise<void> {
  const total = new Map<FacetScored, [right: number, all: number]>()
  console.log(['site'.padEnd(10), ...FACETS.map((facet) => facet.padStart(9))].join(' '))
  for (const site of realSites(only)) {
    const truth = await truthOf(site)
    const seen = await observed(site)
    const counts = new Map<FacetScored, [number, number]>(FACETS.map((facet) => [facet, [0, 0]]))
    const wrong: string[] = []
    for (const page of site.pages)
      for (const { name } of VIEWPORTS) {
        const [view, one] = [truth[page]?.[name], seen.get(`${page} ${name}`)]
        if (!view) continue
        const marks = one ? markView(one, view) : undefined
        for (const facet of FACETS) {
          const mark = marks ? marks[facet] : 'not observed'
          if (mark === undefined) continue
          for (const each of [counts, total]) {
            const [right, all] = each.get(facet) ?? [0, 0]
            each.set(facet, [right + (mark === '' ? 1 : 0), all + 1])
          }
          if (mark !== '') wrong.push(`  ${facet.padEnd(8)} ${page} ${name}: ${mark}`)
        }
      }
    console.log([site.id.padEnd(10), ...FACETS.map((f) => counts.get(f)?.join('/').padStart(9))].join(' '))
    if (isWrongTold) console.log(wrong.join('\n'))
  }
  const share = ([right, all]: readonly [number, number]): string => `${Math.round((right / all) * 1000) / 10} %`
  console.log(['all'.padEnd(10), ...FACETS.map((f) => share(total.get(f) ?? [0, 0]).padStart(9))].join(' '))
}

/** What is drafted from what was observed last: how long, whether it agrees with it, and how much it is said to conflict. */
async function drafts(): Promise<void> {
  console.log(['site'.padEnd(10), 'pages', 'lines', 'a page', 'drift', 'errors', 'warnings', 'notes'].join('  '))
  for (const site of realSites(only)) {
    const [seen, file] = [join(CACHE, `seen-${site.id}.ndjson`), join(CACHE, `${site.id}.site.yaml`)]
    const lines = await wembra(['draft', seen, '-o', file, '--overwrite']).then(
      () => readFileSync(file, 'utf8').split('\n').length - 1,
      (error: Error) => error.message,
    )
    if (typeof lines === 'string') {
      console.log(`${site.id.padEnd(10)}  ${lines}`)
      continue
    }
    const { findings } = JSON.parse(await wembra(['observe', seen, file, '--format', 'json'])) as {
      findings: readonly { message: string; pages: readonly string[] }[]
    }
    const { counts } = JSON.parse(await wembra(['check', file, '--no-fixes', '--format', 'json'])) as {
      counts: Record<string, number>
    }
    const row = [
      site.pages.length,
      lines,
      Math.round(lines / site.pages.length),
      findings.length,
      ...Object.values(counts),
    ]
    console.log([site.id.padEnd(10), ...row.map((n, at) => String(n).padStart(at === 2 ? 6 : 5))].join('  '))
    if (isWrongTold) for (const each of findings) console.log(`  ${each.message} (${each.pages.join(', ')})`)
  }
}

if (what === 'fetch') fetchAll(only)
else if (what === 'measure') for (const site of realSites(only)) await truthOf(site)
else if (what === 'score') await score()
else if (what === 'drafts') await drafts()
else throw new Error(`npm run real -- fetch | measure | score | drafts, not "${what}"`)

// `npm run real`: how well real pages, which others wrote, are read. Nothing of them is kept in the project.
//   npm run real -- fetch [site…]     fetches the packages of the list
//   npm run real -- measure [site…]   what truth.yaml names, in px, for those of which it changed
//   npm run real -- drafts [site…]    what is drafted from what score observed: length, drift, findings
//   npm run real -- record           keeps what was observed of some sites for the tests, with made-up words
//   npm run real -- changes [site…]   changes behind the back of its draft, and how many of them observe reports exactly;
//                                     --change=width of one name only
//   npm run real -- findings [site…]  what check finds in what score observed, checked against what a visitor finds wrong
//   npm run real -- score [site…]     what is read, right of all, by site and facet; --wrong lists what is not
import { spawn } from 'node:child_process'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { chromium, type Browser, type BrowserContext } from 'playwright-core'
import { readObservation, type Observation } from 'wembra/reality'
import { CHROMIUM, CHROMIUM_ARGS } from '../chromium.js'
import { CHANGES, isPossible, scriptOf, type Change } from './changes.js'
import { fetchAll } from './fetch.js'
import { measureReal, VIEWPORTS, writtenOf, type TrueView } from './measure.js'
import { recordReal } from './record.js'
import { FACETS, markView, type FacetScored } from './score.js'
import { CACHE, realSites, serveReal, type RealSite } from './sites.js'
import { TROUBLES, troublesOf, type Trouble, type TroubleKind } from './visitor.js'

const WEMBRA = new URL('../../bin/wembra.js', import.meta.url).pathname
const [what = 'score', ...words] = process.argv.slice(2)
const isWrongTold = words.includes('--wrong')
const only = words.filter((word) => !word.startsWith('--'))
/** Of changes only those of one name: `--change=width`. */
const onlyChange = words.find((word) => word.startsWith('--change='))?.slice('--change='.length)

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

/** The truth about a site: the boxes of its parts. */
const truthOf = (site: RealSite): Promise<Record<string, Record<string, TrueView>>> =>
  measured('truth', site, measureReal)

type Measure<T> = (
  context: BrowserContext,
  at: { site: string; page: string; address: string },
) => Promise<Record<string, T>>

/** What is measured of a site's pages; once, for neither its files nor what was written of them change often. */
async function measured<T>(
  what: string,
  site: RealSite,
  measure: Measure<T>,
): Promise<Record<string, Record<string, T>>> {
  const file = join(CACHE, `${what}-${site.id}.json`)
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
  const truth: Record<string, Record<string, T>> = {}
  for (const page of site.pages)
    truth[page] = await measure(context, { site: site.id, page, address: served.addressOf(page) })
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

/** What is drafted from what was observed last: how long, whether it agrees with it, and how many conflicts it has. */
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

/** Findings in the words of what a visitor meets. */
const MEETS: Readonly<Record<string, TroubleKind>> = {
  overflow: 'overflow',
  'header-covers-content': 'covered',
  'text-unreadable': 'contrast',
  'header-unreadable': 'contrast',
  'headings-out-of-order': 'headings',
  'title-missing': 'headings',
  'title-doubled': 'headings',
  'sidebar-empty': 'emptyRail',
  'content-at-edge': 'glued',
}

/** Of these a finding names the words. */
const OF_WORDS: ReadonlySet<TroubleKind> = new Set(['contrast', 'covered'])

interface FoundDocument {
  readonly findings: readonly {
    readonly rule: string
    readonly message: string
    readonly cases: readonly { readonly page: string; readonly viewport: string }[]
  }[]
}

/** Findings that are true, and what a visitor meets that no finding reports: each once a page and viewport. */
async function findings(): Promise<void> {
  const columns = ['findings', 'true', 'untrue', 'other', 'met', 'told', 'missed']
  console.log(['site'.padEnd(10), ...columns.map((name) => name.padStart(8))].join(' '))
  const sums = columns.map(() => 0)
  for (const site of realSites(only)) {
    const truth = await measured<readonly Trouble[]>('visitor', site, troublesOf)
    const { findings: found } = JSON.parse(
      await wembra(['check', join(CACHE, `seen-${site.id}.ndjson`), '--format', 'json']),
    ) as FoundDocument
    const told = new Set<string>()
    const rows = [found.length, 0, 0, 0, 0, 0, 0]
    const notes: string[] = []
    const bump = (n: number, by = 1): void => void (rows[n] = (rows[n] ?? 0) + by)
    for (const { rule, message, cases } of found) {
      const kind = MEETS[rule]
      const views = cases.map(({ page, viewport }) => ({
        view: `${site.pages.find((each) => page.endsWith(`/${each}`))} ${viewport}`,
      }))
      const met = views.filter(({ view }) => {
        const [page = '', viewport = ''] = splitView(view)
        return truth[page]?.[viewport]?.some(
          (each) => each.kind === kind && (!OF_WORDS.has(kind) || message.includes(each.words.slice(0, 24))),
        )
      })
      for (const { view } of views) told.add(`${kind} ${view}`)
      // A finding that is untrue on most of its views is untrue.
      bump(kind === undefined ? 3 : met.length * 2 > views.length ? 1 : 2)
      if (kind === undefined || met.length * 2 <= views.length)
        notes.push(
          `  ${kind === undefined ? 'other ' : 'untrue'} ${rule}: ${message} (${views
            .map(({ view }) => view)
            .slice(0, 3)
            .join(', ')})`,
        )
    }
    for (const page of site.pages)
      for (const { name } of VIEWPORTS)
        for (const kind of TROUBLES) {
          const met = truth[page]?.[name]?.filter((each) => each.kind === kind) ?? []
          if (met.length === 0) continue
          bump(4)
          if (told.has(`${kind} ${page} ${name}`)) bump(5)
          else {
            bump(6)
            notes.push(
              `  missed ${kind} on ${page} ${name}: ${met
                .slice(0, 3)
                .map(({ words }) => words)
                .join(' | ')}`,
            )
          }
        }
    rows.forEach((n, at) => void (sums[at] = (sums[at] ?? 0) + n))
    console.log([site.id.padEnd(10), ...rows.map((n) => String(n).padStart(8))].join(' '))
    if (isWrongTold && notes.length > 0) console.log(notes.join('\n'))
  }
  console.log(['all'.padEnd(10), ...sums.map((n) => String(n).padStart(8))].join(' '))
}

const splitView = (view: string): readonly string[] => {
  const at = view.lastIndexOf(' ')
  return [view.slice(0, at), view.slice(at + 1)]
}

/** Changes are made on so many pages of a site: the first of the list. */
const PAGES_CHANGED = 3

/** Makes changes of every kind on every site, and counts those that `observe` reports, with nothing else. */
async function changes(): Promise<void> {
  let [exact, all] = [0, 0]
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: [...CHROMIUM_ARGS] })
  for (const [n, site] of realSites().entries()) {
    if (only.length > 0 && !only.includes(site.id)) continue
    const few = { ...site, pages: site.pages.slice(0, PAGES_CHANGED) }
    const file = join(CACHE, `changes-${site.id}.site.yaml`)
    const possible = CHANGES.filter((change) => isPossible(change, site.id, few.pages))
    // A third of the kinds on each site, others on the next.
    const wanted = possible.filter(({ name }, at) =>
      onlyChange === undefined ? (isWrongTold && only.length > 0) || (at + n) % 2 === 0 : name === onlyChange,
    )
    if (wanted.length === 0) continue
    const plain = await serveReal(few)
    await wembra(['draft', ...few.pages.map(plain.addressOf), '--browser', '-o', file, '--overwrite'])
    await plain.close()
    for (const change of wanted) {
      const verdict = await judged(browser, few, change, file)
      if (verdict === undefined) continue
      all += 1
      if (verdict === '') exact += 1
      console.log(`${site.id.padEnd(10)} ${change.name.padEnd(13)} ${verdict === '' ? 'exactly' : verdict}`)
    }
  }
  await browser.close()
  console.log(`${exact} of ${all} told exactly`)
}

/** How a change is reported: empty where exactly; `undefined` where nothing came of it. */
async function judged(browser: Browser, site: RealSite, change: Change, file: string): Promise<string | undefined> {
  const [first = ''] = site.pages
  let changed = 0
  const served = await serveReal(site, (page) =>
    site.pages.includes(page) && (!change.onePage || page === first) ? scriptOf(change, site.id, page) : '',
  )
  try {
    const tab = await browser.newPage({ viewport: VIEWPORTS[0] })
    for (const page of change.onePage ? [first] : site.pages) {
      await tab.goto(served.addressOf(page), { waitUntil: 'load' })
      if ((await tab.evaluate('document.documentElement.dataset.changed')) === 'true') changed += 1
    }
    await tab.close()
    if (changed === 0) return undefined
    const out = await wembra(['observe', ...site.pages.map(served.addressOf), file, '--browser', '--format', 'json'])
    const { findings: told } = JSON.parse(out) as {
      findings: readonly { message: string; pages: readonly string[]; drifts: readonly { property: string }[] }[]
    }
    if (told.length === 0) return 'nothing is told'
    const properties = told.flatMap(({ drifts: d }) => d.map(({ property }) => property))
    const others = properties.filter((each) => !change.told.test(each) && !change.with?.test(each))
    const pages = new Set(told.flatMap((each) => each.pages)).size
    const isTold = properties.some((each) => change.told.test(each))
    const isWhere = pages === changed
    if (isTold && others.length === 0 && isWhere && told.length === 1) return ''
    return `${isTold ? 'told' : 'not told'}, ${told.length} findings on ${pages} of ${changed} pages: ${told.map(({ message }) => message.slice(0, 110)).join(' | ')}`
  } finally {
    await served.close()
  }
}

if (what === 'fetch') fetchAll(only)
else if (what === 'measure') for (const site of realSites(only)) await truthOf(site)
else if (what === 'score') await score()
else if (what === 'drafts') await drafts()
else if (what === 'findings') await findings()
else if (what === 'changes') await changes()
else if (what === 'record')
  recordReal(realSites(only.length > 0 ? only : ['blog', 'business', 'panel', 'mkdocs', 'flask', 'postgres', 'book']))
else throw new Error(`npm run real -- fetch | measure | score | drafts | findings | changes | record, not "${what}"`)

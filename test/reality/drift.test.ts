import { expect } from 'chai'
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { resolveSite, type Patch, type ResolvedSite } from 'wembra'
import { findDrift, readObservation, type DriftFinding, type DriftReport, type Observation } from 'wembra/reality'
import { loadSite } from 'wembra/node'
import { complaints, wembraHere } from '../support/command-line.js'
import { QUILLMERE, startHost, type Host } from '../support/host.js'
import { CHANGED, RECORDED, recorded, recordedLines, asRecorded } from '../support/recorded.js'
import { NOW, siteOf } from '../support/site.js'

const SOME = ['people', 'history', 'research']

describe('real pages against the site file', () => {
  let folder: string
  let site: ResolvedSite
  let seen: Observation[]
  let atDesk: Observation[]

  before(() => {
    folder = mkdtempSync(join(tmpdir(), 'wembra-drift-'))
    site = resolveSite(loadSite(QUILLMERE))
    seen = recorded(RECORDED)
    atDesk = recorded(RECORDED, 'desk')
  })
  after(() => rmSync(folder, { recursive: true, force: true }))

  describe('a host without changes', () => {
    let host: Host
    before(async () => void (host = await startHost()))
    after(() => host.close())

    it('agrees, and looks as it was recorded, on a page of each kind and template', async () => {
      const file = join(folder, 'live.ndjson')
      const sortOf = (id: string): string => `${site.page(id).facts.kind} ${site.page(id).choice.template?.id}`
      const some = [...new Map(site.pageIds.map((id) => [sortOf(id), id])).values()]
      expect(some.length).to.be.within(10, 19)
      // At one viewport: the recorded ones of all pages are checked against the site file at all three below.
      const { code, out, err } = await wembraHere(
        QUILLMERE,
        ...['observe', ...some.map((id) => host.address + String(site.page(id).facts.path)), '--browser'],
        ...['--header', 'cookie: member=1', '--viewport', 'desk', '--save', file],
      )
      expect(complaints(err)).to.equal('')
      expect(out).to.contain(`${some.length} pages agree with the site file, in ${some.length} views`)
      expect(code).to.equal(0)
      const lines = readFileSync(file, 'utf8').trimEnd().split('\n').sort()
      expect(lines).to.have.length(some.length)
      for (const line of lines) expect(recordedLines(RECORDED)).to.include(asRecorded(line, host.address))
    })

    it('agrees without a browser as far as markup tells, from its sitemaps, gzip and all', async () => {
      const { code, out } = await wembraHere(QUILLMERE, 'observe', `${host.address}/sitemap.xml`)
      expect(out).to.contain('52 pages agree with the site file, in 52 views')
      expect(out).to.contain('5 pages of the site file: volunteers, rota, handbook, training and 1 more')
      expect(code).to.equal(0)
    })

    it('sends a header to those alone who were named, and tells of pages that lead elsewhere', async () => {
      const { out } = await wembraHere(QUILLMERE, 'observe', `${host.address}/volunteers`, '--format', 'ndjson')
      const failure = readObservation(out.trim(), 'out')
      expect(failure).to.include({ report: 'observation-failure', code: 'moved' })
    })
  })

  describe('what was observed of it', () => {
    it('agrees on all pages at all viewports', () => {
      expect(seen).to.have.length(3 * site.pageIds.length)
      const report = findDrift(site, seen, { now: NOW })
      expect(report.findings).to.deep.equal([])
      expect(report.strange).to.deep.equal([])
    })

    it('finds one change of the site file after another, and says what would take it back', () => {
      // Each is said in the site file and not on the host: the drift is what was there before.
      const edits: readonly (readonly [Patch, at: string])[] = [
        [[{ op: 'replace', path: '/theme/layout/header/position', value: 'flow' }], '/theme/layout/header/position'],
        [[{ op: 'replace', path: '/theme/layout/spacing/after', value: '40px' }], '/theme/layout/spacing/after'],
        [
          [{ op: 'replace', path: '/templates/volunteers/layout/sidebar/side', value: 'right' }],
          '/templates/volunteers/layout/sidebar/side',
        ],
        [[{ op: 'replace', path: '/theme/layout/sidebar/gap', value: '24px' }], '/theme/layout/sidebar/gap'],
        [
          [{ op: 'replace', path: '/templates/event-view/layout/width/max', value: '900px' }],
          '/templates/event-view/layout/width/max',
        ],
        [
          [{ op: 'add', path: '/pages/press/layout/title', value: { presence: 'hidden' } }],
          '/pages/press/layout/title',
        ],
        [[{ op: 'replace', path: '/pages/press/title', value: 'For the press' }], '/pages/press/title'],
        [[{ op: 'add', path: '/surrounds/bare-header/height', value: '120px' }], '/surrounds/bare-header'],
        [[{ op: 'add', path: '/menus/primary/-', value: { label: 'Jobs', page: 'jobs' } }], '/menus/primary'],
        [
          [{ op: 'replace', path: '/surrounds/small-footer/rows/0/items/0/text', value: 'Quillmere' }],
          '/surrounds/small-footer/rows/0/items/0/text',
        ],
        [[{ op: 'replace', path: '/extensions/shop/enabled', value: false }], '/extensions/shop'],
        [[{ op: 'add', path: '/pages/privacy/template', value: 'story' }], '/pages/privacy/template'],
        [[{ op: 'replace', path: '/pages/visit/body/0/padding', value: '40px 24px' }], '/pages/visit/body/0'],
        [[{ op: 'add', path: '/pages/contact/status', value: 'draft' }], '/pages/contact/status'],
      ]
      for (const [patch, at] of edits) {
        const changed = site.with(patch)
        const { findings } = findDrift(changed, atDesk, { now: NOW })
        const told = findings.map((f) => `${f.at.pointer}: ${f.message}`).join('\n')
        expect(findings, `${at}\n${told}`).to.have.length(1)
        const [finding] = findings as [DriftFinding]
        expect(finding.at.pointer, told).to.satisfy(
          (pointer: string) => at.startsWith(pointer) || pointer.startsWith(at),
        )
        expect(finding.cause, told).not.to.equal(null)
        const back = changed.with(finding.cause?.patch ?? [])
        expect(findDrift(back, atDesk, { now: NOW }).findings, told).to.have.length(0)
      }
    })

    it('shows another thing where the same is seen of a site with other paths, inserts or another front page', () => {
      const changes: readonly Patch[] = [
        [{ op: 'replace', path: '/pages/visit/path', value: '/plan-a-visit' }],
        [{ op: 'replace', path: '/purposes/front', value: 'visit' }],
        [{ op: 'remove', path: '/inserts/0' }],
      ]
      const some = atDesk.filter(({ url }) => /\/(|visit|people|whats-on\/[^/]+)$/.test(url))
      expect(some.length).to.be.within(5, 15)
      // Observations that nobody looked at before are held against a site read anew.
      const anew = resolveSite(loadSite(QUILLMERE))
      for (const patch of changes) {
        const changed = site.with(patch)
        const afresh = anew.with(patch)
        const told = (of: ResolvedSite, each: readonly Observation[]): readonly string[] =>
          findDrift(of, each, { now: NOW }).findings.map(({ key, message }) => `${key}: ${message}`)
        expect(told(changed, some), JSON.stringify(patch)).to.deep.equal(told(afresh, structuredClone(some)))
      }
      expect(findDrift(site, some, { now: NOW }).findings).to.deep.equal([])
    })

    it('names a drift without a cause where no single change explains it', () => {
      const surprise = { kind: 'section', at: '9.', id: 'surprise', presence: 'shown' } as const
      const odd = atDesk.map((o): Observation =>
        o.url.endsWith('/contact')
          ? {
              ...o,
              outline: [...o.outline, { ...surprise, ...(o.parts.content?.box && { box: o.parts.content.box }) }],
            }
          : o,
      )
      const { findings } = findDrift(site, odd, { now: NOW })
      expect(findings.map((f) => f.cause)).to.deep.equal([null])
      expect(findings.map((f) => f.facet)).to.deep.equal(['body'])
      expect(findings[0]?.pages).to.deep.equal(['contact'])
    })

    it('lets a site keep still about drift, on a page or altogether', () => {
      const change: Patch = [{ op: 'replace', path: '/pages/press/title', value: 'For the press' }]
      const allow = { rule: 'drift', where: { page: 'press' }, reason: 'The press office writes its own.' }
      const off = (more: Patch): number =>
        findDrift(site.with([...change, ...more]), atDesk, { now: NOW }).findings.length
      expect(off([])).to.equal(1)
      expect(off([{ op: 'add', path: '/allow/-', value: allow }])).to.equal(0)
      expect(off([{ op: 'add', path: '/severity', value: { drift: 'none' } }])).to.equal(0)
      const noted = findDrift(
        site.with([...change, { op: 'add', path: '/severity', value: { drift: 'note' } }]),
        atDesk,
        { now: NOW },
      )
      expect(noted.findings[0]?.severity).to.equal('note')
    })

    it('does not call estimates drift, and pages it cannot place strange', () => {
      const report = findDrift(site, [...seen, { ...(seen[0] as Observation), url: 'http://127.0.0.1/nowhere' }], {
        now: NOW,
      })
      expect(report.estimates.map((d) => `${d.page} ${d.property}`)).to.include('whats-on body.on-list.height')
      expect(report.strange).to.deep.equal(['http://127.0.0.1/nowhere'])
      expect(report.findings).to.have.length(0)
    })

    it('calls 1 px no drift and 2 px one, and words always', () => {
      const small = siteOf(
        'surrounds: { top: { as: header, height: 96px } }\ntheme: { layout: { header: { use: top } } }',
      )
      const [first] = seen as [Observation]
      const at = (height: number, position = 'static'): DriftReport =>
        findDrift(
          small,
          [
            {
              ...first,
              url: 'https://x.example/visit',
              outline: [],
              headings: [],
              exits: { header: [], footer: [], sidebar: [], body: [] },
              parts: {
                header: {
                  presence: 'shown',
                  by: 'landmark',
                  selector: 'header',
                  position,
                  box: { x: 0, y: 0, width: 1280, height },
                },
              },
            },
          ],
          { now: NOW },
        )
      const properties = (report: DriftReport): string[] =>
        report.findings.flatMap((f) => f.drifts.map((d) => d.property)).filter((p) => p.startsWith('header'))
      expect(properties(at(97))).to.deep.equal([])
      expect(properties(at(98))).to.deep.equal(['header.height'])
      expect(properties(at(96, 'fixed'))).to.deep.equal(['header.position'])
    })

    it('is written down where a header or footer measures otherwise, and nothing else is touched', async () => {
      const copy = join(folder, 'copy')
      cpSync(QUILLMERE, copy, { recursive: true })
      const file = join(copy, 'quillmere.site.yaml')
      const before = readFileSync(file, 'utf8')
      const undo = join(folder, 'undo.json')
      writeFileSync(join(folder, 'seen.ndjson'), `${recordedLines(RECORDED).join('\n')}\n`)
      const words = ['observe', join(folder, 'seen.ndjson'), '--apply', '--undo', undo]
      const { code, out } = await wembraHere(copy, ...words)
      expect(code).to.equal(0)
      expect(out).to.contain('main-header: desk 133 px, tablet 133 px, phone 81 px on 44 of 44 pages')
      const after = readFileSync(file, 'utf8')
      // The border of 1 px that the custom CSS draws under every header is in the real heights.
      const added = after.split('\n').filter((line) => !before.split('\n').includes(line))
      expect(added.join('\n'))
        .to.match(/measured:/)
        .and.match(/133px/)
      for (const line of before.split('\n')) expect(after).to.contain(line)
      const again = await wembraHere(copy, 'observe', join(folder, 'seen.ndjson'), '--format', 'json')
      expect(JSON.parse(again.out)).to.deep.include({ measured: [], findings: [] })
      expect((await wembraHere(copy, 'diff', '--patch', undo, '--apply')).code).to.equal(0)
      expect(readFileSync(file, 'utf8')).to.equal(before)
    })
  })

  describe('a host with all twelve changes', () => {
    let changed: Observation[]
    let report: DriftReport
    before(() => {
      changed = recorded(CHANGED)
      report = findDrift(site, changed, { now: NOW })
    })

    it('looks as it was recorded', async () => {
      const host = await startHost({ changes: Array.from({ length: 12 }, (_, n) => n + 1) })
      const addresses = SOME.map((id) => host.address + String(site.page(id).facts.path))
      const { out } = await wembraHere(
        QUILLMERE,
        ...['observe', ...addresses, '--browser', '--viewport', 'desk', '--format', 'ndjson'],
      ).finally(() => host.close())
      const lines = out.trimEnd().split('\n')
      expect(lines).to.have.length(SOME.length)
      for (const line of lines) expect(recordedLines(CHANGED)).to.include(asRecorded(line, host.address))
    })

    const pagesThat = (test: (id: string) => boolean): string[] => site.pageIds.filter(test).sort()
    const uses =
      (part: 'header' | 'footer', surround: string) =>
      (id: string): boolean =>
        site.page(id).at('desk').value(`${part}.use`) === surround &&
        site.page(id).at('desk').presence(`${part}.presence`) === 'shown'
    const isBuilt = (id: string): boolean =>
      site.page(id).data.built?.with === 'stave' && ['page', 'listing', 'event'].includes(site.page(id).facts.kind)

    /** Pointer of the cause, facet and pages of each change, worked out from the site and not from what was found. */
    const expected = (): Record<string, { facet: string; pages: string[] }> => ({
      '/theme/layout/header/position': {
        facet: 'header',
        pages: pagesThat((id) =>
          ['desk', 'tablet', 'phone'].some(
            (v) =>
              site.page(id).at(v).decidingPointer('header.position') === '/theme/layout/header/position' &&
              site.page(id).at(v).presence('header.presence') === 'shown',
          ),
        ),
      },
      '/surrounds/main-header': { facet: 'header', pages: pagesThat(uses('header', 'main-header')) },
      '/menus/small-print': {
        facet: 'footer',
        pages: pagesThat(
          (id) =>
            id !== 'accessibility' &&
            (uses('footer', 'site-footer')(id) || uses('footer', 'small-footer')(id)) &&
            !isBuilt(id),
        ),
      },
      '/templates/event-view/layout/width/max': {
        facet: 'width',
        pages: pagesThat((id) => site.page(id).choice.template?.id === 'event-view'),
      },
      '/pages/people/layout/title/presence': { facet: 'title', pages: ['people'] },
      '/pages/history/template': { facet: 'width', pages: ['history'] },
      '/surrounds/site-footer/rows/1/items/0/text': {
        facet: 'footer',
        pages: pagesThat((id) => uses('footer', 'site-footer')(id) && !isBuilt(id)),
      },
      '/builders/stave/layout/footer/presence': {
        facet: 'footer',
        pages: pagesThat((id) => isBuilt(id) && site.page(id).at('desk').presence('footer.presence') === 'shown'),
      },
      '/assign/1': { facet: 'footer', pages: pagesThat((id) => site.page(id).facts.kind === 'product') },
      '/pages/research/layout/findable/web': { facet: 'findable', pages: ['research'] },
      '/kinds/article/layout/byline/presence': {
        facet: 'byline',
        pages: pagesThat((id) => site.page(id).facts.kind === 'article'),
      },
      '/pages/telescopes/body/0': { facet: 'body', pages: ['telescopes'] },
    })

    it('finds each with its facet, pages and cause, and nothing else', () => {
      const wanted = expected()
      const causes = report.findings.map((f) => causeOf(f, Object.keys(wanted)))
      expect(causes.slice().sort()).to.deep.equal(Object.keys(wanted).sort())
      for (const finding of report.findings) {
        const [, change] =
          Object.entries(wanted).find(([pointer]) => pointer === causeOf(finding, Object.keys(wanted))) ?? []
        expect(finding.facet, finding.key).to.equal(change?.facet)
        expect(
          finding.drifts.filter((d) => d.property.startsWith(change?.facet ?? '')).map((d) => d.page),
          finding.key,
        ).to.satisfy(
          (pages: string[]) => new Set(pages).size > 0 && pages.every((page) => change?.pages.includes(page)),
        )
        expect(
          finding.pages.filter((page) => !change?.pages.includes(page)),
          finding.key,
        ).to.deep.equal([])
      }
    })

    it('sees the big ones on every page that they reach', () => {
      const wanted = expected()
      for (const pointer of [
        '/theme/layout/header/position',
        '/kinds/article/layout/byline/presence',
        '/builders/stave/layout/footer/presence',
      ]) {
        const finding = report.findings.find(
          (f) => f.cause?.patch.some((operation) => operation.path.startsWith(pointer)) || f.at.pointer === pointer,
        )
        expect([...(finding?.pages ?? [])].sort(), pointer).to.deep.equal(wanted[pointer]?.pages)
      }
    })

    it('tells both values and who decided the expected one', () => {
      const title = report.findings.find((f) => f.facet === 'title')
      expect(title?.drifts[0]).to.include({
        page: 'people',
        property: 'title.presence',
        expected: 'shown',
        seen: 'hidden',
      })
      const width = report.findings.find((f) => f.at.pointer.startsWith('/templates/event-view'))
      expect(width?.numbers).to.deep.equal({ expected: 1140, seen: 1000 })
      expect(width?.drifts.find((d) => d.property === 'width.container')?.decided).to.deep.include({
        layer: 'template',
      })
    })

    it('gives SARIF for a nightly job, from the saved observations', async () => {
      const ofSome = recordedLines(CHANGED).filter((line) => SOME.some((id) => line.includes(`"page-${id}"`)))
      expect(ofSome).to.have.length(SOME.length)
      writeFileSync(join(folder, 'changed.ndjson'), ofSome.join('\n'))
      const { out, code } = await wembraHere(QUILLMERE, 'observe', join(folder, 'changed.ndjson'), '--format', 'sarif')
      const { runs } = JSON.parse(out) as { runs: { results: { ruleId: string; locations: unknown[] }[] }[] }
      expect(runs[0]?.results.map((result) => result.ruleId)).to.include('drift')
      // Each of these pages was changed in a way of its own, and the header of all three was.
      expect(runs[0]?.results.length).to.be.at.least(4)
      expect(code).to.equal(1)
    })

    const causeOf = (finding: DriftFinding, pointers: readonly string[]): string =>
      pointers.find(
        (pointer) =>
          finding.cause?.patch.some(
            ({ path }) => `${path}/`.startsWith(`${pointer}/`) || `${pointer}/`.startsWith(`${path}/`),
          ) || finding.at.pointer === pointer,
      ) ?? finding.at.pointer
  })
})

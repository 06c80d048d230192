import { h, s } from 'hastscript'
import { toHtml } from 'hast-util-to-html'
import type { Element } from 'hast'
import { SEVERITIES, type Finding, type PlaceOnPage, type Severity } from '../../inspect/rule.js'
import { measurePage } from '../../measure/page.js'
import type { ResolvedSite } from '../../resolve/resolve-site.js'
import { placesOf } from '../finding-places.js'
import { previewSvg } from '../preview.js'
import { wireframeTree } from '../wireframe.js'
import { countOf } from '../count.js'
import { placeOf } from './place.js'

/** Past so many pages a report draws no more of them, to stay readable. */
const MOST_DRAWINGS = 60

/** What a real page shows around the place of a finding. */
export interface PlacePicture {
  /** A data address. */
  readonly source: string
  readonly viewport: string
  /** What of the page is in the picture, and the place, in px from the page's top left. */
  readonly view: PlaceOnPage['box']
  readonly mark: PlaceOnPage['box']
}

const TITLES: Readonly<Record<Severity, string>> = { error: 'Errors', warning: 'Warnings', note: 'Notes' }

/**
 * Findings as one self-contained HTML page, with wireframes of the pages concerned and filters that need no script.
 */
export function findingsHtml(
  resolved: ResolvedSite,
  findings: readonly Finding[],
  pictures?: ReadonlyMap<string, PlacePicture>,
): string {
  const { name } = resolved.site.data.site
  const count = (severity: Severity): number => findings.filter((f) => f.severity === severity).length
  const pages = pictures ? [] : concerned(resolved, findings)
  const previewed = pictures ? new Map<string, Element>() : previewsOf(resolved, findings)
  const root = h('html', { lang: 'en' }, [
    h('head', [
      h('meta', { charset: 'utf-8' }),
      h('meta', { name: 'viewport', content: 'width=device-width, initial-scale=1' }),
      h('meta', {
        httpEquiv: 'Content-Security-Policy',
        content: "default-src 'none'; style-src 'unsafe-inline'; img-src data:",
      }),
      h('title', `${name}: layout conflicts`),
      h('style', STYLE + facetFilters(findings)),
    ]),
    h('body', [
      h('header', [
        h('h1', `${name}: layout conflicts`),
        h('p', summary(findings, resolved.pageIds.length)),
        findings.length === 0 ? '' : filters(findings, count),
      ]),
      h('main', [
        ...SEVERITIES.filter((severity) => count(severity) > 0).map((severity) =>
          h('section', { className: ['group', severity] }, [
            h('h2', `${TITLES[severity]} (${count(severity)})`),
            ...findings
              .filter((f) => f.severity === severity)
              .map((f) => findingOf(f, pages, pictures ? realPicture(pictures.get(f.key), f) : previewed.get(f.key))),
          ]),
        ),
        ...(pages.length === 0 ? [] : [h('h2', 'The pages concerned'), ...pages.map((id) => drawing(resolved, id))]),
      ]),
    ]),
  ])
  return `${toHtml([{ type: 'doctype' }, root])}\n`
}

function summary(findings: readonly Finding[], pages: number): string {
  if (findings.length === 0) return `No conflicts found on ${countOf(pages, 'page')}.`
  const touched = new Set(findings.flatMap((f) => f.pages)).size
  return `${countOf(findings.length, 'finding')} on ${touched} of ${countOf(pages, 'page')}, most harmful first.`
}

const facetsOf = (findings: readonly Finding[]): readonly string[] => [...new Set(findings.map((f) => f.facet))].sort()

function filters(findings: readonly Finding[], count: (severity: Severity) => number): Element {
  const box = (id: string, label: string): Element =>
    h('label', [h('input', { type: 'checkbox', id: `show-${id}`, checked: true }), ` ${label}`])
  return h('form', { ariaLabel: 'Filters', className: ['filters'] }, [
    h('fieldset', [
      h('legend', 'Severity'),
      ...SEVERITIES.filter((s) => count(s) > 0).map((s) => box(s, `${TITLES[s]} ${count(s)}`)),
    ]),
    h('fieldset', [h('legend', 'Facet'), ...facetsOf(findings).map((facet) => box(`of-${facet}`, facet))]),
  ])
}

/** A finding whose facet's box is not ticked is hidden, by CSS alone. */
const facetFilters = (findings: readonly Finding[]): string =>
  facetsOf(findings)
    .map((facet) => `\nbody:has(#show-of-${facet}:not(:checked)) .of-${facet}{display:none}`)
    .join('')

function findingOf(finding: Finding, drawn: readonly string[], picture: Element | undefined): Element {
  const { at, rule, facet, severity, message, fixes, advice, pages, viewports, numbers, related } = finding
  const certain = fixes.find((m) => !m.choice)
  const choices = fixes.filter((m) => m.choice)
  return h('article', { className: ['finding', severity, `of-${facet}`] }, [
    h('h3', [h('code', rule), ' ', message]),
    h('p', { className: ['at'] }, [h('code', placeOf(at))]),
    h('p', certain ? [h('strong', 'Fix: '), certain.title] : [h('strong', 'To do: '), advice]),
    ...(choices.length > 0
      ? [
          h('p', h('strong', 'Choices:')),
          h(
            'ul',
            choices.map((choice) => h('li', choice.title)),
          ),
        ]
      : []),
    ...(Object.keys(numbers).length > 0
      ? [
          h(
            'dl',
            Object.entries(numbers).flatMap(([name, n]) => [h('dt', name), h('dd', String(n))]),
          ),
        ]
      : []),
    ...(pages.length > 0
      ? [
          h('p', { className: ['pages'] }, [
            viewports.length > 0 ? `At ${viewports.join(', ')}: ` : '',
            ...pages.flatMap((id, n) => [
              n > 0 ? ', ' : '',
              drawn.includes(id) ? h('a', { href: `#page-${id}` }, id) : id,
            ]),
          ]),
        ]
      : []),
    ...(picture ? [picture] : []),
    ...(related.length > 0
      ? [
          h(
            'ul',
            { className: ['related'] },
            related.map((place) => h('li', [h('code', placeOf(place)), ` ${place.because}`])),
          ),
        ]
      : []),
  ])
}

/** Findings on pages of the site, each with the place on a preview of one of them. */
function previewsOf(resolved: ResolvedSite, findings: readonly Finding[]): ReadonlyMap<string, Element> {
  const shown = findings.filter(({ cases }) => cases.length > 0).slice(0, MOST_PREVIEWS)
  return new Map(
    shown.flatMap((finding) => {
      const preview = previewOf(resolved, finding)
      return preview ? [[finding.key, preview] as const] : []
    }),
  )
}

/** Past so many findings a report shows no more of them on their pages, to stay light. */
const MOST_PREVIEWS = 120
/** Px above and below a place that are shown with it, and most px of a page in a report. */
const [AROUND, MOST_PX] = [160, 1400]

/** The top of a finding's first page, down to the place. */
function previewOf(resolved: ResolvedSite, finding: Finding): Element | undefined {
  const [first] = finding.cases
  if (!first || !resolved.site.pageData(first.page) || resolved.page(first.page).dormant) return undefined
  const measure = measurePage(resolved.page(first.page), first.viewport)
  const areas = placesOf(measure, finding)
  if (areas.length === 0) return undefined
  const { width, height } = measure.viewport
  const lowest = Math.max(...areas.map((area) => area.y + Math.min(area.height, height)))
  const tall = Math.round(Math.min(MOST_PX, Math.max(height / 2, lowest + AROUND)))
  const source = `data:image/svg+xml,${encodeURIComponent(previewSvg(measure, { areas, height: tall }))}`
  return h('figure', { className: ['preview'] }, [
    h('img', {
      src: source,
      width,
      height: tall,
      loading: 'lazy',
      alt: `${first.page} at ${first.viewport}: ${finding.message}`,
    }),
    h('figcaption', `${first.page} at ${first.viewport}`),
  ])
}

/** A picture of a real page with the place of a finding marked. */
function realPicture(picture: PlacePicture | undefined, { message }: Finding): Element | undefined {
  if (!picture) return undefined
  const { source, view, mark, viewport } = picture
  const { x, y, width, height } = view
  return h('figure', [
    s('svg', { viewBox: `${x} ${y} ${width} ${height}`, width, height, role: 'img', ariaLabel: message }, [
      s('image', { href: source, x, y, width, height }),
      s('rect', {
        ...{ x: mark.x, y: mark.y, width: Math.max(2, mark.width), height: Math.max(2, mark.height) },
        className: ['mark'],
      }),
    ]),
    h('figcaption', `at ${viewport}`),
  ])
}

/** The pages with an error or warning, in the order of the site. */
function concerned(resolved: ResolvedSite, findings: readonly Finding[]): readonly string[] {
  const wanted = new Set(findings.filter((f) => f.severity !== 'note').flatMap((f) => f.pages))
  return resolved.pageIds.filter((id) => wanted.has(id) && !resolved.page(id).dormant).slice(0, MOST_DRAWINGS)
}

function drawing(resolved: ResolvedSite, id: string): Element {
  const page = resolved.page(id)
  const measures = resolved.site.viewports.map(({ name }) => measurePage(page, name))
  return h('details', { id: `page-${id}` }, [
    h('summary', `${page.data.title} (${id}, ${page.facts.path})`),
    wireframeTree(measures, { heading: false, idPrefix: `${id}-` }),
  ])
}

const STYLE = `
:root{color-scheme:light dark;--paper:light-dark(#fbfaf7,#14171d);--ink:light-dark(#1b2230,#e4e7ec);--faint:light-dark(#5a6472,#a3adba);--line:light-dark(#d5d9df,#353c47);--error:light-dark(#a3160f,#ff8f85);--warning:light-dark(#7a4b00,#f2c46d);--note:light-dark(#0a5a73,#7fd1e0)}
*{box-sizing:border-box}
body{margin:0;font:16px/1.5 system-ui,sans-serif;background:var(--paper);color:var(--ink)}
header,main{max-width:75rem;margin:0 auto;padding:1.5rem}
h1{font-size:1.75rem;margin:0}h2{font-size:1.25rem;margin:2rem 0 .5rem}h3{font-size:1rem;margin:0}
.filters{display:flex;flex-wrap:wrap;gap:1rem}fieldset{border:1px solid var(--line);border-radius:.4rem;display:flex;flex-wrap:wrap;gap:.25rem 1rem}
.finding{border-left:.3rem solid var(--line);padding:.5rem 1rem;margin:.75rem 0}
.finding.error{border-color:var(--error)}.finding.warning{border-color:var(--warning)}.finding.note{border-color:var(--note)}
.error>h3>code{color:var(--error)}.warning>h3>code{color:var(--warning)}.note>h3>code{color:var(--note)}
.finding p,.finding ul{margin:.25rem 0}.at,.pages,.related{color:var(--faint);font-size:.9rem}
a{color:inherit}code{font-family:ui-monospace,monospace;font-size:.9em}
dl{display:flex;flex-wrap:wrap;gap:0 1.5rem;margin:.25rem 0}dt{color:var(--faint)}dt:after{content:":"}dd{margin:0 0 0 -1.2rem;font-weight:600}
details{border:1px solid var(--line);border-radius:.4rem;margin:.5rem 0;padding:.5rem 1rem}summary{cursor:pointer}
details svg,figure svg{max-width:100%;height:auto}figure{margin:.5rem 0}figure svg{border:1px solid var(--line);background:#fff;max-height:26rem;width:auto}figcaption{color:var(--faint);font-size:.9rem}.mark{fill:none;stroke:#c2185b;stroke-width:3;vector-effect:non-scaling-stroke;outline:2px solid #fff}figure.preview img{max-width:min(100%,44rem);height:auto;border:1px solid var(--line);background:#fff}details:target{outline:3px solid var(--note)}
body:has(#show-error:not(:checked)) .error,body:has(#show-warning:not(:checked)) .warning,body:has(#show-note:not(:checked)) .note{display:none}
`

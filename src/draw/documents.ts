import type { ImportedSite } from '../reality/import-site.js'
import type { Draft } from '../reality/draft.js'
import type { ExplainedView } from '../reality/explain-parts.js'
import type { DriftReport } from '../reality/drift.js'
import type { MeasuredSurround } from '../reality/measured.js'
import type { Groups } from '../change/groups.js'
import type { Goal, Ways } from '../change/ways.js'
import type { SharedEdit } from '../change/copy-instead.js'
import type { SiteDiff } from '../change/diff.js'
import type { Unpacking } from '../change/unpack.js'
import type { Patch } from '../model/patch.js'
import type { NeededStyle } from '../change/style-out.js'
import type { Uses } from '../change/uses.js'
import { catalogOf, type SharedComparison } from '../change/catalog.js'
import { aboutPage, pageColumn, type PageColumn } from '../inspect/about-page.js'
import { heightLadder, widthLadder } from '../measure/ladders.js'
import type { Finding, Rule, Severity } from '../inspect/rule.js'
import type {
  AppliedDocument,
  CatalogDocument,
  ChainDocument,
  ChecksDocument,
  ComparisonDocument,
  CssDocument,
  DiffDocument,
  DraftDocument,
  DriftDocument,
  PartsDocument,
  FindingsDocument,
  FixDocument,
  GroupsDocument,
  ImportDocument,
  LedgerDocument,
  PageDocument,
  RulesDocument,
  TableDocument,
  UnpackingDocument,
  UsesDocument,
  WaysDocument,
} from './document-types.js'
import { facetsInPx, rounded } from '../measure/facets.js'
import type { Json } from '../model/json.js'
import { measurePage } from '../measure/page.js'
import type { PageMeasure } from '../measure/page-measure.js'
import type { Box, LedgerEntry } from '../measure/box.js'
import type { PropertyPath } from '../model/facets.js'
import type { ChainEntry, ResolvedPage, ViewportChoice } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

const head = <R extends string>(report: R) => ({ wembra: 1, report }) as const

const outBox = ({ id, of, x, y, width, height, certainty }: Box) => ({
  ...{ id, of, x: rounded(x), y: rounded(y), width: rounded(width), height: rounded(height), certainty },
})

const templateOf = ({ choice }: ResolvedPage) => ({
  id: choice.template?.id ?? null,
  because: choice.because,
})

/**
 * The conflicts.
 *
 * @example
 * findingsDocument(resolved, inspect(resolved)).counts // => { error: 1, warning: 0, note: 0 }
 */
export function findingsDocument(resolved: ResolvedSite, findings: readonly Finding[]): FindingsDocument {
  const count = (severity: Severity): number => findings.filter((f) => f.severity === severity).length
  return {
    ...head('findings'),
    site: resolved.site.data.site.name,
    counts: { error: count('error'), warning: count('warning'), note: count('note') },
    findings: findings.map(({ advice: _advice, ...finding }) => finding),
  }
}

/** The conflicts of several sites. */
export const checksDocument = (checks: readonly FindingsDocument[]): ChecksDocument => ({ ...head('checks'), checks })

/** Where real pages are not what was worked out; `measured` are headers and footers of another height. */
export function driftDocument(
  resolved: ResolvedSite,
  report: DriftReport,
  measured: readonly MeasuredSurround[],
): DriftDocument {
  const { findings, ...rest } = report
  return {
    ...head('drift'),
    site: resolved.site.data.site.name,
    ...rest,
    measured,
    findings: findings.map(({ advice: _advice, ...finding }) => finding),
  }
}

/** Why each element was taken for a part of its page. */
export const partsDocument = (views: readonly ExplainedView[]): PartsDocument => ({ ...head('parts'), views })

/** A site file that was made from an export, and what of the export it does not set. */
export const importDocument = (
  { document: _document, ...report }: ImportedSite,
  file: string | null,
  text: string,
): ImportDocument => ({
  ...head('import'),
  file,
  ...(file === null && { text }),
  ...report,
})

/** A site file that was drafted from real pages. */
export const draftDocument = ({ text: _text, ...report }: Draft, file: string | null, text: string): DraftDocument => ({
  ...head('draft'),
  file,
  ...(file === null && { text }),
  ...report,
})

/** Pages that are really the same, and what could be set once. */
export const groupsDocument = (groups: Groups): GroupsDocument => ({ ...head('groups'), ...groups })

/** The ways to give pages a layout. */
export const waysDocument = (pages: readonly string[], goals: readonly Goal[], ways: Ways): WaysDocument => ({
  ...head('ways'),
  pages,
  goals,
  ...ways,
})

/** What a change changes; `shared` are surrounds that it edits for several pages. */
export const diffDocument = (
  diff: SiteDiff,
  shared: readonly SharedEdit[],
  patch: Patch | undefined,
): DiffDocument => ({
  ...head('diff'),
  ...diff,
  shared,
  ...(patch && { patch }),
})

/** What pages need in exact px, and the style sheet that sets it. */
export const cssDocument = (styles: readonly NeededStyle[], css: string): CssDocument => ({
  ...head('css'),
  styles,
  css,
})

/** What was fixed, and what is left. */
export function fixDocument(report: Omit<FixDocument, 'wembra' | 'report'>): FixDocument {
  const { written, refused, left, diffs, dryRun, undo } = report
  return { ...head('fix'), dryRun, written, refused, left, diffs, undo }
}

/** A change that was written into files, and the patch that takes it back. */
export const appliedDocument = (title: string, files: readonly string[], undo: Patch): AppliedDocument => ({
  ...head('applied'),
  ...{ title, files, undo },
})

/** What taking a pack in would do, or did. */
export const unpackingDocument = (unpacking: Unpacking, written: boolean, undo: Patch): UnpackingDocument => ({
  ...head('unpacking'),
  written,
  ...{ entries: unpacking.entries, viewports: unpacking.viewports, missing: unpacking.missing },
  ...{ isReady: unpacking.isReady, patch: unpacking.patch, undo },
  files: [...unpacking.texts.keys(), ...unpacking.pictures.keys()],
  changes: unpacking.changes ?? null,
})

/** What is looked for, and when it holds. */
export function rulesDocument(rules: readonly Rule[]): RulesDocument {
  return {
    ...head('rules'),
    rules: rules.map(
      ({ id, severity, facet, scope, summary, matters, holds, numbers, worst = 'largest', advice, example }) => ({
        ...{ id, severity, facet, scope, summary, matters, holds, numbers, worst, advice, example },
      }),
    ),
  }
}

const outView = (measure: PageMeasure) => ({
  viewport: measure.viewport.name,
  width: measure.viewport.width,
  height: measure.viewport.height,
  facets: facetsInPx(measure),
  boxes: measure.boxes.map(outBox),
})

/** What a page gets, and where its boxes are, at each viewport. */
export function pageDocument(
  resolved: ResolvedSite,
  page: ResolvedPage,
  viewports: readonly ViewportChoice[],
): PageDocument {
  const { template } = page.choice
  return {
    ...head('page'),
    page: page.id,
    template: { ...templateOf(page), arrange: template?.arrange ?? null },
    ...(page.dormant ? { dormant: true as const } : { about: aboutPage(resolved, page.id) }),
    views: page.dormant ? [] : viewports.map((viewport) => outView(measurePage(page, viewport))),
  }
}

/** A box at a viewport, whose ledger is shown. */
export interface BoxLedger {
  readonly viewport: string
  readonly box: Box
  readonly measure: PageMeasure
}

/** How boxes of a page get their places and sizes: the steps add up to `y`, to `width` and `x`, and to heights of bars. */
export function ledgerDocument(page: ResolvedPage, ledgers: readonly BoxLedger[]): LedgerDocument {
  const placed = <S extends LedgerEntry>(steps: readonly S[]) =>
    steps.map((step) => ({
      ...step,
      px: rounded(step.px),
      at: step.pointer === undefined ? null : page.site.locate(step.pointer),
    }))
  const views = ledgers.map(({ viewport, box, measure }) => ({
    viewport,
    box: outBox(box),
    ledger: placed(box.ledger),
    width: placed(widthLadder(measure, box.id).map((step) => ({ ...step, x: rounded(step.x) }))),
    height: placed(heightLadder(measure, box.id)),
  }))
  return { ...head('ledger'), page: page.id, views }
}

/** Who decided a property (or, with `template`, the template). */
export function chainDocument(
  page: ResolvedPage,
  property: PropertyPath | 'template',
  viewport: string,
): ChainDocument {
  const isTemplate = property === 'template'
  const chain: readonly ChainEntry[] = isTemplate ? page.templateChain : page.at(viewport).chain(property)
  const value: Json = isTemplate ? (page.choice.template?.id ?? null) : page.at(viewport).value(property)
  return {
    ...head('chain'),
    page: page.id,
    property,
    viewport,
    value,
    chain: chain.map(({ pointer: _pointer, ...entry }) => entry),
  }
}

/** What of each page a table holds beside its facets. */
export interface TableColumns {
  /** Facts that are no facets. */
  readonly columns?: readonly PageColumn[]
  /** Properties whose deciding layer is told. */
  readonly layersOf?: readonly PropertyPath[]
}

/** Every page at every viewport. */
export function tableDocument(
  resolved: ResolvedSite,
  pages: Iterable<ResolvedPage>,
  viewports: readonly string[],
  { columns, layersOf }: TableColumns = {},
): TableDocument {
  const rows = [...pages].flatMap((page) =>
    page.dormant
      ? []
      : viewports.map((viewport) => ({
          page: page.id,
          viewport,
          template: templateOf(page),
          facets: facetsInPx(measurePage(page, viewport)),
          ...(columns && {
            columns: Object.fromEntries(columns.map((each) => [each, pageColumn(resolved, page, viewport, each)])),
          }),
          ...(layersOf && {
            layers: Object.fromEntries(layersOf.map((path) => [path, layerOf(page, viewport, path)])),
          }),
        })),
  )
  return { ...head('table'), rows }
}

/** The layer that decides a property. */
const layerOf = (page: ResolvedPage, viewport: string, path: PropertyPath): string =>
  page.at(viewport).decider(path)?.layer ?? 'baseline'

/** All templates and surrounds, with what they print and who gets them. */
export const catalogDocument = (resolved: ResolvedSite): CatalogDocument => ({
  ...head('catalog'),
  site: resolved.site.data.site.name,
  ...catalogOf(resolved),
})

/** Two templates or two surrounds side by side. */
export const comparisonDocument = (comparison: SharedComparison): ComparisonDocument => ({
  ...head('comparison'),
  ...comparison,
})

/** Who uses a shared thing, and who would change with it. */
export function usesDocument({ kind, id, at, ...uses }: Uses): UsesDocument {
  return { ...head('uses'), of: { kind, id, at }, ...uses }
}

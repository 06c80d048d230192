import type { Groups } from '../change/groups.js'
import type { Goal, Ways } from '../change/ways.js'
import type { SharedEdit } from '../change/copy-instead.js'
import type { AppliedFix } from '../change/fix.js'
import type { SiteDiff } from '../change/diff.js'
import type { NeededStyle } from '../change/style-out.js'
import type { MissingReference, UnpackedEntry } from '../change/unpack.js'
import type { Uses } from '../change/uses.js'
import type { Catalog, SharedComparison } from '../change/catalog.js'
import type { AboutPage, PageFact } from '../inspect/about-page.js'
import type { Step } from '../inspect/steps.js'
import type { WidthStep } from '../measure/ladders.js'
import type { Finding, RuleWords, Severity } from '../inspect/rule.js'
import type { Box, LedgerEntry } from '../measure/box.js'
import type { Json, JsonObject } from '../model/json.js'
import type { Patch } from '../model/patch.js'
import type { SourcePlace } from '../model/problem.js'
import type { ArrangeEntry } from '../model/site-data.js'
import type { Draft } from '../reality/draft.js'
import type { DriftReport } from '../reality/drift.js'
import type { ExplainedView } from '../reality/explain-parts.js'
import type { ImportedSite } from '../reality/import-site.js'
import type { MeasuredSurround } from '../reality/measured.js'
import type { ChainStep } from '../resolve/page.js'

/**
 * What `--format json` prints; each begins with the format's version and its report's name, and is part of the contract
 * (design, section 9). Of these types `npm run schema` makes docs/reports.schema.json.
 */
interface Report<Name extends string> {
  /** The version of the format. */
  readonly wembra: 1
  readonly report: Name
}

/** A finding without the advice of its rule, which `wembra rules` shows. */
export type ReportedFinding = Omit<Finding, 'advice'>

/** The conflicts: `check`. */
export interface FindingsDocument extends Report<'findings'> {
  /** The site's name. */
  readonly site: string
  readonly counts: Readonly<Record<Severity, number>>
  /** Most harmful first. */
  readonly findings: readonly ReportedFinding[]
  /** With `--by step`: the steps of the work, each with its findings' keys, first things first. */
  readonly steps?: readonly {
    readonly step: Step
    readonly findings: readonly { readonly key: string; readonly vanish: readonly string[] }[]
    /** What nobody has decided yet. */
    readonly open: readonly string[]
  }[]
}

/** The conflicts of several sites: `check a b`. */
export interface ChecksDocument extends Report<'checks'> {
  readonly checks: readonly FindingsDocument[]
}

/** Where real pages are not what was worked out: `observe` beside a site. */
export interface DriftDocument extends Report<'drift'>, Omit<DriftReport, 'findings'> {
  readonly site: string
  /** Headers and footers of another height. */
  readonly measured: readonly MeasuredSurround[]
  readonly findings: readonly ReportedFinding[]
}

/** Why elements were taken for parts of their pages: `observe --explain`. */
export interface PartsDocument extends Report<'parts'> {
  readonly views: readonly ExplainedView[]
}

/** A site file that was made, where it was written, or its text where it was not. */
interface MadeFile {
  readonly file: string | null
  readonly text?: string
}

/** A site file that was made from an export, and what of the export it does not set: `import`. */
export interface ImportDocument extends Report<'import'>, MadeFile, Omit<ImportedSite, 'document'> {}

/** A site file that was drafted from real pages: `draft`. */
export interface DraftDocument extends Report<'draft'>, MadeFile, Omit<Draft, 'text'> {}

/** Pages that are really the same, and what could be set once: `groups`. */
export interface GroupsDocument extends Report<'groups'>, Groups {}

/** The ways to give pages a layout: `how`. */
export interface WaysDocument extends Report<'ways'>, Ways {
  readonly pages: readonly string[]
  readonly goals: readonly Goal[]
}

/** What a change changes: `diff`. */
export interface DiffDocument extends Report<'diff'>, SiteDiff {
  /** Surrounds that it edits for several pages. */
  readonly shared: readonly SharedEdit[]
  readonly patch?: Patch
}

/** What pages need in exact px, and the style sheet that sets it: `css`. */
export interface CssDocument extends Report<'css'> {
  readonly styles: readonly NeededStyle[]
  readonly css: string
}

/** What was fixed, and what is left: `fix`. */
export interface FixDocument extends Report<'fix'> {
  readonly dryRun: boolean
  readonly written: readonly AppliedFix[]
  readonly refused: readonly { readonly fix: AppliedFix; readonly because: string }[]
  readonly left: readonly Finding[]
  /** Of each file, in unified format. */
  readonly diffs: readonly string[]
  readonly undo: Patch
}

/** A change that was written into files, and the patch that takes it back: `--apply`. */
export interface AppliedDocument extends Report<'applied'> {
  readonly title: string
  readonly files: readonly string[]
  readonly undo: Patch
}

/** What taking a pack in would do, or did: `unpack`. */
export interface UnpackingDocument extends Report<'unpacking'> {
  readonly written: boolean
  readonly entries: readonly UnpackedEntry[]
  /** Viewports that the pack's values name and the site does not have, with the site's nearest in width. */
  readonly viewports: readonly { readonly name: string; readonly nearest: string }[]
  readonly missing: readonly MissingReference[]
  /** Whether nothing is left open. */
  readonly isReady: boolean
  readonly patch: Patch
  readonly undo: Patch
  readonly files: readonly string[]
  readonly changes: SiteDiff | null
}

/** What is looked for, and when it holds: `rules`. */
export interface RulesDocument extends Report<'rules'> {
  readonly rules: readonly (RuleWords & {
    readonly scope: string
    readonly worst: 'largest' | 'smallest'
  })[]
}

/** The template that a page gets, and why. */
export interface ReportedTemplate {
  readonly id: string | null
  readonly because: string
}

/** By facet, its properties in CSS px to three decimals. */
export type FacetsInPx = Readonly<Record<string, JsonObject>>

/** A box in CSS px to three decimals. */
export type ReportedBox = Pick<Box, 'id' | 'of' | 'x' | 'y' | 'width' | 'height' | 'certainty'>

/** What a page gets, and where its boxes are: `show`. */
export interface PageDocument extends Report<'page'> {
  readonly page: string
  readonly template: ReportedTemplate & { readonly arrange: readonly ArrangeEntry[] | null }
  /** Said where the page's extension is off: then it has no views. */
  readonly dormant?: true
  /** Its titles, exits by place, words, and what a visitor gets who is not signed in; not of a dormant page. */
  readonly about?: AboutPage
  readonly views: readonly {
    readonly viewport: string
    readonly width: number
    readonly height: number
    readonly facets: FacetsInPx
    readonly boxes: readonly ReportedBox[]
  }[]
}

/** A step of a ledger with its place in the files. */
export type Placed<S> = S & { readonly at: SourcePlace | null }

/** How boxes of a page get their places and sizes: `show --ledger`. */
export interface LedgerDocument extends Report<'ledger'> {
  readonly page: string
  readonly views: readonly {
    readonly viewport: string
    readonly box: ReportedBox
    /** The steps that add up to `y`. */
    readonly ledger: readonly Placed<LedgerEntry>[]
    /** The steps from the window that add up to `width` and `x`. */
    readonly width: readonly Placed<WidthStep>[]
    /** The steps that add up to the height of a header, a footer or a row of these; empty for others. */
    readonly height: readonly Placed<LedgerEntry>[]
  }[]
}

/** Who decided a property (or, with `template`, the template): `why`. */
export interface ChainDocument extends Report<'chain'> {
  readonly page: string
  readonly property: string
  readonly viewport: string
  readonly value: Json
  /** Strongest first. */
  readonly chain: readonly ChainStep[]
}

/** Every page at every viewport: `table`. */
export interface TableDocument extends Report<'table'> {
  readonly rows: readonly {
    readonly page: string
    readonly viewport: string
    readonly template: ReportedTemplate
    readonly facets: FacetsInPx
    /** The other columns that were asked for. */
    readonly columns?: Readonly<Record<string, PageFact>>
    /** With `--by layer`: who decides each property. */
    readonly layers?: Readonly<Record<string, string>>
  }[]
}

/** All templates and surrounds: `uses` without a name. */
export interface CatalogDocument extends Report<'catalog'>, Catalog {
  readonly site: string
}

/** Two templates or two surrounds side by side: `diff template:a template:b`. */
export interface ComparisonDocument extends Report<'comparison'>, SharedComparison {}

/** Who uses a shared thing, and who would change with it: `uses`. */
export interface UsesDocument extends Report<'uses'>, Omit<Uses, 'kind' | 'id' | 'at'> {
  readonly of: Pick<Uses, 'kind' | 'id' | 'at'>
}

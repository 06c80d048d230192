/**
 * Wembra's core: what each page of a site gets at each screen width, which setting decides it, where settings and
 * builder content conflict, and what a change would do. No I/O and no DOM; `wembra/node` reads files.
 *
 * In examples `text` is the README's site file, and `resolved` is `resolveSite(readSite(text))`.
 *
 * @module wembra
 */
export { readSite, type ReadOptions } from './model/read-site.js'
export { deserializeSite, type SerializedOrigin, type SerializedSite } from './model/serialize-site.js'
export type { Site, Viewport } from './model/site.js'
export {
  SiteError,
  formatProblem,
  type Place,
  type Problem,
  type ProblemCode,
  type SourcePlace,
} from './model/problem.js'
export { memoryFiles, NO_FILES, type Files, type Pixels, type TextMeasurer } from './model/files.js'
export { WembraError, type ErrorCode } from './model/wembra-error.js'
export { PatchError } from './model/edited-document.js'
export type { Operation, Patch } from './model/patch.js'
export {
  definitionOf,
  FACET_NAMES,
  FACETS,
  HEADLINE_PROPERTY,
  isFacet,
  PROPERTY_PATHS,
  type Facet,
  type Presence,
  type PropertyPath,
} from './model/facets.js'
export { toPointer, type Json, type JsonObject } from './model/json.js'
export type { PageData, SiteData } from './model/schema.js'
export { resolveSite, type ResolvedSite } from './resolve/resolve-site.js'
export type { ChainEntry, ChainStep, Decided, PageView, ResolvedPage, ViewportChoice } from './resolve/page.js'
export type { Outcome } from './resolve/contribution.js'
export { measurePage, type MeasureOptions } from './measure/page.js'
export type { PageMeasure } from './measure/page-measure.js'
export { facetsInPx } from './measure/facets.js'
export { fontProblem } from './measure/font.js'
export type { Box, Certainty, LedgerEntry, PrintedItem } from './measure/box.js'
export {
  inspect,
  inspectAsync,
  type InspectAsyncOptions,
  type InspectOptions,
  type Found,
  type InspectProgress,
} from './inspect/inspect.js'
export { RULES } from './inspect/rules/index.js'
export {
  SEVERITIES,
  type Finding,
  type Fix,
  type Refusal,
  type Numbers,
  type PlaceOnPage,
  type Rule,
  type Severity,
} from './inspect/rule.js'
export { copyInstead, sharedEdits, type SharedEdit } from './change/copy-instead.js'
export {
  diffFacets,
  diffSites,
  diffSitesAsync,
  diffSnapshots,
  diffWhole,
  type StateChange,
  type SurroundChange,
  type DiffAsyncOptions,
  type DiffOptions,
  type FacetChangeGroup,
  type SiteDiff,
} from './change/diff.js'
export type { FindingChange } from './change/finding-changes.js'
export type { BoxChange, ChangeGroup, FacetChange } from './change/page-changes.js'
export { PathError, setPath, unsetPath } from './change/goals.js'
export { packTemplates, PackError } from './change/pack.js'
export { packJsonSchema, readPack, type Pack, type PackEntry } from './change/pack-format.js'
export { undoPatch } from './change/undo.js'
export {
  unpackInto,
  type CollisionChoice,
  type MissingReference,
  type UnpackedEntry,
  type Unpacking,
  type UnpackOptions,
} from './change/unpack.js'
export { readSnapshot } from './change/snapshot-format.js'
export type { FindingRecord } from './change/changed-findings.js'
export {
  takeSnapshot,
  type SnapshotOptions,
  type PageRecord,
  type PageState,
  type Snapshot,
  type SurroundRecords,
} from './change/snapshot.js'
export { EditError } from './change/edit-text.js'
export { groupLayouts, groupPages, type GroupProposal, type Groups, type LayoutGroup } from './change/groups.js'
export { fixSite, type AppliedFix, type FixOptions, type FixResult } from './change/fix.js'
export { neededStyles, styleOut, type NeededStyle } from './change/style-out.js'
export { rewriteSite, type Rewritten } from './change/rewrite.js'
export { findWays, type Blocked, type Goal, type Way, type Ways, type WaysOptions } from './change/ways.js'
export { kindsNamed, SHARED_THINGS, usesOf, type SharedThing, type Use, type Uses } from './change/uses.js'
export { mapSite, type MappedThing } from './change/site-map.js'
export { STEPS, stepOf, type Step } from './inspect/steps.js'
export {
  aboutPage,
  type AboutPage,
  type PageFact,
  type Headline,
  type PageExits,
  type PageTitles,
  type PublicAnswer,
  type TitleHiding,
  type TitlePlace,
} from './inspect/about-page.js'
export { heightLadder, widthLadder, type WidthStep } from './measure/ladders.js'
export {
  catalogOf,
  compareShared,
  type Catalog,
  type CatalogSurround,
  type CatalogTemplate,
  type CatalogUse,
  type SharedComparison,
  type SharedDifference,
} from './change/catalog.js'
export { workOrder, type OrderedFinding, type WorkStep } from './change/work-order.js'
export { facetRecord, type FacetRecord } from './measure/facet-record.js'
export { assignedPages, pagesWhere } from './resolve/pages-where.js'
export { parseSelector, SelectorError } from './select/parse-selector.js'
export { siteJsonSchema } from './model/json-schema.js'
export { UnknownNameError, ValueError, type NamedThing } from './model/unknown-name.js'
export { findRule, type RuleId } from './inspect/rules/index.js'
export type { PlainMeasure } from './measure/page-measure.js'
export { pageRule, viewRule } from './inspect/rule.js'
export type { PageSight } from './inspect/page-sight.js'
export type { Sight } from './inspect/sight.js'
export type { AllowRule, PageRule, RealityRule, RuleWords, SiteRule, ViewRule } from './inspect/rule.js'
export type { ArrangedSlot } from './measure/page-measure.js'
export type { ItemPlace } from './measure/box.js'
export type { MeasuredSection } from './measure/section.js'
export type { MeasuredSurround } from './measure/surround.js'
export type {
  ArrangeEntry,
  ByViewport,
  Insert,
  Item,
  LayerName,
  LengthValue,
  Selector,
  Where,
} from './model/site-data.js'
export type { FacetProperties, PercentBase, PresentFacet, PropertyDefinition } from './model/facets.js'
export type { DecidingLayer, PageCore, PlacedInsert } from './resolve/page.js'
export type { SiteChange } from './resolve/resolve-site.js'
export type { Template } from './resolve/templates.js'
export type { DecidingChoice, TemplateChoice } from './resolve/choose-template.js'
export type { Assignments } from './resolve/assignments.js'
export type { StyleResult } from './resolve/style-layer.js'
export type { PageFacts } from './select/page-facts.js'
export type { Source } from './model/source.js'
export type { Tokens } from './model/tokens.js'
export type { HowMany } from './inspect/engine/prover.js'
export type { Upkeep } from './inspect/rule.js'
export type { EntryRecords } from './change/entry-alignment.js'
export type { Deciding } from './inspect/deciding.js'
export type { SeenTitle } from './inspect/sight.js'
export type { Frame } from './measure/frame.js'
export type { Rectangle, ViewRecord } from './change/snapshot.js'
export type { Beside } from './change/rewrite.js'
export type { Layout } from './resolve/layout.js'
export type { Layout as LayoutSettings } from './model/site-data.js'
export type { ArrangeWord, Box as BoxData, Column, SettingsLayer } from './model/site-data.js'
export type { PropertyType } from './model/facets.js'
export type { Assignment } from './resolve/assignments.js'
export type { Typography } from './measure/frame.js'
export type { Contribution } from './resolve/contribution.js'
export type { MeasuredRow } from './measure/surround.js'
export type { Reach } from './resolve/reach.js'
export type { StyleEntry } from './resolve/style-layer.js'
export type { StyleDeclaration } from './resolve/style-sheets.js'
export type { Settings } from './resolve/settings.js'
export type { LengthContext, Length, Sides } from './css/length.js'
export type { Decision, LayerEntry } from './resolve/layout.js'
export type { TemplateEntry } from './resolve/choose-template.js'
export type { Allowance, Case, Fact, Group, MakeMark, Proposal, SiteFact } from './inspect/rule.js'
export type { Matched } from './select/where-index.js'
export type { Tally, TallyMark } from './inspect/tally.js'
export type { Survey } from './inspect/survey.js'
export type { CompiledSelector, CompiledWhere, Specificity } from './select/selector.js'
export type { PathPattern } from './select/path-pattern.js'
export type { RelatedPointer } from './inspect/rule.js'
export type { Setting } from './resolve/settings.js'
export type { ExitPlace } from './inspect/links.js'

/**
 * Real pages: observations of them, where they differ from a site file, drafts of one, and other systems' exports.
 *
 * @module wembra/reality
 */
export {
  observationJsonSchema,
  ObservationError,
  readObservation,
  type Observation,
  type ObservationFailure,
  type ObservedBox,
  type ObservedPart,
} from './observation.js'
export { TOLERANCE_PX, type Discrepancy } from './compare.js'
export { findDrift, type DriftOptions, type Drift, type DriftFinding, type DriftReport } from './drift.js'
export { explainParts, type ExplainedView, type PartExplanation } from './explain-parts.js'
export { importSite, type ImportedSite, type ExportFile, type Remark } from './import-site.js'
export { DraftError, draftSite, type Draft, type DraftOptions } from './draft.js'
export { DRAFT_DETAILS, type DraftDetail } from './draft-shared.js'
export { mappingJsonSchema, readMapping, type Mapping } from './mapping.js'
export { measuredHeights, type MeasuredSurround } from './measured.js'
export type { OutlineNode, SeenFault } from './observation.js'
export { seenFindings, type SeenFinding } from './seen-findings.js'

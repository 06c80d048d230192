/**
 * What editors of site files ask: marks on lines, what a place means, what could be written there, where a name leads,
 * what could be done. Without a protocol and without I/O; `wembra lsp` and the workbench speak for it.
 *
 * @module wembra/language
 */
export { SiteProject } from './project.js'
export { markFindings, markProblems, spanAt, type Mark, type Texts } from './marks.js'
export { hoverAt, type Hover } from './hover.js'
export { completionsAt, type Completion } from './complete.js'
export {
  definitionAt,
  foundAt,
  referencesAt,
  renamableAt,
  renameAt,
  RenameError,
  symbolsIn,
  symbolsNamed,
  type FileSpan,
  type Found,
  type SiteSymbol,
  type TextChange,
  type Thing,
} from './navigate.js'
export { actionsFor, changesOf, type Action } from './actions.js'
export { fieldsAt, type Field } from './schema-keys.js'
export { effectsOf, propertiesAt, type Effect } from './effect.js'
export { Lines, sameLines, type Span, type TextPlace } from './places.js'
export type { Range, Spot } from './text-tree.js'
export type { Section } from './names.js'

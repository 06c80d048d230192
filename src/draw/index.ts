/**
 * Findings, comparisons and pages in the formats of the trade: JSON documents, SARIF, JUnit, Markdown, HTML, SVG, text.
 *
 * @module wembra/report
 */
export { drawWireframe, wireframeTree, type Mark, type WireframeOptions } from './wireframe.js'
export { findingsHtml, type PlacePicture } from './findings/html.js'
export { findingsJunit } from './findings/junit.js'
export { findingsMarkdown } from './findings/markdown.js'
export { findingsSarif } from './findings/sarif.js'
export { ruleMarkdown, rulesMarkdown } from './rule-page.js'
export { drawTerminal } from './terminal.js'
export { chainDocument, findingsDocument, pageDocument, tableDocument, type TableColumns } from './documents.js'
export type * from './document-types.js'
export { changeInWords, groupHeadline } from './diff-words.js'
export { renderHtml, type RenderOptions } from './render-html.js'
export { fontFace } from './font-face.js'
export {
  previewHtml,
  previewSvg,
  type PictureOptions,
  type PreviewHtmlOptions,
  type PreviewOptions,
} from './preview.js'
export { placesOf, type Area } from './finding-places.js'
export { surroundInWords, templateInWords, valueInWords } from './catalog.js'
export { findingsGithub } from './findings/github.js'
export { diffMarkdown } from './diff-markdown.js'
export { diffHtml } from './diff-html.js'

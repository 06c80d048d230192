/**
 * Reading and writing files, fetching pages, driving browsers: what needs Node.
 *
 * @module wembra/node
 */
export { diskFiles, findSite, loadSite } from './load-site.js'
export { loadRevision } from './git.js'
export { svgToPng } from './png.js'
export { serveSite, type LiveDifference, type LivePage, type ServedSite, type ServeOptions } from './serve-site.js'
export { PageLoader } from './browse.js'
export { observeMarkup } from './markup.js'
export { observeAll, type ObserveAllOptions } from './observe-all.js'
export { readExport } from './read-export.js'
export { Robots } from './robots.js'
export { readSitemap } from './sitemap.js'
export { FetchError, Folder, Web, type Fetched, type Limits, type Source } from './source.js'
export type { FetchErrorCode } from './source.js'
export type { Locators, PartName } from '../observe/parts.js'

/** Reading and writing files, driving browsers: what needs Node. */
export { diskFiles, findSite, loadSite } from './load-site.js'
export { loadRevision } from './git.js'
export { svgToPng } from './png.js'
export { serveSite, type ServedSite } from './serve-site.js'

import { resolve } from 'node:path'
import { startHost, type Host } from '../../examples/host/src/server.js'
import { wembraHere, type Answer } from './command-line.js'

export const QUILLMERE = resolve('examples/quillmere')
export { startHost, type Host }

/** Drafts a site file from the pages that visitors see, and saves what was observed. */
export const draftHost = ({ address }: Host, folder: string, saved: string): Promise<Answer> => {
  const pages = ['/', '/visit', '/visit/schools', '/about/partners', '/star-party']
  const addresses = ['/sitemap-rest.xml', ...pages].map((path) => address + path)
  return wembraHere(folder, 'draft', ...addresses, '--browser', '--save', saved, '-o', 'live.site.yaml')
}

/** Observes every page of Quillmere on a host, as a member, in a browser. */
export const observeHost = ({ address }: Host, ...more: readonly string[]): Promise<Answer> =>
  wembraHere(QUILLMERE, 'observe', address, '--every-page', '--browser', '--header', 'cookie: member=1', ...more)

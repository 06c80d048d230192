import { resolve } from 'node:path'
import { startHost, type Host } from '../../examples/host/src/server.js'
import { wembraHere, type Answer } from './command-line.js'

export const QUILLMERE = resolve('examples/quillmere')
export { startHost, type Host }

/** Observes every page of Quillmere on a host, as a member, in a browser. */
export const observeHost = ({ address }: Host, ...more: readonly string[]): Promise<Answer> =>
  wembraHere(QUILLMERE, 'observe', address, '--every-page', '--browser', '--header', 'cookie: member=1', ...more)

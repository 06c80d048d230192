import { inspect, memoryFiles, readSite, resolveSite, type Finding, type ResolvedSite } from 'wembra'

/** A site that is open, with what is in conflict; mends are tried apart. */
export interface OpenSite {
  readonly resolved: ResolvedSite
  readonly findings: readonly Finding[]
}

const ROOT = '../../quillmere/'
const texts = import.meta.glob<string>(['../../quillmere/**/*.yaml', '../../quillmere/**/*.{json,css}'], {
  query: '?raw',
  import: 'default',
  eager: true,
})

/** The site's font, so that wrapped text has its true height here too. */
const fonts = import.meta.glob<string>('../../quillmere/fonts/*.ttf', {
  query: '?inline',
  import: 'default',
  eager: true,
})

const bytesOf = (dataUrl: string): Uint8Array =>
  Uint8Array.from(atob(dataUrl.slice(dataUrl.indexOf(',') + 1)), (character) => character.charCodeAt(0))

/** Reads the demo site, which is built into the app. */
export function openDemoSite(): OpenSite {
  const named = <T>(entries: Readonly<Record<string, T>>): [string, T][] =>
    Object.entries(entries).map(([path, content]) => [path.replace(ROOT, ''), content])
  const files: Record<string, string> = Object.fromEntries(named(texts))
  const binary = Object.fromEntries(named(fonts).map(([path, url]) => [path, bytesOf(url)]))
  const file = 'quillmere.site.yaml'
  const resolved = resolveSite(readSite(files[file] ?? '', { file, files: memoryFiles({ ...files, ...binary }) }))
  return { resolved, findings: inspect(resolved, { mends: false }) }
}

import { inspect, memoryFiles, readSite, resolveSite, type Finding, type ResolvedSite } from 'wembra'

/** A site that is open, with what is in conflict. */
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

/** Reads the demo site, which is built into the app. */
export function openDemoSite(): OpenSite {
  const files = Object.fromEntries(Object.entries(texts).map(([path, text]) => [path.replace(ROOT, ''), text]))
  const file = 'quillmere.site.yaml'
  const resolved = resolveSite(readSite(files[file] ?? '', { file, files: memoryFiles(files) }))
  return { resolved, findings: inspect(resolved) }
}

import type { Project } from './project.ts'

const ROOT = '../../../quillmere/'
const texts = import.meta.glob<string>(['../../../quillmere/**/*.yaml', '../../../quillmere/**/*.{json,css,svg}'], {
  query: '?raw',
  import: 'default',
  eager: true,
})

/** The site's font, so that wrapped text has its true height here too. */
const fonts = import.meta.glob<string>('../../../quillmere/fonts/*.ttf', {
  query: '?inline',
  import: 'default',
  eager: true,
})

const bytesOf = (dataUrl: string): Uint8Array =>
  Uint8Array.from(atob(dataUrl.slice(dataUrl.indexOf(',') + 1)), (character) => character.charCodeAt(0))

/** The demo site, which is built into the app. */
export function demoProject(): Project {
  const named = <T>(entries: Readonly<Record<string, T>>): [string, T][] =>
    Object.entries(entries).map(([path, content]) => [path.replace(ROOT, ''), content])
  return {
    origin: 'demo',
    file: 'quillmere.site.yaml',
    texts: Object.fromEntries(named(texts)),
    binary: Object.fromEntries(named(fonts).map(([path, url]) => [path, bytesOf(url)])),
  }
}

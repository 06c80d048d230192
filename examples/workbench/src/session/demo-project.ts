import type { Project } from './project.ts'

const ROOT = '../../../quillmere/'
const texts = import.meta.glob<string>(['../../../quillmere/**/*.yaml', '../../../quillmere/**/*.{json,css,svg}'], {
  query: '?raw',
  import: 'default',
  eager: true,
})

/** The site's font, so that wrapped text has its true height here too: a file beside the app, which sets it in the same one. */
const fonts = import.meta.glob<string>('../../../quillmere/fonts/*.ttf', {
  query: '?url',
  import: 'default',
  eager: true,
})

async function bytesAt(url: string): Promise<Uint8Array> {
  const answer = await fetch(url)
  if (!answer.ok) throw new Error(`the demo site's font is not there: ${url} answers ${answer.status}`)
  return new Uint8Array(await answer.arrayBuffer())
}

/** The demo site, which is built into the app. */
export async function demoProject(): Promise<Project> {
  const named = <T>(entries: Readonly<Record<string, T>>): [string, T][] =>
    Object.entries(entries).map(([path, content]) => [path.replace(ROOT, ''), content])
  const binary = named(fonts).map(async ([path, url]) => [path, await bytesAt(url)] as const)
  return {
    origin: 'demo',
    file: 'quillmere.site.yaml',
    texts: Object.fromEntries(named(texts)),
    binary: Object.fromEntries(await Promise.all(binary)),
  }
}

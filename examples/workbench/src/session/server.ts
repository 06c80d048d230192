import type { LivePage } from 'wembra/node'
import type { Project, Texts } from './project.ts'

/** Whether the app was opened by `wembra open`, which serves a site and takes it back. */
export const isServed = (): boolean => new URLSearchParams(location.search).has('key')

const headers = (): Record<string, string> => ({
  'content-type': 'application/json',
  'x-wembra-key': new URLSearchParams(location.search).get('key') ?? '',
})

interface ServedSite {
  readonly file: string
  readonly texts: Texts
  readonly binary: Readonly<Record<string, string>>
  readonly version: string
  /** Whether the real pages can be looked at. */
  readonly live: boolean
}

/** The site that the command line was given, and the version that was read. */
export async function fetchProject(): Promise<{ readonly project: Project; readonly version: string }> {
  const answer = await fetch('./api/site', { headers: headers() })
  if (!answer.ok) throw new Error(await answer.text())
  const { file, texts, binary, version, live } = (await answer.json()) as ServedSite
  const bytes = Object.entries(binary).map(([path, text]) => [path, bytesOf(text)] as const)
  return { project: { origin: 'server', file, texts, binary: Object.fromEntries(bytes), live }, version }
}

const bytesOf = (base64: string): Uint8Array => Uint8Array.from(atob(base64), (character) => character.charCodeAt(0))

/**
 * Writes texts into the site's files.
 *
 * @returns The version that they now have; `undefined` where somebody else changed the files in between.
 */
export async function saveToServer(texts: Texts, version: string): Promise<string | undefined> {
  const answer = await fetch('./api/site', {
    method: 'PUT',
    headers: headers(),
    body: JSON.stringify({ texts, version }),
  })
  if (answer.status === 409) return undefined
  if (!answer.ok) throw new Error(await answer.text())
  return ((await answer.json()) as { version: string }).version
}

/** The version that the files have now. */
export async function servedVersion(): Promise<string> {
  const answer = await fetch('./api/version', { headers: headers() })
  return answer.ok ? ((await answer.json()) as { version: string }).version : ''
}

/** Looks at the real page; it takes seconds. Throws with what is wrong. */
export async function lookLive(page: string): Promise<LivePage> {
  const answer = await fetch(`./api/live?page=${encodeURIComponent(page)}`, { headers: headers() })
  if (!answer.ok) throw new Error(await answer.text())
  return (await answer.json()) as LivePage
}

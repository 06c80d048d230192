import { useMemo, useSyncExternalStore } from 'react'

export const SCREENS = ['pages', 'findings', 'layers', 'source', 'page'] as const
export type Screen = (typeof SCREENS)[number]

/** Where the app is, by its address: `#/page/visit?width=640`, `#/findings?by=step`. */
export interface Route {
  readonly screen: Screen
  readonly id: string
  readonly params: URLSearchParams
}

const subscribe = (notify: () => void): (() => void) => {
  addEventListener('hashchange', notify)
  return () => removeEventListener('hashchange', notify)
}

export function useRoute(): Route {
  const hash = useSyncExternalStore(subscribe, () => location.hash)
  return useMemo(() => {
    const [path = '', query = ''] = hash.replace(/^#\//, '').split('?')
    const [screen = '', ...id] = path.split('/')
    const known = SCREENS.find((name) => name === screen) ?? 'pages'
    return { screen: known, id: decoded(id.join('/')), params: new URLSearchParams(query) }
  }, [hash])
}

/** What is no text as it is encoded stays as it is: it names nothing. */
function decoded(text: string): string {
  try {
    return decodeURIComponent(text)
  } catch {
    return text
  }
}

const withParams = (path: string, params: Readonly<Record<string, string | number | undefined>>): string => {
  const said = Object.entries(params).flatMap(([key, value]) => (value === undefined ? [] : [[key, String(value)]]))
  return said.length > 0 ? `${path}?${new URLSearchParams(said).toString()}` : path
}

type Params = Readonly<Record<string, string | number | undefined>>

export const pageAddress = (id: string, params: Params = {}): string =>
  withParams(`#/page/${encodeURIComponent(id)}`, params)
export const screenAddress = (screen: Screen, params: Params = {}): string => withParams(`#/${screen}`, params)
export const sourceAddress = (file: string, line: number): string =>
  withParams(`#/source/${encodeURIComponent(file)}`, { line })

/** Changes the address of the present screen, without a step back to every value of a slider. */
export function replaceParams(params: Params): void {
  const [path = '', query = ''] = location.hash.split('?')
  const next = new URLSearchParams(query)
  for (const [key, value] of Object.entries(params))
    if (value === undefined) next.delete(key)
    else next.set(key, String(value))
  const text = next.toString()
  history.replaceState(null, '', text ? `${path}?${text}` : path)
  dispatchEvent(new HashChangeEvent('hashchange'))
}

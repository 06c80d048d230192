import { useSyncExternalStore } from 'react'

/** Where the app is, as its address says: `#/page/visit/title-doubled…` or `#/findings`. */
export type Route = { readonly screen: 'page'; readonly page: string } | { readonly screen: 'findings' }

const subscribe = (notify: () => void): (() => void) => {
  addEventListener('hashchange', notify)
  return () => removeEventListener('hashchange', notify)
}

export function useRoute(fallback: string): Route {
  const hash = useSyncExternalStore(subscribe, () => location.hash)
  const [screen, page] = hash.replace(/^#\//, '').split('/')
  if (screen === 'findings') return { screen }
  return { screen: 'page', page: screen === 'page' && page ? decodeURIComponent(page) : fallback }
}

export const pageAddress = (id: string): string => `#/page/${encodeURIComponent(id)}`
export const FINDINGS_ADDRESS = '#/findings'

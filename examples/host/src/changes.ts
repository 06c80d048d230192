import type { Fields, Store } from './store.js'

/** A change that somebody makes on the host without telling who keeps the site file. */
export interface Change {
  readonly title: string
  readonly apply: (store: Store) => void
}

const at = <T>(things: Record<string, T>, name: string): T => {
  const found = things[name]
  if (found === undefined) throw new Error(`the host has no ${name}`)
  return found
}

const entryOf = (store: Store, id: string) => {
  const entry = store.entries.get(id)
  if (!entry) throw new Error(`the host has no entry ${id}`)
  return entry
}

const rowsOf = (store: Store, region: string): Fields[] => at(store.regions, region)['rows'] as unknown as Fields[]

/** Twelve things that happen to a site, each in one place of the host's store. */
export const CHANGES: readonly Change[] = [
  {
    title: 'somebody tries a fixed header in the theme options',
    apply: (store) => void (store.options['top'] = { ...store.options['top'], position: 'fixed' }),
  },
  {
    title: 'the main header gets more air',
    apply: (store) => {
      const bar = rowsOf(store, 'main-header').find((row) => row['id'] === 'bar')
      if (bar) bar['padding'] = { phone: '20px 16px', else: '28px 24px' }
    },
  },
  {
    title: 'a link is added to the small print',
    apply: (store) =>
      void (store.menus['small-print'] = [
        ...at(store.menus, 'small-print'),
        { label: 'Accessibility', entry: 'accessibility' },
      ]),
  },
  {
    title: 'events are made narrower',
    apply: (store) => {
      const { look } = at(store.layouts, 'event-view')
      look['width'] = { ...look['width'], max: '1000px' }
    },
  },
  {
    title: 'one page’s title is hidden',
    apply: (store) => void (entryOf(store, 'people').look = { heading: { display: 'kept' } }),
  },
  {
    title: 'a page gets another layout',
    apply: (store) => void (entryOf(store, 'history').layout = 'plain'),
  },
  {
    title: 'the year in the footer is brought up to date',
    apply: (store) => {
      const rights = rowsOf(store, 'site-footer')
        .flatMap((row) => row['parts'] as unknown as Fields[])
        .find((part) => part['id'] === 'rights')
      if (rights) rights['text'] = '© 2019–2026 Quillmere Observatory'
    },
  },
  {
    title: 'the builder leaves the footer out from now on',
    apply: (store) => {
      const { look } = at(store.tools, 'stave')
      look['bottom'] = { ...look['bottom'], display: 'off' }
    },
  },
  {
    title: 'the rule that gives shop items the small footer is deleted',
    apply: (store) => void (store.rules = store.rules.filter((rule) => rule.region !== 'small-footer')),
  },
  {
    title: 'a page is kept from search engines',
    apply: (store) => void (entryOf(store, 'research').look['search'] = { web: false }),
  },
  {
    title: 'custom CSS hides the bylines of the journal',
    apply: (store) => void (store.css += '\n.kind-article .byline { display: none }\n'),
  },
  {
    title: 'the first section of a page is made lower',
    apply: (store) => {
      const [hero] = entryOf(store, 'telescopes').blocks
      if (hero) hero['height'] = '480px'
    },
  },
]

/** Makes some of the changes, by their numbers from 1. @throws {RangeError} When there is no such change. */
export function makeChanges(store: Store, numbers: readonly number[]): void {
  for (const number of numbers) {
    const change = CHANGES[number - 1]
    if (!change) throw new RangeError(`there is no change ${number}; there are 1 to ${CHANGES.length}`)
    change.apply(store)
  }
}

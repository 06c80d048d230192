import { Autocomplete, Kbd } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { memo, useMemo, useRef, useState } from 'react'
import { PROPERTY_PATHS, RULES } from 'wembra'
import { pageAddress, screenAddress, sourceAddress } from '../session/use-route.ts'
import type { Session } from '../session/use-session.ts'

/** A thing that can be gone to. */
interface Place {
  /** What it is: a page, a rule, a setting, … */
  readonly group: string
  readonly label: string
  /** What it is found by, in small letters. */
  readonly words: string
  readonly address: string
}

/** How many of each group are offered. */
const MOST_OFFERED = 6
const SHORTCUT = 'mod+K'

/** One field for everything: pages, templates, surrounds, settings, rules and files. */
export const SearchBox = memo(function SearchBox({ session }: { readonly session: Session }) {
  const { resolved, texts } = session
  const [words, setWords] = useState('')
  const field = useRef<HTMLInputElement>(null)
  useHotkeys([[SHORTCUT, () => field.current?.focus()]], [])
  const places = useMemo((): readonly Place[] => {
    const { data } = resolved.site
    const place = (group: string, label: string, address: string, more = ''): Place => ({
      ...{ group, label, address, words: `${label} ${more}`.toLowerCase() },
    })
    return [
      ...resolved.pageIds.map((id) => {
        const page = resolved.site.pageData(id)
        return place('Pages', `${page?.title ?? id} (${id})`, pageAddress(id), page?.path)
      }),
      ...Object.entries(data.templates ?? {}).map(([id, { label }]) =>
        place('Templates', id, screenAddress('layers', { step: 'templates', open: id }), label),
      ),
      ...Object.keys(data.surrounds ?? {}).map((id) =>
        place('Surrounds', id, screenAddress('layers', { step: 'surrounds', open: id })),
      ),
      ...PROPERTY_PATHS.map((path) =>
        place('Settings', path, screenAddress('layers', { step: 'theme', setting: path })),
      ),
      ...RULES.map(({ id, summary }) => place('Conflicts', id, screenAddress('pages', { rule: id }), summary)),
      ...Object.keys(texts).map((file) => place('Files', file, sourceAddress(file, 1))),
    ]
  }, [resolved, texts])
  const found = useMemo(() => {
    const wanted = words.toLowerCase().trim().split(/\s+/).filter(Boolean)
    if (wanted.length === 0) return []
    const groups = new Map<string, { value: string; label: string }[]>()
    for (const { group, label, words: known, address } of places) {
      const mine = groups.get(group) ?? []
      groups.set(group, mine)
      if (mine.length < MOST_OFFERED && wanted.every((word) => known.includes(word)))
        mine.push({ value: address, label })
    }
    return [...groups].flatMap(([group, items]) => (items.length > 0 ? [{ group, items }] : []))
  }, [places, words])
  return (
    <Autocomplete
      ref={field}
      size="xs"
      className="search"
      aria-label="Search pages, settings, conflicts and files"
      placeholder="Search"
      rightSection={<Kbd size="xs">Ctrl K</Kbd>}
      rightSectionWidth={58}
      rightSectionPointerEvents="none"
      value={words}
      onChange={setWords}
      data={found}
      filter={({ options }) => options}
      comboboxProps={{ width: 340, position: 'bottom-start' }}
      onOptionSubmit={(address) => {
        location.hash = address
        setTimeout(() => setWords(''))
      }}
    />
  )
})

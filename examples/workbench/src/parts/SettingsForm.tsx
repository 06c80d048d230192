import { Group, NativeSelect, Text } from '@mantine/core'
import type { Remote } from 'comlink'
import { useEffect, useState } from 'react'
import { definitionOf, FACET_NAMES, PROPERTY_PATHS, type Json, type PropertyPath } from 'wembra'
import type { Session } from '../session/use-session.ts'
import type { SettingReach, Work } from '../worker/site.worker.ts'
import type { PlannedChange } from './ChangeDialog.tsx'
import { FieldRow } from './FieldRow.tsx'
import { count } from './words.ts'

interface Props {
  /** The layer's place in the site, such as `theme` or `templates.campaign`. */
  readonly at: string
  readonly session: Session
  readonly plan: (change: PlannedChange) => void
  readonly ask: () => Promise<Remote<Work>>
  /** A setting to begin with. */
  readonly setting?: string | undefined
}

/** The settings of a layer, each to be changed or removed, with the pages on which it wins; and any other to be added. */
export function SettingsForm({ at, session, plan, ask, setting }: Props) {
  const { site } = session.resolved
  const layout = at
    .split('.')
    .reduce<unknown>((value, key) => (value as Readonly<Record<string, unknown>>)?.[key], site.data) as
    | { readonly layout?: Readonly<Record<string, Readonly<Record<string, Json>>>> }
    | undefined
  const rows = FACET_NAMES.flatMap((facet) =>
    Object.entries(layout?.layout?.[facet] ?? {}).map(([property, value]) => ({
      path: `${facet}.${property}` as PropertyPath,
      value,
    })),
  )
  const known = new Set<string>(rows.map(({ path }) => path))
  const free = PROPERTY_PATHS.filter((path) => !known.has(path))
  const [added, setAdded] = useState<string>(setting !== undefined && !known.has(setting) ? setting : '')
  const [reach, setReach] = useState<Readonly<Record<string, SettingReach>>>()
  const paths = rows.map(({ path }) => path).join(' ')
  useEffect(() => {
    if (paths === '') return
    let isOver = false
    setReach(undefined)
    void ask()
      .then((work) => work.settingReach(at, paths.split(' ') as PropertyPath[]))
      .then((found) => !isOver && setReach(found))
    return () => {
      isOver = true
    }
  }, [session.resolved, at, paths])
  const row = (path: string, value: Json | undefined) => (
    <FieldRow
      key={`${path} ${JSON.stringify(value)}`}
      of={at}
      name={path}
      path={`${at}.layout.${path}`}
      value={value}
      words={wordsOf(path, session)}
      reach={value === undefined ? undefined : reachInWords(reach, path)}
      session={session}
      plan={plan}
    />
  )
  return (
    <div className="settings">
      {rows.length === 0 && (
        <Text size="sm" c="dimmed">
          Nothing is set here.
        </Text>
      )}
      {rows.map(({ path, value }) => row(path, value))}
      <Group gap="sm" align="flex-end" mt={6}>
        <NativeSelect
          size="xs"
          label="Add a setting"
          value={added}
          onChange={(event) => setAdded(event.currentTarget.value)}
          data={[{ value: '', label: 'choose one' }, ...free]}
        />
      </Group>
      {added !== '' && row(added, undefined)}
    </div>
  )
}

/** `44 pages, 13 overridden`; nothing until it is known. */
function reachInWords(reach: Readonly<Record<string, SettingReach>> | undefined, path: string): string {
  if (!reach) return ''
  const { wins, others } = reach[path] ?? { wins: 0, others: 0 }
  return `${wins === 0 ? 'no page' : count(wins, 'page')}${others > 0 ? `, ${others} overridden` : ''}`
}

/** The words that a property may be set to; `undefined` where it takes free text. */
function wordsOf(path: string, { resolved }: Session): readonly string[] | undefined {
  const definition = definitionOf(path as Parameters<typeof definitionOf>[0])
  const { data } = resolved.site
  switch (definition?.type) {
    case 'word':
      return definition.words
    case 'boolean':
      return ['true', 'false']
    case 'id':
      if (definition.of === 'menu') return Object.keys(data.menus ?? {})
      if (definition.of === 'asset') return Object.keys(data.assets ?? {})
      return Object.entries(data.surrounds ?? {}).flatMap(([id, { as }]) => (as === definition.of ? [id] : []))
    default:
      return undefined
  }
}

import { Button, Group, NativeSelect, Text, TextInput } from '@mantine/core'
import { useState } from 'react'
import { definitionOf, FACET_NAMES, PathError, PROPERTY_PATHS, setPath, unsetPath, type Json } from 'wembra'
import type { Session } from '../session/use-session.ts'
import type { PlannedChange } from './ChangeDialog.tsx'
import { SourceLink } from './SourceLink.tsx'
import { asValue, inWords } from './words.ts'

interface Props {
  /** The layer's place in the site, such as `theme` or `templates.campaign`. */
  readonly at: string
  readonly session: Session
  readonly plan: (change: PlannedChange) => void
  /** A setting to begin with. */
  readonly setting?: string | undefined
}

/** The settings of a layer, each to be changed or removed, and any other to be added. */
export function SettingsForm({ at, session, plan, setting }: Props) {
  const { site } = session.resolved
  const layout = at
    .split('.')
    .reduce<unknown>((value, key) => (value as Readonly<Record<string, unknown>>)?.[key], site.data) as
    { readonly layout?: Readonly<Record<string, Readonly<Record<string, Json>>>> } | undefined
  const rows = FACET_NAMES.flatMap((facet) =>
    Object.entries(layout?.layout?.[facet] ?? {}).map(([property, value]) => ({ path: `${facet}.${property}`, value })),
  )
  const known = new Set(rows.map(({ path }) => path))
  const free = PROPERTY_PATHS.filter((path) => !known.has(path))
  const [added, setAdded] = useState<string>(setting !== undefined && !known.has(setting) ? setting : '')
  return (
    <div className="settings">
      {rows.length === 0 && (
        <Text size="sm" c="dimmed">
          Nothing is set here.
        </Text>
      )}
      {rows.map(({ path, value }) => (
        <SettingRow
          key={`${path} ${JSON.stringify(value)}`}
          at={at}
          path={path}
          value={value}
          session={session}
          plan={plan}
        />
      ))}
      <Group gap="sm" align="flex-end" mt={6}>
        <NativeSelect
          size="xs"
          label="Add a setting"
          value={added}
          onChange={(event) => setAdded(event.currentTarget.value)}
          data={[{ value: '', label: 'choose one' }, ...free]}
        />
      </Group>
      {added !== '' && <SettingRow key={added} at={at} path={added} value={undefined} session={session} plan={plan} />}
    </div>
  )
}

/** One setting: its name, a field for its kind of value, and where it is written. */
function SettingRow({
  at,
  path,
  value,
  session,
  plan,
}: Props & { readonly path: string; readonly value: Json | undefined }) {
  const { site } = session.resolved
  const [text, setText] = useState(
    value === undefined ? '' : typeof value === 'object' ? JSON.stringify(value) : String(value),
  )
  const [problem, setProblem] = useState<string>()
  const full = `${at}.layout.${path}`
  const place = value === undefined ? undefined : site.locate(`/${full.replaceAll('.', '/')}`)
  const before = value === undefined ? '' : typeof value === 'object' ? JSON.stringify(value) : String(value)
  const isOther = text.trim() !== '' && text !== before
  const offered = wordsOf(path, session)
  const change = (make: () => PlannedChange): void => {
    try {
      plan(make())
      setProblem(undefined)
    } catch (error) {
      if (!(error instanceof PathError)) throw error
      setProblem(error.message)
    }
  }
  const field =
    offered && typeof value !== 'object' ? (
      <NativeSelect
        size="xs"
        aria-label={`${path} of ${at}`}
        value={text}
        onChange={(event) => setText(event.currentTarget.value)}
        data={[...(text === '' || !offered.includes(text) ? [text] : []), ...offered]}
      />
    ) : (
      <TextInput
        size="xs"
        aria-label={`${path} of ${at}`}
        value={text}
        error={problem}
        onChange={(event) => setText(event.currentTarget.value)}
      />
    )
  return (
    <form
      className="setting"
      onSubmit={(event) => {
        event.preventDefault()
        if (isOther)
          change(() => ({
            title: `${at}: ${path} ${inWords(asValue(text))}`,
            patch: setPath(site, full, asValue(text)),
          }))
      }}
    >
      <span className="setting-name">{path}</span>
      {field}
      <Button size="compact-xs" type="submit" variant={isOther ? 'filled' : 'default'} disabled={!isOther}>
        Preview
      </Button>
      {value === undefined ? (
        <span />
      ) : (
        <Button
          size="compact-xs"
          variant="subtle"
          aria-label={`Remove ${path} from ${at}`}
          onClick={() => change(() => ({ title: `${at}: without ${path}`, patch: unsetPath(site, full) }))}
        >
          Remove
        </Button>
      )}
      {place && <SourceLink at={place} />}
    </form>
  )
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

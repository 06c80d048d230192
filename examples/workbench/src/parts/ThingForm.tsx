import { Group, NativeSelect } from '@mantine/core'
import { useState } from 'react'
import type { Json } from 'wembra'
import { fieldsAt } from 'wembra/language'
import type { Session } from '../session/use-session.ts'
import type { PlannedChange } from './ChangeDialog.tsx'
import { FieldRow } from './FieldRow.tsx'

type Values = Readonly<Record<string, Json>>

interface Props {
  /** Its place in the site: `surrounds.top`. */
  readonly at: string
  /** What it is called: `row bar`. */
  readonly name: string
  readonly value: Values
  readonly session: Session
  readonly plan: (change: PlannedChange) => void
}

/** What holds further things with fields of their own, with what one of them is called. */
const PARTS = { rows: 'row', items: 'item' } as const

/** A thing of the site in fields made from the schema, with the rows and items in it. */
export function ThingForm({ at, name, value, session, plan }: Props) {
  const fields = fieldsAt(at.split('.'))
  const set = fields.filter(({ key }) => value[key] !== undefined)
  const free = fields.filter(({ key }) => value[key] === undefined)
  const [added, setAdded] = useState('')
  const row = ({ key, sentence, words }: (typeof fields)[number]) => (
    <FieldRow
      key={`${key} ${JSON.stringify(value[key])}`}
      of={name}
      name={key}
      path={`${at}.${key}`}
      value={value[key]}
      words={words}
      sentence={sentence}
      session={session}
      plan={plan}
    />
  )
  const parts = Object.entries(PARTS).flatMap(([key, what]) =>
    ((value[key] ?? []) as readonly Values[]).map((part, n) => ({ what, part, at: `${at}.${key}.${n}`, n })),
  )
  const chosen = free.find(({ key }) => key === added)
  return (
    <fieldset className="settings thing-form">
      <legend>{name}</legend>
      {set.map(row)}
      <Group gap="sm" align="flex-end">
        <NativeSelect
          size="xs"
          label={`Add to ${name}`}
          value={added}
          onChange={(event) => setAdded(event.currentTarget.value)}
          data={[{ value: '', label: 'choose one' }, ...free.map(({ key }) => key)]}
        />
      </Group>
      {chosen && row(chosen)}
      {parts.map(({ what, part, at: inner, n }) => (
        <ThingForm
          key={inner}
          at={inner}
          name={`${what} ${typeof part['id'] === 'string' ? part['id'] : String(n + 1)}`}
          value={part}
          session={session}
          plan={plan}
        />
      ))}
    </fieldset>
  )
}

import { Button, NativeSelect, Text, TextInput } from '@mantine/core'
import { useState } from 'react'
import { PathError, setPath, unsetPath, type Json } from 'wembra'
import type { Session } from '../session/use-session.ts'
import type { PlannedChange } from './ChangeDialog.tsx'
import { PlaceLink } from './PlaceLink.tsx'
import { asValue, inWords } from './words.ts'

interface Props {
  /** The thing it belongs to, such as `templates.campaign`. */
  readonly of: string
  /** What it is called there. */
  readonly name: string
  /** Its place in the site: `templates.campaign.layout.width.max`. */
  readonly path: string
  readonly value: Json | undefined
  /** What it may be; without them any text. */
  readonly words?: readonly string[] | undefined
  /** What it is for. */
  readonly sentence?: string
  /** How far it reaches, in words. */
  readonly reach?: string | undefined
  readonly session: Session
  readonly plan: (change: PlannedChange) => void
}

const asText = (value: Json | undefined): string =>
  value === undefined ? '' : typeof value === 'object' ? JSON.stringify(value) : String(value)

/** One value of a site: its name, a field for its kind of value, and where it is written. */
export function FieldRow({ of, name, path, value, words, sentence, reach, session, plan }: Props) {
  const { site } = session.resolved
  const before = asText(value)
  const [text, setText] = useState(before)
  const [problem, setProblem] = useState<string>()
  const isOther = text.trim() !== '' && text !== before
  const change = (make: () => PlannedChange): void => {
    try {
      plan(make())
      setProblem(undefined)
    } catch (error) {
      if (!(error instanceof PathError)) throw error
      setProblem(error.message)
    }
  }
  const field = { size: 'xs', 'aria-label': `${name} of ${of}`, value: text } as const
  return (
    <form
      className="setting"
      onSubmit={(event) => {
        event.preventDefault()
        if (isOther)
          change(() => ({
            title: `${of}: ${name} ${inWords(asValue(text))}`,
            patch: setPath(site, path, asValue(text)),
          }))
      }}
    >
      <span className="setting-name" title={sentence}>
        {name}
      </span>
      {words && words.length > 0 && typeof value !== 'object' ? (
        <NativeSelect
          {...field}
          onChange={(event) => setText(event.currentTarget.value)}
          data={[...(text === '' || !words.includes(text) ? [text] : []), ...words]}
        />
      ) : (
        <TextInput {...field} error={problem} onChange={(event) => setText(event.currentTarget.value)} />
      )}
      <Button size="compact-xs" type="submit" variant={isOther ? 'filled' : 'default'} disabled={!isOther}>
        Preview
      </Button>
      {value === undefined ? (
        <span />
      ) : (
        <Button
          size="compact-xs"
          variant="subtle"
          aria-label={`Remove ${name} from ${of}`}
          onClick={() => change(() => ({ title: `${of}: without ${name}`, patch: unsetPath(site, path) }))}
        >
          Remove
        </Button>
      )}
      <span className="setting-place">
        {reach !== undefined && (
          <Text size="sm" span className="setting-reach">
            {reach}
          </Text>
        )}
        {value !== undefined && <PlaceLink pointer={`/${path.replaceAll('.', '/')}`} />}
      </span>
    </form>
  )
}

import { Alert, Button, Group, NativeSelect, Paper, Stack, Text, TextInput, Title } from '@mantine/core'
import type { Remote } from 'comlink'
import { memo, useEffect, useState } from 'react'
import { PROPERTY_PATHS, type PropertyPath, type Ways } from 'wembra'
import type { Session } from '../session/use-session.ts'
import type { Work } from '../worker/site.worker.ts'
import { Busy } from './Busy.tsx'
import type { PlannedChange } from './ChangeDialog.tsx'
import { asValue, count } from './words.ts'

interface Props {
  readonly page: string
  readonly session: Session
  readonly plan: (change: PlannedChange) => void
  readonly ask: () => Promise<Remote<Work>>
}

/** "Give this page a layout …": every way to get there, with what else it would change. */
export const WaysPanel = memo(function WaysPanel({ page, session, plan, ask }: Props) {
  const [property, setProperty] = useState<PropertyPath>('header.use')
  const [value, setValue] = useState('')
  const [ways, setWays] = useState<Ways | 'asking' | string>()
  useEffect(() => setWays(undefined), [page, session.resolved])
  const look = (): void => {
    setWays('asking')
    void ask()
      .then((work) => work.ways([page], [{ property, value: asValue(value) }]))
      .then(setWays)
      .catch((error: unknown) => setWays(String(error)))
  }
  return (
    <section aria-label="Give this page a layout">
      <Title order={3} size="h4" mb="xs">
        Give this page a layout
      </Title>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (value.trim() !== '') look()
        }}
      >
        <Group align="flex-end">
          <NativeSelect
            label="Property"
            value={property}
            onChange={(event) => setProperty(event.currentTarget.value as PropertyPath)}
            data={[...PROPERTY_PATHS]}
          />
          <TextInput
            label="Value"
            placeholder="bare-header"
            value={value}
            onChange={(event) => setValue(event.currentTarget.value)}
          />
          <Button type="submit" variant="default" disabled={value.trim() === ''}>
            Find ways
          </Button>
        </Group>
      </form>
      {ways === 'asking' ? (
        <Busy with="Trying each way on every page" mt="sm" />
      ) : typeof ways === 'string' ? (
        <Alert mt="sm" color="red" role="alert">
          {ways}
        </Alert>
      ) : (
        ways && <Found ways={ways} plan={plan} />
      )}
    </section>
  )
})

function Found({ ways: { isMet, ways, blocked }, plan }: { readonly ways: Ways; readonly plan: Props['plan'] }) {
  if (isMet) return <Text mt="sm">It has that already.</Text>
  return (
    <Stack gap={6} mt="sm" component="ul" className="plain-list" aria-label="Ways">
      {ways.map((way) => (
        <Paper key={way.title} component="li" withBorder p="xs">
          <Group justify="space-between">
            <div>
              <Text fw={600} size="sm">
                {way.title}
              </Text>
              <Text size="sm">
                {way.others.length === 0
                  ? 'no other page changes'
                  : `${count(way.others.length, 'other page')}: ${way.others.slice(0, 5).join(', ')}${way.others.length > 5 ? ', …' : ''}`}
                ; {count(way.caused.length, 'new finding')}, {way.cured.length} gone
              </Text>
            </div>
            <Button size="compact-sm" variant="light" onClick={() => plan({ title: way.title, patch: way.patch })}>
              Look at it
            </Button>
          </Group>
        </Paper>
      ))}
      {ways.length === 0 && <Text size="sm">No way was found.</Text>}
      {blocked.slice(0, 4).map(({ title, because }) => (
        <Text key={title + because} size="sm" c="dimmed">
          Would not do: {title}, {because}
        </Text>
      ))}
    </Stack>
  )
}

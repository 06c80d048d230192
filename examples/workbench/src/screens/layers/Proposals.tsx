import { Button, Stack, Text, Title } from '@mantine/core'
import { useEffect, useState } from 'react'
import type { Groups } from 'wembra'
import { Busy } from '../../parts/Busy.tsx'
import { count } from '../../parts/words.ts'
import type { LayerProps } from './layer-props.ts'

/** Settings that could be set once instead of many times. */
export function Proposals({ ask, plan, session }: Pick<LayerProps, 'ask' | 'plan' | 'session'>) {
  const [groups, setGroups] = useState<Groups | 'asking'>()
  useEffect(() => setGroups(undefined), [session.resolved])
  const look = (): void => {
    setGroups('asking')
    void ask()
      .then((work) => work.groups())
      .then(setGroups)
  }
  return (
    <section aria-label="Settings that could be set once">
      <Title order={3} size="h4" mb="xs">
        Settings that could be set once
      </Title>
      {groups === undefined ? (
        <Button variant="default" onClick={look}>
          Find settings that are set twice
        </Button>
      ) : groups === 'asking' ? (
        <Busy with="Trying each on every page" />
      ) : (
        <Stack gap={6} align="flex-start">
          <Text size="sm">
            {count(groups.used, 'template')} in use; {groups.fewest} would serve.
          </Text>
          {groups.proposals.length === 0 && <Text size="sm">No setting is set twice.</Text>}
          {groups.proposals.slice(0, 1).map(({ title, patch, saved }) => (
            <Button key={title} variant="light" className="fix" onClick={() => plan({ title, patch, isProven: true })}>
              {title} ({count(saved, 'setting')} fewer)
            </Button>
          ))}
          {groups.proposals.slice(1).map(({ title }) => (
            <Text key={title} size="sm" c="dimmed">
              then: {title}
            </Text>
          ))}
        </Stack>
      )}
    </section>
  )
}

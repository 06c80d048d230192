import { Stack, Text, Title } from '@mantine/core'
import { SettingsForm } from '../../parts/SettingsForm.tsx'
import { count } from '../../parts/words.ts'
import type { LayerProps } from './layer-props.ts'

/** The theme's settings, and those of kinds and builders, which come right after it. */
export function ThemeLayer({ session, plan, ask, params }: LayerProps) {
  const { data } = session.resolved.site
  const kinds = Object.keys(data.kinds ?? {})
  const builders = Object.keys(data.builders ?? {})
  const setting = params.get('setting') ?? undefined
  return (
    <Stack gap="lg">
      <section aria-label="Theme">
        <Title order={3} size="h4">
          Theme
        </Title>
        <Text size="sm" c="dimmed" mb="xs">
          Reaches all {count(session.resolved.pageIds.length, 'page')}, where nothing stronger decides.
        </Text>
        <SettingsForm key={setting} at="theme" session={session} plan={plan} ask={ask} setting={setting} />
      </section>
      {kinds.map((id) => (
        <section key={id} aria-label={`Kind ${id}`}>
          <Title order={3} size="h5" mb="xs">
            Kind {id}
          </Title>
          <SettingsForm at={`kinds.${id}`} session={session} plan={plan} ask={ask} />
        </section>
      ))}
      {builders.map((id) => (
        <section key={id} aria-label={`Builder ${id}`}>
          <Title order={3} size="h5" mb="xs">
            Builder {id}
          </Title>
          <SettingsForm at={`builders.${id}`} session={session} plan={plan} ask={ask} />
        </section>
      ))}
    </Stack>
  )
}

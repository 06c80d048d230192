import { Group, Paper, Stack, Text } from '@mantine/core'
import { pagesWhere } from 'wembra'
import { PageLinks } from '../../parts/PageLinks.tsx'
import { SettingsForm } from '../../parts/SettingsForm.tsx'
import { PlaceLink } from '../../parts/PlaceLink.tsx'
import { count } from '../../parts/words.ts'
import type { LayerProps } from './layer-props.ts'

/** Which pages get which template, surround or settings, entry by entry. */
export function Assignment({ session, plan, ask }: LayerProps) {
  const { resolved } = session
  const entries = resolved.site.data.assign ?? []
  if (entries.length === 0)
    return <Text>This site assigns nothing: every page takes what theme, kind and builder give.</Text>
  return (
    <Stack gap="sm" component="ol" className="plain-list" aria-label="Entries">
      {entries.map((entry, n) => {
        const reached = pagesWhere(resolved, entry.where as Parameters<typeof pagesWhere>[1])
        const except = entry.except
          ? new Set(pagesWhere(resolved, entry.except as Parameters<typeof pagesWhere>[1]).map(({ id }) => id))
          : undefined
        const pages = reached.filter(({ id }) => !except?.has(id))
        const gives = entry.template ? `template ${entry.template}` : entry.use ? `surround ${entry.use}` : 'settings'
        return (
          <Paper key={n} component="li" withBorder p="sm">
            <Group gap="sm">
              <Text fw={650}>
                {n + 1}. {gives}
              </Text>
              <Text size="sm">for {whereInWords(entry.where)}</Text>
              {entry.except && <Text size="sm">except {whereInWords(entry.except)}</Text>}
              <PlaceLink pointer={`/assign/${n}`} />
            </Group>
            <Text size="sm">
              {pages.length === 0 ? 'No page matches.' : `${count(pages.length, 'page')}: `}
              <PageLinks pages={pages.map(({ id }) => id)} />
            </Text>
            {entry.layout && <SettingsForm at={`assign.${n}`} session={session} plan={plan} ask={ask} />}
          </Paper>
        )
      })}
    </Stack>
  )
}

/** `kind article and tag meteors, or page visit`. */
const whereInWords = (where: unknown): string =>
  [where]
    .flat()
    .map((selector) =>
      Object.entries(selector as Readonly<Record<string, unknown>>)
        .map(([key, value]) => `${key} ${[value].flat().join(' or ')}`)
        .join(' and '),
    )
    .join(', or ')

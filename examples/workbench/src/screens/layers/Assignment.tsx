import { Box, Button, Group, Paper, Text } from '@mantine/core'
import { useEffect, useState } from 'react'
import type { SiteData } from 'wembra'
import { LongList } from '../../parts/LongList.tsx'
import { PageLinks, PAGES_NAMED } from '../../parts/PageLinks.tsx'
import { PlaceLink } from '../../parts/PlaceLink.tsx'
import { SettingsForm } from '../../parts/SettingsForm.tsx'
import { count } from '../../parts/words.ts'
import { replaceParams } from '../../session/use-route.ts'
import type { AssignedPages } from '../../worker/site.worker.ts'
import type { LayerProps } from './layer-props.ts'

/** Which pages get which template, surround or settings, entry by entry. */
export function Assignment({ session, plan, ask, params }: LayerProps) {
  const entries = session.resolved.site.data.assign ?? []
  const [assigned, setAssigned] = useState<readonly AssignedPages[]>()
  useEffect(() => {
    let isOver = false
    void ask()
      .then((work) => work.assigned(PAGES_NAMED))
      .then((found) => !isOver && setAssigned(found))
      .catch(() => undefined)
    return () => {
      isOver = true
    }
  }, [ask])
  if (entries.length === 0)
    return <Text>This site assigns nothing: every page takes what theme, kind and builder give.</Text>
  return (
    <LongList
      label="Entries"

      component="ol"
      gap="sm"
      of={entries}
      row={(entry, n) => {
        const isOpen = params.get('open') === String(n)
        return (
          <Paper key={n} component="li" withBorder p="sm">
            <Group gap="sm">
              <Text fw={650}>
                {n + 1}. {givenBy(entry)}
              </Text>
              <Text size="sm">for {whereInWords(entry.where)}</Text>
              {entry.except && <Text size="sm">except {whereInWords(entry.except)}</Text>}
              <PlaceLink pointer={`/assign/${n}`} />
              {entry.layout && (
                <Button
                  size="compact-xs"
                  variant="default"
                  ml="auto"
                  aria-expanded={isOpen}
                  onClick={() => replaceParams({ open: isOpen ? undefined : n })}
                >
                  Change
                </Button>
              )}
            </Group>
            <Meant pages={assigned?.[n]} />
            {isOpen && entry.layout && (
              <Box mt="sm">
                <SettingsForm at={`assign.${n}`} session={session} plan={plan} ask={ask} />
              </Box>
            )}
          </Paper>
        )
      }}
    />
  )
}

/** The pages that an entry means, once they are known. */
function Meant({ pages }: { readonly pages: AssignedPages | undefined }) {
  if (!pages) return <Text size="sm">…</Text>
  return (
    <Text size="sm">
      {pages.count === 0 ? 'No page matches.' : `${count(pages.count, 'page')}: `}
      <PageLinks pages={pages.first} />
    </Text>
  )
}

/** What an entry gives, in words: the settings by their names. */
function givenBy({ template, use, layout }: NonNullable<SiteData['assign']>[number]): string {
  if (template !== undefined) return `template ${template}`
  if (use !== undefined) return `surround ${use}`
  return Object.entries(layout ?? {})
    .flatMap(([facet, properties]) => Object.keys((properties ?? {}) as object).map((name) => `${facet}.${name}`))
    .join(', ')
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

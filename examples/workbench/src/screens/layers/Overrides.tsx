import { Anchor, Button, Group, Paper, Text } from '@mantine/core'
import { LongList } from '../../parts/LongList.tsx'
import { SettingsForm } from '../../parts/SettingsForm.tsx'
import { count } from '../../parts/words.ts'
import { pageAddress, replaceParams } from '../../session/use-route.ts'
import type { LayerProps } from './layer-props.ts'

/** The exceptions, page by page. */
export function Overrides({ session, plan, ask, params }: LayerProps) {
  const { resolved } = session
  const pages = resolved.pageIds.filter((id) => {
    const page = resolved.site.pageData(id)
    return page?.layout !== undefined || page?.template !== undefined
  })
  const open = params.get('open')
  return (
    <>
      <Text size="sm">
        {pages.length} of {count(resolved.pageIds.length, 'page')} have settings of their own.
      </Text>
      <LongList
        label="Pages with overrides"

        of={pages}
        row={(id) => {
          const page = resolved.site.pageData(id)
          const set = Object.entries(page?.layout ?? {}).flatMap(([facet, properties]) =>
            Object.keys((properties ?? {}) as object).map((property) => `${facet}.${property}`),
          )
          return (
            <Paper key={id} component="li" withBorder p="xs">
              <Group gap="sm">
                <Anchor href={pageAddress(id)} fw={600}>
                  {page?.title}
                </Anchor>
                <Text size="sm">
                  {[...(page?.template === undefined ? [] : [`template ${page.template}`]), ...set].join(', ')}
                </Text>
                <Button
                  size="compact-xs"
                  variant="default"
                  ml="auto"
                  aria-expanded={open === id}
                  onClick={() => replaceParams({ open: open === id ? undefined : id })}
                >
                  Change
                </Button>
              </Group>
              {open === id && <SettingsForm at={`pages.${id}`} session={session} plan={plan} ask={ask} />}
            </Paper>
          )
        }}
      />
    </>
  )
}

import { Anchor, Text } from '@mantine/core'
import { toPointer } from 'wembra'
import { LongList } from '../../parts/LongList.tsx'
import { PageLinks } from '../../parts/PageLinks.tsx'
import { PlaceLink } from '../../parts/PlaceLink.tsx'
import { pageAddress } from '../../session/use-route.ts'
import type { LayerProps } from './layer-props.ts'

/** What the builder placed: sections by page, and pages without any. */
export function Content({ session }: LayerProps) {
  const { resolved } = session
  const pages = resolved.pageIds.map((id) => ({ id, page: resolved.site.pageData(id) }))
  const hasContent = ({ page }: (typeof pages)[number]): boolean => (page?.body ?? []).length > 0
  const empty = pages.filter((each) => !hasContent(each))
  return (
    <>
      <Text size="sm">
        {pages.length - empty.length} pages have content; {empty.length} have none
        {empty.length > 0 && ': '}
        <PageLinks pages={empty.map(({ id }) => id)} />
      </Text>
      <LongList
        label="Pages with content"

        gap={4}
        of={pages.filter(hasContent)}
        row={({ id, page }) => {
          const sections = (page?.body ?? []).map(
            ({ section, band }) => `${section ?? 'item'}${band === 'full' ? ' (full)' : ''}`,
          )
          return (
            <li key={id} className="content-row">
              <Anchor href={pageAddress(id)} size="sm" fw={600}>
                {page?.title}
              </Anchor>
              <Text size="sm">{sections.join(', ')}</Text>
              <PlaceLink pointer={toPointer(['pages', id, 'body'])} />
            </li>
          )
        }}
      />
    </>
  )
}

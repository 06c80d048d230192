import { Badge, NavLink, ScrollArea, Text, TextInput } from '@mantine/core'
import { useMemo, useState } from 'react'
import type { Finding, ResolvedSite } from 'wembra'
import { pageAddress } from './use-route.ts'

interface Props {
  readonly resolved: ResolvedSite
  readonly findings: readonly Finding[]
  readonly current: string | undefined
}

/** All pages by kind, to be searched by title, path, id or tag. */
export function PageList({ resolved, findings, current }: Props) {
  const [words, setWords] = useState('')
  const counts = useMemo(() => countByPage(findings), [findings])
  const pages = [...resolved.pages()].filter((page) => {
    const { title, tags = [] } = page.data
    const text = [page.id, title, page.facts.path, page.facts.kind, ...tags].join(' ').toLowerCase()
    return words
      .toLowerCase()
      .split(/\s+/)
      .every((word) => text.includes(word))
  })
  const kinds = [...new Set(pages.map((page) => page.facts.kind))]
  return (
    <>
      <TextInput
        type="search"
        label="Find a page"
        placeholder="title, path, kind or tag"
        value={words}
        onChange={(event) => setWords(event.currentTarget.value)}
        my="sm"
      />
      <ScrollArea flex={1} type="auto" viewportProps={{ tabIndex: 0, role: 'group', 'aria-label': 'Pages by kind' }}>
        {pages.length === 0 && (
          <Text size="sm" c="dimmed" p="sm">
            No page has these words. Try fewer.
          </Text>
        )}
        {kinds.map((kind) => (
          <section key={kind} aria-label={labelOf(resolved, kind)}>
            <Text size="xs" fw={650} c="dimmed" mt="sm" mb={2} px={10}>
              {labelOf(resolved, kind)}
            </Text>
            {pages
              .filter((page) => page.facts.kind === kind)
              .map((page) => (
                <NavLink
                  key={page.id}
                  href={pageAddress(page.id)}
                  active={page.id === current}
                  aria-current={page.id === current ? 'page' : undefined}
                  label={page.data.title}
                  py={4}
                  rightSection={
                    counts.has(page.id) && (
                      <Badge color="red" variant="light" size="sm">
                        {counts.get(page.id)}
                      </Badge>
                    )
                  }
                />
              ))}
          </section>
        ))}
      </ScrollArea>
    </>
  )
}

const labelOf = (resolved: ResolvedSite, kind: string): string => resolved.site.data.kinds?.[kind]?.label ?? kind

function countByPage(findings: readonly Finding[]): ReadonlyMap<string, number> {
  const counts = new Map<string, number>()
  for (const finding of findings) for (const page of finding.pages) counts.set(page, (counts.get(page) ?? 0) + 1)
  return counts
}

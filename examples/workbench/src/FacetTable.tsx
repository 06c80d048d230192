import { Badge, Code, Table, Text, Title, UnstyledButton } from '@mantine/core'
import { Fragment, useState } from 'react'
import {
  facetsInPx,
  FACET_NAMES,
  measurePage,
  type ChainEntry,
  type Json,
  type Outcome,
  type ResolvedPage,
  type Viewport,
} from 'wembra'

interface Props {
  readonly page: ResolvedPage
  readonly viewports: readonly Viewport[]
}

/** Every property with a value at each viewport; a row opens onto its chain. */
export function FacetTable({ page, viewports }: Props) {
  const [open, setOpen] = useState<string>()
  const facets = viewports.map((v) => facetsInPx(measurePage(page, v.name)))
  return (
    <section aria-label="Facets">
      <Title order={3} size="h4" mb="xs">
        What it gets, and who decided
      </Title>
      <Table layout="fixed" verticalSpacing={5} className="facets">
        <Table.Thead>
          <Table.Tr>
            <Table.Th>property</Table.Th>
            {viewports.map((v) => (
              <Table.Th key={v.name}>
                {v.name} {v.width}
              </Table.Th>
            ))}
            <Table.Th>decided by</Table.Th>
          </Table.Tr>
        </Table.Thead>
        <Table.Tbody>
          {FACET_NAMES.flatMap((facet) =>
            Object.keys(facets[0]?.[facet] ?? {}).map((property) => {
              const path = `${facet}.${property}`
              const values = facets.map((f) => f[facet]?.[property] ?? null)
              if (values.every((v) => v === null)) return null
              const isOpen = open === path
              const winner = page.at(viewports[0]?.name ?? '').decider(path)
              return (
                <Fragment key={path}>
                  <Table.Tr>
                    <Table.Th scope="row" fw={500}>
                      <UnstyledButton
                        className="chain-button"
                        aria-expanded={isOpen}
                        onClick={() => setOpen(isOpen ? undefined : path)}
                      >
                        {isOpen ? '▾' : '▸'} {path}
                      </UnstyledButton>
                    </Table.Th>
                    {values.map((value, n) => (
                      <Table.Td key={viewports[n]?.name}>{plain(value)}</Table.Td>
                    ))}
                    <Table.Td>{winner?.layer ?? '–'}</Table.Td>
                  </Table.Tr>
                  {isOpen && (
                    <Table.Tr>
                      <Table.Td colSpan={viewports.length + 2} p={0}>
                        <Chains page={page} path={path} viewports={viewports} />
                      </Table.Td>
                    </Table.Tr>
                  )}
                </Fragment>
              )
            }),
          )}
        </Table.Tbody>
      </Table>
    </section>
  )
}

/** Who spoke on a property, strongest first; viewports that agree are said once. */
function Chains({ page, path, viewports }: Props & { readonly path: string }) {
  const groups = new Map<string, { names: string[]; chain: readonly ChainEntry[] }>()
  for (const { name } of viewports) {
    const chain = page.at(name).chain(path)
    const key = JSON.stringify(chain)
    const group = groups.get(key)
    if (group) group.names.push(name)
    else groups.set(key, { names: [name], chain })
  }
  return [...groups.values()].map(({ names, chain }) => (
    <div key={names.join()} className="chain">
      <Text size="xs" c="dimmed">
        {names.join(', ')}
      </Text>
      <ol>
        {chain.map((entry, n) => (
          <li key={n}>
            <Badge color={OUTCOMES[entry.outcome]} variant={entry.outcome === 'wins' ? 'filled' : 'light'} size="sm">
              {entry.outcome}
            </Badge>
            <Text span fw={650} size="sm">
              {plain(entry.value)}
            </Text>
            <Text span size="sm">
              {entry.because}
            </Text>
            {entry.at && (
              <Code>
                {entry.at.file}:{entry.at.line}:{entry.at.column}
              </Code>
            )}
          </li>
        ))}
      </ol>
    </div>
  ))
}

const OUTCOMES: Readonly<Record<Outcome, string>> = {
  wins: 'indigo',
  same: 'teal',
  outranked: 'gray',
  'locked out': 'red',
  'passed over': 'red',
}

function plain(value: Json): string {
  if (value === null) return '–'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (Array.isArray(value)) return value.map((each) => plain(each as Json)).join(' ')
  if (typeof value === 'object')
    return Object.entries(value)
      .map(([key, each]) => `${key} ${plain(each)}`)
      .join(', ')
  return String(value)
}

import { Badge, Button, Group, NativeSelect, Table, Text, TextInput, Title, UnstyledButton } from '@mantine/core'
import { Fragment, memo, useState } from 'react'
import {
  facetRecord,
  PathError,
  PROPERTY_PATHS,
  setPath,
  type ChainEntry,
  type Outcome,
  type Patch,
  type PropertyPath,
  type ResolvedPage,
  type Viewport,
} from 'wembra'
import type { Session } from '../session/use-session.ts'
import type { PlannedChange } from './ChangeDialog.tsx'
import { SourceLink } from './SourceLink.tsx'
import { asValue, inWords } from './words.ts'

interface Props {
  readonly page: ResolvedPage
  readonly session: Session
  readonly plan: (change: PlannedChange) => void
}

/** Every property with a value at each viewport; a row opens onto its chain, where it can be set differently. */
export const FacetTable = memo(function FacetTable({
  page,
  session,
  plan,
  facet,
}: Props & {
  /** Only its properties. */
  readonly facet?: string | undefined
}) {
  const [open, setOpen] = useState<string>()
  const { viewports } = session.resolved.site
  const record = facetRecord(page)
  const paths = PROPERTY_PATHS.filter((path) => facet === undefined || path.startsWith(`${facet}.`))
  return (
    <section aria-label="Facets">
      <Title order={3} size="h4" mb="xs">
        {facet === undefined ? 'All settings' : `Settings of the ${facet}`}
      </Title>
      <div className="facets">
        <Table layout="fixed" verticalSpacing={5} miw={560}>
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
            {paths.map((path) => {
              const values = viewports.map(({ name }) => record[name]?.[path] ?? null)
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
                      <Table.Td key={viewports[n]?.name}>{inWords(value)}</Table.Td>
                    ))}
                    <Table.Td>{winner?.layer ?? '–'}</Table.Td>
                  </Table.Tr>
                  {isOpen && (
                    <Table.Tr>
                      <Table.Td colSpan={viewports.length + 2} p={0}>
                        <Chains page={page} path={path} viewports={viewports} />
                        <SayOtherwise page={page} path={path} session={session} plan={plan} />
                      </Table.Td>
                    </Table.Tr>
                  )}
                </Fragment>
              )
            })}
          </Table.Tbody>
        </Table>
      </div>
    </section>
  )
})

/** The layers that set a property, strongest first; viewports that agree are shown once. */
function Chains({
  page,
  path,
  viewports,
}: {
  readonly page: ResolvedPage
  readonly path: PropertyPath
  readonly viewports: readonly Viewport[]
}) {
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
      <Text size="xs">{names.join(', ')}</Text>
      <ol>
        {chain.map((entry, n) => (
          <li key={n}>
            <Badge className={`outcome ${OUTCOME_CLASS[entry.outcome]}`} size="sm">
              {entry.outcome}
            </Badge>
            <Text span fw={650} size="sm">
              {inWords(entry.value)}
            </Text>
            <Text span size="sm">
              {entry.because}
            </Text>
            {entry.at && <SourceLink at={entry.at} isExact />}
          </li>
        ))}
      </ol>
    </div>
  ))
}

const OUTCOME_CLASS: Readonly<Record<Outcome, string>> = {
  wins: 'wins',
  same: 'same',
  overridden: 'overridden',
  locked: 'shut',
  skipped: 'shut',
}

/** The layers at which a property of this page can be set. */
function layersOf(
  { id, choice, facts }: ResolvedPage,
  { site, assignments }: Session['resolved'],
): readonly { value: string; label: string }[] {
  const template = choice.template?.id
  const entries = assignments.settingsFor(facts, template ?? null).filter(({ entry }) => entry.data.layout)
  return [
    { value: `pages.${id}`, label: 'this page' },
    ...(facts.builder !== undefined && site.data.builders?.[facts.builder]
      ? [{ value: `builders.${facts.builder}`, label: `builder ${facts.builder}` }]
      : []),
    ...entries.map(({ entry: { index } }) => ({ value: `assign.${index}`, label: `assign entry ${index + 1}` })),
    ...(template === undefined ? [] : [{ value: `templates.${template}`, label: `template ${template}` }]),
    ...(site.data.kinds?.[facts.kind] ? [{ value: `kinds.${facts.kind}`, label: `kind ${facts.kind}` }] : []),
    { value: 'theme', label: 'theme options' },
  ]
}

/** A value for a property at a layer; nothing is made of it before its reach was seen. */
function SayOtherwise({ page, path, session, plan }: Props & { readonly path: string }) {
  const layers = layersOf(page, session.resolved)
  const [layer, setLayer] = useState(layers[0]?.value ?? 'theme')
  const [text, setText] = useState('')
  const [problem, setProblem] = useState<string>()
  const look = (): void => {
    try {
      const patch: Patch = setPath(session.resolved.site, `${layer}.layout.${path}`, asValue(text))
      plan({ title: `${path}: ${text} (${layers.find((each) => each.value === layer)?.label ?? layer})`, patch })
      setProblem(undefined)
    } catch (error) {
      if (!(error instanceof PathError)) throw error
      setProblem(error.message)
    }
  }
  return (
    <form
      className="say-otherwise"
      onSubmit={(event) => {
        event.preventDefault()
        if (text.trim() !== '') look()
      }}
    >
      <Group align="flex-end" gap="sm">
        <NativeSelect
          size="xs"
          label="Set at"
          value={layer}
          onChange={(event) => setLayer(event.currentTarget.value)}
          data={[...layers]}
        />
        <TextInput
          size="xs"
          label={`Value of ${path}`}
          value={text}
          error={problem}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <Button size="xs" type="submit" variant="default" disabled={text.trim() === ''}>
          Preview the change
        </Button>
      </Group>
    </form>
  )
}

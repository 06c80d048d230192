import { Badge, Button, Group, NativeSelect, Table, Text, TextInput, Title, UnstyledButton } from '@mantine/core'
import { Fragment, memo, useMemo, useRef, useState } from 'react'
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
  type ResolvedSite,
  type Viewport,
} from 'wembra'
import type { Session } from '../session/use-session.ts'
import { tryChange, type PlannedChange, type Tried } from './ChangeDialog.tsx'
import { Preview } from './Preview.tsx'
import { PlaceLink } from './PlaceLink.tsx'
import { SourceLink } from './SourceLink.tsx'
import { asValue, inWords } from './words.ts'

interface Props {
  readonly page: ResolvedPage
  readonly session: Session
  readonly plan: (change: PlannedChange) => void
  /** At which viewport the page is looked at. */
  readonly viewport: string
}

/** Every property with a value at each viewport; a row opens onto its chain, where it can be set differently. */
export const FacetTable = memo(function FacetTable({
  page,
  session,
  plan,
  viewport,
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
                        <SayOtherwise page={page} path={path} session={session} plan={plan} viewport={viewport} />
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
    const key = JSON.stringify(
      chain.map(({ layer, value, outcome, because, pointer }) => [layer, value, outcome, because, pointer]),
    )
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
            <Place entry={entry} />
          </li>
        ))}
      </ol>
    </div>
  ))
}

/** Where a layer says it; CSS says it in a rule of a file, which is known. */
function Place({ entry }: { readonly entry: ChainEntry }) {
  if (entry.pointer === null) return null
  if (entry.layer === 'style' && entry.at) return <SourceLink at={entry.at} isExact />
  return <PlaceLink pointer={entry.pointer} isExact />
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

/** The change that a text in the form stands for; `undefined` where it is none yet. */
function changeOf(
  { site }: ResolvedSite,
  path: PropertyPath,
  { layer, label, text }: { readonly layer: string; readonly label: string; readonly text: string },
): PlannedChange | { readonly problem: string } | undefined {
  if (text.trim() === '') return undefined
  try {
    const patch: Patch = setPath(site, `${layer}.layout.${path}`, asValue(text))
    return { title: `${path}: ${text} (${label})`, patch }
  } catch (error) {
    if (!(error instanceof PathError)) throw error
    return { problem: error.message }
  }
}

/** A value for a property at a layer: the page as it would be while it is written, and what it reaches before it is made. */
function SayOtherwise({ page, path, session, plan, viewport }: Props & { readonly path: PropertyPath }) {
  const { resolved } = session
  const layers = layersOf(page, resolved)
  const [layer, setLayer] = useState(layers[0]?.value ?? 'theme')
  const [text, setText] = useState('')
  const [isAsked, setAsked] = useState(false)
  const label = layers.find((each) => each.value === layer)?.label ?? layer
  const change = useMemo(() => changeOf(resolved, path, { layer, label, text }), [resolved, path, layer, label, text])
  const problem = change && 'problem' in change ? change.problem : undefined
  const tried = change && 'patch' in change ? tryChange(resolved, change) : undefined
  // Half a value is none: until it is whole again, the page stays as it was shown last.
  const last = useRef(page)
  const now = text.trim() === '' ? page : seenAfter(tried, page.id)
  if (now) last.current = now
  return (
    <form
      className="say-otherwise"
      onSubmit={(event) => {
        event.preventDefault()
        setAsked(true)
        if (change && 'patch' in change) plan(change)
      }}
    >
      <div>
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
            error={isAsked ? problem : undefined}
            onChange={(event) => {
              setAsked(false)
              setText(event.currentTarget.value)
            }}
          />
          <Button size="xs" type="submit" variant="default" disabled={text.trim() === ''}>
            Preview the change
          </Button>
        </Group>
        <Text size="xs" c="dimmed" mt={8}>
          The preview follows what you write; nothing is changed before you apply it.
        </Text>
      </div>
      <section aria-label="As it would be" className="as-it-would-be">
        <Preview page={last.current} at={viewport} height={TRIAL} what="As it would be:" />
      </section>
    </form>
  )
}

/** Px of the screen for the page as it would be. */
const TRIAL = 240

/** A page after a change that can be made, where a visitor sees it. */
function seenAfter(tried: Tried | undefined, id: string): ResolvedPage | undefined {
  if (!tried || !('after' in tried) || !tried.after.site.pageData(id)) return undefined
  const page = tried.after.page(id)
  return page.dormant ? undefined : page
}

import { Anchor, Button, Group, Loader, Paper, Stack, Text, Title } from '@mantine/core'
import type { Remote } from 'comlink'
import { useEffect, useState } from 'react'
import type { Groups, MappedThing } from 'wembra'
import type { PlannedChange } from '../parts/ChangeDialog.tsx'
import { count } from '../parts/words.ts'
import { pageAddress, screenAddress } from '../session/use-route.ts'
import type { Session } from '../session/use-session.ts'
import type { Work } from '../worker/site.worker.ts'

interface Props {
  readonly session: Session
  readonly ask: () => Promise<Remote<Work>>
  readonly plan: (change: PlannedChange) => void
}

const SECTIONS = [
  ['template', 'Templates'],
  ['header', 'Headers'],
  ['footer', 'Footers'],
  ['sidebar', 'Sidebars'],
] as const

/** More pages than this are a bar, not one tick each. */
const MOST_TICKS = 400

/** Templates and surrounds, and the pages that get them or have them assigned but overridden. */
export function MapScreen({ session, ask, plan }: Props) {
  const [map, setMap] = useState<readonly MappedThing[]>()
  const [open, setOpen] = useState<string>()
  useEffect(() => {
    let isOver = false
    void ask()
      .then((work) => work.map())
      .then((found) => !isOver && setMap(found))
    return () => {
      isOver = true
    }
  }, [session.resolved])
  const { pageIds } = session.resolved
  return (
    <Stack gap="md">
      <Group justify="space-between">
        <Title order={2}>Templates and surrounds</Title>
        <Text size="sm" className="legend">
          <span className="tick wins" /> gets it <span className="tick overridden" /> assigned but overridden: another
          wins <span className="tick" /> no settings
        </Text>
      </Group>
      {!map && (
        <Group role="status">
          <Loader size="sm" />
          <Text>Going through the pages…</Text>
        </Group>
      )}
      {map &&
        SECTIONS.map(([as, title]) => (
          <section key={as} aria-label={title}>
            <Title order={3} size="h4" mb="xs">
              {title}
            </Title>
            <Stack gap={6} component="ul" className="plain-list">
              {map
                .filter((thing) => thing.as === as)
                .map((thing) => {
                  const key = `${as} ${thing.id}`
                  return (
                    <Paper key={key} component="li" withBorder p="xs">
                      <button
                        type="button"
                        className="map-row"
                        aria-expanded={open === key}
                        onClick={() => setOpen(open === key ? undefined : key)}
                      >
                        <span className="map-name">{thing.id}</span>
                        <span className="map-counts">
                          {thing.wins.length === 0 ? 'no page' : count(thing.wins.length, 'page')}
                          {thing.overridden.length > 0 && `, ${thing.overridden.length} overridden`}
                        </span>
                        <Ticks thing={thing} pages={pageIds} />
                      </button>
                      {open === key && <Details thing={thing} />}
                    </Paper>
                  )
                })}
            </Stack>
          </section>
        ))}
      <Proposals ask={ask} plan={plan} session={session} />
    </Stack>
  )
}

/** One tick for each page of the site, in its order. */
function Ticks({ thing, pages }: { readonly thing: MappedThing; readonly pages: readonly string[] }) {
  if (pages.length > MOST_TICKS) {
    const share = (n: number): string => `${((n / pages.length) * 100).toFixed(2)}%`
    return (
      <span className="ticks bar" aria-hidden="true">
        <span className="wins" style={{ width: share(thing.wins.length) }} />
        <span className="overridden" style={{ width: share(thing.overridden.length) }} />
      </span>
    )
  }
  const wins = new Set(thing.wins)
  const overridden = new Set(thing.overridden.map(({ page }) => page))
  return (
    <span className="ticks" aria-hidden="true">
      {pages.map((id) => (
        <span
          key={id}
          title={id}
          className={`tick ${wins.has(id) ? 'wins' : overridden.has(id) ? 'overridden' : ''}`}
        />
      ))}
    </span>
  )
}

const PAGES_NAMED = 40

function Details({ thing }: { readonly thing: MappedThing }) {
  return (
    <div className="map-details">
      {thing.wins.length > 0 && (
        <Text size="sm" component="div">
          Gets it:{' '}
          {thing.wins.slice(0, PAGES_NAMED).map((id) => (
            <Anchor key={id} href={pageAddress(id)} mr={8} underline="always">
              {id}
            </Anchor>
          ))}
          {thing.as === 'template' && thing.wins.length > PAGES_NAMED && (
            <Anchor href={screenAddress('pages', { template: thing.id })}>all {thing.wins.length}</Anchor>
          )}
        </Text>
      )}
      {thing.overridden.slice(0, PAGES_NAMED).map(({ page, because }) => (
        <Text size="sm" key={page}>
          <Anchor href={pageAddress(page)} underline="always">
            {page}
          </Anchor>
          , overridden: {because}
        </Text>
      ))}
    </div>
  )
}

/** Settings that could be set once instead of many times. */
function Proposals({ ask, plan, session }: Props) {
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
        <Group role="status">
          <Loader size="sm" />
          <Text>Trying each on every page…</Text>
        </Group>
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

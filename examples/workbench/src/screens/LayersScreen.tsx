import { Anchor, Button, Group, Loader, Paper, SegmentedControl, Stack, Text, TextInput, Title } from '@mantine/core'
import type { Remote } from 'comlink'
import { useCallback, useEffect, useState } from 'react'
import { pagesWhere, type Catalog, type Groups, type Json, type JsonObject, type MappedThing } from 'wembra'
import { surroundInWords, templateInWords } from 'wembra/report'
import type { PlannedChange } from '../parts/ChangeDialog.tsx'
import { Picture } from '../parts/Picture.tsx'
import { SettingsForm } from '../parts/SettingsForm.tsx'
import { count } from '../parts/words.ts'
import type { DrawPage } from '../session/draw.ts'
import { pageAddress, replaceParams, screenAddress, sourceAddress } from '../session/use-route.ts'
import type { Session } from '../session/use-session.ts'
import type { Work } from '../worker/site.worker.ts'

interface Props {
  readonly session: Session
  readonly ask: () => Promise<Remote<Work>>
  readonly plan: (change: PlannedChange) => void
  readonly params: URLSearchParams
  readonly draw: DrawPage
}

/** The steps in which a site is set up; each has its screen. */
const LAYERS = [
  ['theme', 'Theme'],
  ['surrounds', 'Surrounds'],
  ['templates', 'Templates'],
  ['assignment', 'Assignment'],
  ['overrides', 'Page overrides'],
  ['content', 'Content'],
] as const
type Layer = (typeof LAYERS)[number][0]

/** More pages than this are a bar, not one tick each. */
const MOST_TICKS = 400

/** Every layer that settings come from, in the order of the work: what it sets, and which pages it reaches. */
export function LayersScreen(props: Props) {
  const { params } = props
  const layer = LAYERS.find(([id]) => id === params.get('step'))?.[0] ?? 'theme'
  return (
    <Stack gap="md">
      <Group justify="space-between">
        <Title order={2}>Layers</Title>
        <SegmentedControl
          aria-label="Layer"
          data={LAYERS.map(([value, label], n) => ({ value, label: `${n + 1} ${label}` }))}
          value={layer}
          onChange={(step) => replaceParams({ step, open: undefined, setting: undefined })}
          className="layer-tabs"
        />
      </Group>
      <Layers layer={layer} {...props} />
    </Stack>
  )
}

function Layers({ layer, ...props }: Props & { readonly layer: Layer }) {
  switch (layer) {
    case 'theme':
      return <ThemeLayer {...props} />
    case 'surrounds':
    case 'templates':
      return <SharedThings key={layer} kind={layer} {...props} />
    case 'assignment':
      return <Assignment {...props} />
    case 'overrides':
      return <Overrides {...props} />
    case 'content':
      return <Content {...props} />
  }
}

/** The theme's settings, and those of kinds and builders, which come right after it. */
function ThemeLayer({ session, plan, params }: Props) {
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
        <SettingsForm key={setting} at="theme" session={session} plan={plan} setting={setting} />
      </section>
      {kinds.map((id) => (
        <section key={id} aria-label={`Kind ${id}`}>
          <Title order={3} size="h5" mb="xs">
            Kind {id}
          </Title>
          <SettingsForm at={`kinds.${id}`} session={session} plan={plan} />
        </section>
      ))}
      {builders.map((id) => (
        <section key={id} aria-label={`Builder ${id}`}>
          <Title order={3} size="h5" mb="xs">
            Builder {id}
          </Title>
          <SettingsForm at={`builders.${id}`} session={session} plan={plan} />
        </section>
      ))}
    </Stack>
  )
}

/** Templates or surrounds as cards: what each prints, a page of it as it looks, who gets it. */
function SharedThings({
  kind,
  session,
  ask,
  plan,
  params,
  draw,
}: Props & { readonly kind: 'templates' | 'surrounds' }) {
  const [catalog, setCatalog] = useState<Catalog>()
  const [map, setMap] = useState<readonly MappedThing[]>()
  useEffect(() => {
    let isOver = false
    void ask().then(async (work) => {
      const [things, all] = [await work.map(), await work.catalog()]
      if (isOver) return
      setMap(things)
      setCatalog(all)
    })
    return () => {
      isOver = true
    }
  }, [session.resolved])
  if (!catalog || !map)
    return (
      <Group role="status">
        <Loader size="sm" />
        <Text>Going through the pages…</Text>
      </Group>
    )
  const things =
    kind === 'templates'
      ? catalog.templates.map((t) => ({ id: t.id, note: t.label ?? '', pages: t.pages, lines: templateInWords(t) }))
      : catalog.surrounds.map((s) => ({ id: s.id, note: s.as, pages: s.pages, lines: surroundInWords(s) }))
  const open = params.get('open') ?? undefined
  return (
    <>
      <Text size="sm" className="legend">
        <span className="tick wins" /> gets it <span className="tick overridden" /> assigned but overridden{' '}
        <span className="tick" /> other pages
      </Text>
      {things.length === 0 && <Text>This site has no {kind}.</Text>}
      <div className="things">
        {things.map((thing) => (
          <Thing
            key={thing.id}
            kind={kind}
            thing={thing}
            mapped={map.find(({ id, as }) => id === thing.id && (as === 'template') === (kind === 'templates'))}
            isOpen={open === thing.id}
            session={session}
            plan={plan}
            draw={draw}
          />
        ))}
      </div>
      {kind === 'templates' && <Proposals ask={ask} plan={plan} session={session} />}
    </>
  )
}

interface ThingProps {
  readonly kind: 'templates' | 'surrounds'
  readonly thing: {
    readonly id: string
    readonly note: string
    readonly pages: readonly string[]
    readonly lines: readonly (readonly [string, string])[]
  }
  readonly mapped: MappedThing | undefined
  readonly isOpen: boolean
  readonly session: Session
  readonly plan: (change: PlannedChange) => void
  readonly draw: DrawPage
}

function Thing({ kind, thing, mapped, isOpen, session, plan, draw }: ThingProps) {
  const { resolved } = session
  const { id, note, pages, lines } = thing
  const [first] = pages
  const [viewport] = resolved.site.viewports
  const picture = useCallback(
    () => draw(resolved.page(first ?? ''), viewport?.name ?? ''),
    [draw, resolved, first, viewport],
  )
  return (
    <Paper component="section" withBorder p="sm" className="thing" aria-label={`${kind.slice(0, -1)} ${id}`}>
      <div className="thing-picture">
        {first !== undefined && viewport ? (
          <a href={pageAddress(first)} aria-label={`${first}, a page with ${id}`}>
            <Picture label="" viewport={viewport} draw={picture} />
          </a>
        ) : (
          <Text size="sm" c="dimmed">
            No page gets it.
          </Text>
        )}
      </div>
      <div className="thing-words">
        <button
          type="button"
          className="thing-name"
          aria-expanded={isOpen}
          onClick={() => replaceParams({ open: isOpen ? undefined : id })}
        >
          <strong>{id}</strong> {note}
          <span className="map-counts">
            {pages.length === 0 ? 'no page' : count(pages.length, 'page')}
            {mapped && mapped.overridden.length > 0 && `, ${mapped.overridden.length} overridden`}
          </span>
        </button>
        {mapped && <Ticks thing={mapped} pages={resolved.pageIds} />}
        <dl>
          {lines
            .filter(([name]) => name !== 'pages' && name !== 'overridden')
            .map(([name, text]) => (
              <div key={name}>
                <dt>{name}</dt>
                <dd>{text}</dd>
              </div>
            ))}
        </dl>
        {isOpen && (
          <>
            {mapped && <Details thing={mapped} />}
            {kind === 'templates' && <SettingsForm at={`templates.${id}`} session={session} plan={plan} />}
            <CopyThing kind={kind} id={id} session={session} plan={plan} />
          </>
        )}
      </div>
    </Paper>
  )
}

/** A copy under a name of its own, which remembers where it came from. */
function CopyThing({
  kind,
  id,
  session,
  plan,
}: Pick<ThingProps, 'kind' | 'session' | 'plan'> & { readonly id: string }) {
  const all = (session.resolved.site.data[kind] ?? {}) as Readonly<Record<string, Json>>
  const [name, setName] = useState(`${id}-copy`)
  const isTaken = Object.hasOwn(all, name)
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        const value = { ...(all[id] as JsonObject), copyOf: id }
        plan({ title: `copy ${id} as ${name}`, patch: [{ op: 'add', path: `/${kind}/${pointerKey(name)}`, value }] })
      }}
    >
      <Group align="flex-end" gap="sm" mt="sm">
        <TextInput
          size="xs"
          label={`Name of a copy of ${id}`}
          value={name}
          error={isTaken ? 'this name is taken' : undefined}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <Button size="xs" type="submit" variant="default" disabled={isTaken || name.trim() === ''}>
          Preview the copy
        </Button>
      </Group>
    </form>
  )
}

const pointerKey = (key: string): string => key.replaceAll('~', '~0').replaceAll('/', '~1')

/** Which pages get which template, surround or settings, entry by entry. */
function Assignment({ session, plan }: Props) {
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
        const place = resolved.site.locate(`/assign/${n}`)
        const gives = entry.template ? `template ${entry.template}` : entry.use ? `surround ${entry.use}` : 'settings'
        return (
          <Paper key={n} component="li" withBorder p="sm">
            <Group gap="sm">
              <Text fw={650}>
                {n + 1}. {gives}
              </Text>
              <Text size="sm">for {whereInWords(entry.where)}</Text>
              {entry.except && <Text size="sm">except {whereInWords(entry.except)}</Text>}
              <Anchor href={sourceAddress(place.file, place.line)} size="xs" ff="monospace" underline="always">
                {place.file}:{place.line}
              </Anchor>
            </Group>
            <Text size="sm">
              {pages.length === 0 ? 'No page matches.' : `${count(pages.length, 'page')}: `}
              {pages.slice(0, PAGES_NAMED).map(({ id }) => (
                <Anchor key={id} href={pageAddress(id)} mr={8} underline="always" size="sm">
                  {id}
                </Anchor>
              ))}
            </Text>
            {entry.layout && <SettingsForm at={`assign.${n}`} session={session} plan={plan} />}
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

/** The exceptions, page by page. */
function Overrides({ session, plan, params }: Props) {
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
      <Stack gap={6} component="ul" className="plain-list" aria-label="Pages with overrides">
        {pages.slice(0, MOST_OVERRIDES).map((id) => {
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
              {open === id && <SettingsForm at={`pages.${id}`} session={session} plan={plan} />}
            </Paper>
          )
        })}
      </Stack>
      {pages.length > MOST_OVERRIDES && <Text size="sm">and {count(pages.length - MOST_OVERRIDES, 'more page')}</Text>}
    </>
  )
}

/** Longer lists are no screen, but a table: that of all pages. */
const MOST_OVERRIDES = 300

/** What the builder placed: sections by page, and pages without any. */
function Content({ session }: Props) {
  const { resolved } = session
  const pages = resolved.pageIds.map((id) => ({ id, page: resolved.site.pageData(id) }))
  const empty = pages.filter(({ page }) => (page?.body ?? []).length === 0)
  return (
    <>
      <Text size="sm">
        {pages.length - empty.length} pages have content; {empty.length} have none
        {empty.length > 0 && ': '}
        {empty.slice(0, PAGES_NAMED).map(({ id }) => (
          <Anchor key={id} href={pageAddress(id)} mr={8} underline="always" size="sm">
            {id}
          </Anchor>
        ))}
      </Text>
      <Stack gap={4} component="ul" className="plain-list" aria-label="Pages with content">
        {pages
          .filter(({ page }) => (page?.body ?? []).length > 0)
          .slice(0, MOST_OVERRIDES)
          .map(({ id, page }) => {
            const place = resolved.site.locate(`/pages/${pointerKey(id)}/body`)
            const sections = (page?.body ?? []).map(
              ({ section, band }) => `${section ?? 'item'}${band === 'full' ? ' (full)' : ''}`,
            )
            return (
              <li key={id} className="content-row">
                <Anchor href={pageAddress(id)} size="sm" fw={600}>
                  {page?.title}
                </Anchor>
                <Text size="sm">{sections.join(', ')}</Text>
                <Anchor href={sourceAddress(place.file, place.line)} size="xs" ff="monospace" underline="always">
                  {place.file}:{place.line}
                </Anchor>
              </li>
            )
          })}
      </Stack>
    </>
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
function Proposals({ ask, plan, session }: Pick<Props, 'ask' | 'plan' | 'session'>) {
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

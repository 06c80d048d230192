import { Button, Group, Paper, Text, TextInput } from '@mantine/core'
import { useCallback, useEffect, useState } from 'react'
import { toPointer, type Catalog, type Json, type JsonObject, type MappedThing } from 'wembra'
import { surroundInWords, templateInWords } from 'wembra/report'
import { Busy } from '../../parts/Busy.tsx'
import type { PlannedChange } from '../../parts/ChangeDialog.tsx'
import { Picture } from '../../parts/Picture.tsx'
import { SettingsForm } from '../../parts/SettingsForm.tsx'
import { ThingForm } from '../../parts/ThingForm.tsx'
import { count } from '../../parts/words.ts'
import type { DrawPage } from '../../session/draw.ts'
import { pageAddress, replaceParams } from '../../session/use-route.ts'
import type { Session } from '../../session/use-session.ts'
import type { LayerProps } from './layer-props.ts'
import { Proposals } from './Proposals.tsx'
import { Reach, Ticks } from './Reach.tsx'

/** Templates or surrounds as cards: what each prints, a page of it as it looks, who gets it. */
export function SharedThings({
  kind,
  session,
  ask,
  plan,
  params,
  draw,
}: LayerProps & { readonly kind: 'templates' | 'surrounds' }) {
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
  if (!catalog || !map) return <Busy with="Going through the pages" />
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
            ask={ask}
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
  readonly ask: LayerProps['ask']
}

function Thing({ kind, thing, mapped, isOpen, session, plan, draw, ask }: ThingProps) {
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
            {mapped && <Reach thing={mapped} />}
            {kind === 'templates' && <SettingsForm at={`templates.${id}`} session={session} plan={plan} ask={ask} />}
            {kind === 'surrounds' && (
              <ThingForm
                at={`surrounds.${id}`}
                name={id}
                value={resolved.site.data.surrounds?.[id] as unknown as Readonly<Record<string, Json>>}
                session={session}
                plan={plan}
              />
            )}
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
        plan({ title: `copy ${id} as ${name}`, patch: [{ op: 'add', path: toPointer([kind, name]), value }] })
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

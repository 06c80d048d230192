import { Alert, Button, Code, Group, Modal, NativeSelect, Slider, Stack, Text, Title } from '@mantine/core'
import type { Remote } from 'comlink'
import { useCallback, useEffect, useMemo, useState } from 'react'
import { SiteError, type Patch, type ResolvedSite, type SiteDiff } from 'wembra'
import { changeInWords, groupHeadline } from 'wembra/report'
import type { Session } from '../session/use-session.ts'
import type { Work } from '../worker/site.worker.ts'
import { Busy } from './Busy.tsx'
import { Picture } from './Picture.tsx'
import type { DrawPage } from '../session/draw.ts'
import { count } from './words.ts'

/** A change that somebody thinks of making. */
export interface PlannedChange {
  readonly title: string
  readonly patch: Patch
  /** A fix that was tried before it was offered. */
  readonly isProven?: true
}

interface Props {
  readonly change: PlannedChange
  readonly session: Session
  readonly ask: () => Promise<Remote<Work>>
  readonly draw: DrawPage
  /** The page that is being looked at. */
  readonly page: string | undefined
  readonly onClose: () => void
}

const GROUPS_SHOWN = 8

/** What became of a change that was tried. */
export type Tried = { readonly after: ResolvedSite } | { readonly because: string }

const lastTried = new WeakMap<PlannedChange, { readonly on: ResolvedSite; readonly tried: Tried }>()

/** The site as a change would leave it, or why it cannot be; worked out once. */
export function tryChange(resolved: ResolvedSite, change: PlannedChange): Tried {
  const known = lastTried.get(change)
  if (known?.on === resolved) return known.tried
  let tried: Tried
  try {
    tried = { after: resolved.with(change.patch) }
  } catch (error) {
    const because = error instanceof SiteError ? error.problems.map((p) => p.message).join('; ') : String(error)
    tried = { because }
  }
  lastTried.set(change, { on: resolved, tried })
  return tried
}

/** Draws what the dialog shows first while the dialog itself is still to come. */
export function drawAhead(
  resolved: ResolvedSite,
  change: PlannedChange,
  page: string | undefined,
  draw: DrawPage,
): void {
  const tried = tryChange(resolved, change)
  const [first] = resolved.site.viewports
  const id = 'after' in tried ? firstReached(resolved, tried.after, page) : undefined
  if (!('after' in tried) || id === undefined || !first) return
  for (const made of [draw(resolved.page(id), first.name), draw(tried.after.page(id), first.name, change.patch)])
    made.catch(() => undefined)
}

/** What a change would do, before it is made: how many pages, how, before and after, and what would be written. */
export function ChangeDialog(props: Props) {
  return (
    <Modal.Root opened onClose={props.onClose} size="xl" transitionProps={{ duration: 0 }}>
      <Modal.Overlay />
      <Modal.Content className="change-dialog">
        <Modal.Body pt="md" pb={0}>
          <Outlook {...props} />
        </Modal.Body>
      </Modal.Content>
    </Modal.Root>
  )
}

/** The pictures ask first, for a page is drawn at once; what the change reaches is asked after them. */
function Outlook({ change, session, ask, draw, page, onClose }: Props) {
  const { resolved } = session
  const [refused, refuse] = useState<string>()
  const [diff, setDiff] = useState<SiteDiff>()
  const [reach, setReach] = useState<number>()
  const [text, setText] = useState('')
  const tried = useMemo(() => tryChange(resolved, change), [resolved, change])
  useEffect(() => {
    let isOver = false
    if ('after' in tried)
      void ask()
        .then(async (work) => {
          const reached = await work.reach(change.patch)
          if (isOver) return
          setReach(reached)
          const lines = await work.lines(change.patch)
          if (isOver) return
          setText(lines)
          const found = await work.diff(change.patch)
          if (!isOver) setDiff(found)
        })
        .catch((error: unknown) => !isOver && refuse(String(error)))
    return () => {
      isOver = true
      void ask().then((work) => work.leave())
    }
    // The question is asked once for each change.
  }, [change])
  const [isApplying, setApplying] = useState(false)
  const take = async (): Promise<void> => {
    setApplying(true)
    const because = await session.apply(change.patch, change.title).catch((error: unknown) => String(error))
    setApplying(false)
    if (because === undefined) onClose()
    else refuse(because)
  }
  return (
    <Stack gap="sm" className="outlook">
      <Modal.Title fz="h4" fw={650}>
        {change.title}
      </Modal.Title>
      {'because' in tried ? (
        <Alert color="red" role="alert" title="This cannot be done">
          {tried.because}
        </Alert>
      ) : (
        <>
          {change.isProven && (
            <Text size="sm">Tested before it is offered: it resolves the conflict and causes no new one.</Text>
          )}
          <Text fw={600} role="status">
            {reach === undefined
              ? 'Working out its reach…'
              : reach === 0
                ? 'No page gets other facets.'
                : `${count(reach, 'page')} ${reach === 1 ? 'gets' : 'get'} other facets.`}
            {diff &&
              ` Conflicts: ${diff.caused.length} new, ${diff.cured.length} gone, ${diff.worse.length} worse, ${diff.better.length} better.`}
          </Text>
          <BeforeAndAfter session={session} tried={tried} diff={diff} change={change} draw={draw} page={page} />
          {diff ? (
            diff.groups.slice(0, GROUPS_SHOWN).map((group) => (
              <div key={group.pages.join()} className="change-group">
                <Text fw={600} size="sm">
                  {groupHeadline(group)}
                </Text>
                {changeInWords(group).map((line) => (
                  <Text key={line} size="sm">
                    {line}
                  </Text>
                ))}
                {group.pages.length > 1 && (
                  <Text size="sm" c="dimmed">
                    {group.pages.slice(0, 12).join(', ')}
                    {group.pages.length > 12 ? `, and ${group.pages.length - 12} more` : ''}
                  </Text>
                )}
              </div>
            ))
          ) : (
            <Busy with="Working out every box" />
          )}
          {diff && diff.groups.length > GROUPS_SHOWN && (
            <Text size="sm">and {count(diff.groups.length - GROUPS_SHOWN, 'other kind')} of change</Text>
          )}
          <div>
            <Title order={3} size="h6" mb={4}>
              What would be written
            </Title>
            <Code block className="text-diff" tabIndex={0} role="group" aria-label="What would be written">
              {text}
            </Code>
          </div>
        </>
      )}
      {refused !== undefined && (
        <Alert color="red" role="alert" title="It was not made">
          {refused}
        </Alert>
      )}
      <Group justify="flex-end" className="dialog-foot">
        <Button variant="default" onClick={onClose}>
          Cancel
        </Button>
        <Button onClick={() => void take()} disabled={'because' in tried} loading={isApplying} data-autofocus>
          Apply
        </Button>
      </Group>
    </Stack>
  )
}

/** Whether a page can be looked at before a change and after it. */
function isSeen(before: ResolvedSite, after: ResolvedSite, id: string): boolean {
  const isThere = before.site.pageData(id) !== undefined && after.site.pageData(id) !== undefined
  return isThere && !before.page(id).dormant && !after.page(id).dormant
}

/** The page that is looked at, else one of those that a change may reach. */
function firstReached(before: ResolvedSite, after: ResolvedSite, page: string | undefined): string | undefined {
  const reach = after.change?.reach ?? 'all'
  if (page !== undefined && (reach === 'all' || reach.has(page)) && isSeen(before, after, page)) return page
  for (const id of reach === 'all' ? after.pageIds : reach) if (isSeen(before, after, id)) return id
  return undefined
}

/** The pages that change, before and after, one over the other: the handle uncovers the one or the other. */
function BeforeAndAfter({
  session,
  tried,
  diff,
  change,
  draw,
  page,
}: {
  readonly session: Session
  readonly tried: { readonly after: ResolvedSite }
  readonly diff: SiteDiff | undefined
  readonly change: PlannedChange
  readonly draw: DrawPage
  readonly page: string | undefined
}) {
  const { resolved } = session
  const pages = useMemo(() => {
    // What is looked at changes at once; which others do takes its time.
    const first = firstReached(resolved, tried.after, page)
    const changed = (diff?.groups ?? []).flatMap(({ pages: each }) =>
      each.filter((id) => isSeen(resolved, tried.after, id)),
    )
    return diff && (first === undefined || !changed.includes(first)) ? changed : [first ?? [], ...changed].flat()
  }, [diff, resolved, tried.after, page])
  const [asked, setAsked] = useState<string>()
  const [viewport, setViewport] = useState(resolved.site.viewports[0]?.name ?? '')
  const [share, setShare] = useState(50)
  const id = asked ?? pages[0]
  const before = useCallback(() => draw(resolved.page(id ?? ''), viewport), [draw, resolved, id, viewport])
  const after = useCallback(
    () => draw(tried.after.page(id ?? ''), viewport, change.patch),
    [draw, tried.after, id, viewport, change.patch],
  )
  const seen = resolved.site.viewports.find(({ name }) => name === viewport)
  if (id === undefined || !seen) return null
  // A phone's page is as tall as a desk's here, and narrower.
  const broad = Math.min(760, (420 * seen.width) / seen.height)
  return (
    <section aria-label="Before and after">
      <Group gap="sm" mb={6}>
        <NativeSelect
          size="xs"
          aria-label="Page of the preview"
          value={id}
          onChange={(event) => setAsked(event.currentTarget.value)}
          data={[...new Set(pages)]}
        />
        <NativeSelect
          size="xs"
          aria-label="Viewport of the preview"
          value={viewport}
          onChange={(event) => setViewport(event.currentTarget.value)}
          data={resolved.site.viewports.map(({ name }) => name)}
        />
        <Text size="xs" c="dimmed">
          left of the handle before, right of it after
        </Text>
      </Group>
      <div className="before-after" style={{ maxWidth: broad }}>
        <figure>
          <figcaption>before</figcaption>
          <Picture label={`${id} before`} viewport={seen} draw={before} />
        </figure>
        <figure style={{ clipPath: `inset(0 0 0 ${share}%)` }}>
          <figcaption className="is-after">after</figcaption>
          <Picture label={`${id} after`} viewport={seen} draw={after} />
        </figure>
        <span className="handle" style={{ left: `${share}%` }} aria-hidden="true" />
      </div>
      <Slider
        mt={8}
        maw={broad}
        size="sm"
        label={null}
        thumbLabel="How much of the page is shown as it is before"
        value={share}
        onChange={setShare}
      />
    </section>
  )
}

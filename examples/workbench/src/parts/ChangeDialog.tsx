import { Alert, Button, Code, Group, Loader, Modal, NativeSelect, Slider, Stack, Text, Title } from '@mantine/core'
import type { Remote } from 'comlink'
import { useCallback, useEffect, useMemo, useState } from 'react'
import { SiteError, type Patch, type SiteDiff } from 'wembra'
import { changeInWords, groupHeadline } from 'wembra/report'
import type { Session } from '../session/use-session.ts'
import type { Work } from '../worker/site.worker.ts'
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
  readonly onClose: () => void
}

const GROUPS_SHOWN = 8

/** What a change would do, before it is made: how many pages, how, before and after, and what would be written. */
export function ChangeDialog({ change, session, ask, draw, onClose }: Props) {
  const { resolved } = session
  const [refused, refuse] = useState<string>()
  const [diff, setDiff] = useState<SiteDiff>()
  const [reach, setReach] = useState<number>()
  const [text, setText] = useState('')
  const tried = useMemo(() => {
    try {
      return { after: resolved.with(change.patch) }
    } catch (error) {
      return {
        because:
          error instanceof SiteError ? error.problems.map((p) => p.message).join('; ') : (error as Error).message,
      }
    }
  }, [resolved, change])
  useEffect(() => {
    let isOver = false
    if ('after' in tried)
      void ask()
        .then(async (work) => {
          const reached = await work.reach(change.patch)
          if (!isOver) setReach(reached)
          const lines = await work.lines(change.patch)
          if (!isOver) setText(lines)
          const found = await work.diff(change.patch)
          if (!isOver) setDiff(found)
        })
        .catch((error: unknown) => !isOver && refuse(String(error)))
    return () => {
      isOver = true
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
    <Modal.Root opened onClose={onClose} size="xl" transitionProps={{ duration: 0 }}>
      <Modal.Overlay />
      <Modal.Content>
        <Modal.Body pt="md">
          <Stack gap="sm">
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
                <BeforeAndAfter session={session} tried={tried} diff={diff} change={change} draw={draw} />
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
                  <Group gap="xs">
                    <Loader size="xs" />
                    <Text size="sm">Working out every box…</Text>
                  </Group>
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
        </Modal.Body>
      </Modal.Content>
    </Modal.Root>
  )
}

/** The pages that change, before and after, one over the other: the handle uncovers the one or the other. */
function BeforeAndAfter({
  session,
  tried,
  diff,
  change,
  draw,
}: {
  readonly session: Session
  readonly tried: { readonly after: Session['resolved'] }
  readonly diff: SiteDiff | undefined
  readonly change: PlannedChange
  readonly draw: DrawPage
}) {
  const { resolved } = session
  const pages = useMemo(
    () =>
      (diff?.groups ?? []).flatMap(({ pages: each }) =>
        each.filter((id) => {
          const isThere = resolved.site.pageData(id) !== undefined && tried.after.site.pageData(id) !== undefined
          return isThere && !resolved.page(id).dormant && !tried.after.page(id).dormant
        }),
      ),
    [diff, resolved, tried.after],
  )
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

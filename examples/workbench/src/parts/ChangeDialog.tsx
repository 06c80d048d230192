import { Alert, Button, Code, Group, Loader, Modal, Stack, Text, Title } from '@mantine/core'
import type { Remote } from 'comlink'
import { createTwoFilesPatch } from 'diff'
import { useEffect, useMemo, useState } from 'react'
import { diffFacets, rewriteSite, SiteError, type Patch, type SiteDiff } from 'wembra'
import { changeInWords, groupHeadline } from 'wembra/report'
import type { Session } from '../session/use-session.ts'
import type { Work } from '../worker/site.worker.ts'
import { Drawing } from './Drawing.tsx'
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
  readonly onClose: () => void
}

const GROUPS_SHOWN = 8

/** What a change would do, before it is made: how many pages, how, before and after, and what would be written. */
export function ChangeDialog({ change, session, ask, onClose }: Props) {
  const { resolved } = session
  const [refused, refuse] = useState<string>()
  const [diff, setDiff] = useState<SiteDiff>()
  const tried = useMemo(() => {
    try {
      const after = resolved.with(change.patch)
      return { after, quick: diffFacets(resolved, after), text: textDiff(session, change.patch) }
    } catch (error) {
      return {
        because:
          error instanceof SiteError ? error.problems.map((p) => p.message).join('; ') : (error as Error).message,
      }
    }
  }, [resolved, change, session])
  useEffect(() => {
    let isOver = false
    if ('after' in tried)
      void ask()
        .then((work) => work.diff(change.patch))
        .then((found) => !isOver && setDiff(found))
        .catch((error: unknown) => !isOver && refuse(String(error)))
    return () => {
      isOver = true
    }
    // The question is asked once for each change.
  }, [change])
  const take = (): void => {
    const because = session.apply(change.patch, change.title)
    if (because === undefined) onClose()
    else refuse(because)
  }
  const pages = 'quick' in tried ? tried.quick.reduce((sum, group) => sum + group.pages.length, 0) : 0
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
                  {pages === 0
                    ? 'No page gets other facets.'
                    : `${count(pages, 'page')} ${pages === 1 ? 'gets' : 'get'} other facets.`}
                  {diff &&
                    ` Conflicts: ${diff.caused.length} new, ${diff.cured.length} gone, ${diff.worse.length} worse, ${diff.better.length} better.`}
                </Text>
                <BeforeAndAfter session={session} tried={tried} diff={diff} />
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
                  <Code block className="text-diff">
                    {tried.text}
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
              <Button onClick={take} disabled={'because' in tried} data-autofocus>
                Apply
              </Button>
            </Group>
          </Stack>
        </Modal.Body>
      </Modal.Content>
    </Modal.Root>
  )
}

function BeforeAndAfter({
  session,
  tried,
  diff,
}: {
  readonly session: Session
  readonly tried: { readonly after: Session['resolved'] }
  readonly diff: SiteDiff | undefined
}) {
  const id = diff?.groups[0]?.pages[0]
  const at = useMemo(() => session.resolved.site.viewports.map((v) => v.name).slice(0, 1), [session.resolved])
  if (
    id === undefined ||
    !tried.after.site.pageData(id) ||
    tried.after.page(id).dormant ||
    session.resolved.page(id).dormant
  )
    return null
  return (
    <div className="before-after">
      {(
        [
          ['before', session.resolved],
          ['after', tried.after],
        ] as const
      ).map(([name, site]) => (
        <figure key={name}>
          <figcaption>
            {id} {name}
          </figcaption>
          <Drawing page={site.page(id)} at={at} width={360} labels={false} idPrefix={`${name}-`} />
        </figure>
      ))}
    </div>
  )
}

/** The lines that would change, file by file. */
function textDiff({ resolved, texts }: Session, patch: Patch): string {
  const written = rewriteSite(resolved.site, patch).texts
  return [...written]
    .map(([file, text]) =>
      createTwoFilesPatch(file, file, texts[file] ?? '', text, undefined, undefined, { context: 2 }).replace(
        /^(Index:.*|=+)\n/gm,
        '',
      ),
    )
    .join('\n')
}

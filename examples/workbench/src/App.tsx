import { Alert, Button, Center, Code, Loader, Stack, Text, Title } from '@mantine/core'
import { useCallback, useEffect, useState } from 'react'
import { formatProblem, type ResolvedSite } from 'wembra'
import { demoProject } from './session/demo-project.ts'
import { openFiles, openHandles } from './session/open-files.ts'
import { OpenSite, type Project } from './session/project.ts'
import { fetchProject, isServed } from './session/server.ts'
import { forgetSession, storedSession, type Stored } from './session/use-session.ts'
import { Asker } from './worker/asker.ts'
import { Workbench } from './Workbench.tsx'

interface Opened {
  readonly project: Project
  readonly site: OpenSite
  readonly resolved: ResolvedSite
  readonly stored: Stored | undefined
  readonly version: string
  /** Another session, even of the same site, begins anew. */
  readonly key: number
}

let sessions = 0

/** The worker is loaded while the site is still to come, and reads it at the same time as the app. */
const asker = new Asker()

/** Opens what was given: by the command line, what was open last, else the demo site. */
export function App() {
  const [opened, setOpened] = useState<Opened>()
  const [problems, setProblems] = useState<readonly string[]>([])

  const open = useCallback((project: Project, stored?: Stored, version = ''): void => {
    performance.mark('wembra-reading')
    const texts = stored?.texts ?? project.texts
    void asker.about(project, texts)
    const site = new OpenSite(project, texts)
    const read = site.read(texts)
    performance.mark('wembra-read')
    if ('problems' in read) return setProblems(read.problems.map(formatProblem))
    setProblems([])
    setOpened({ project, site, resolved: read.resolved, stored, version, key: ++sessions })
  }, [])

  const fail = useCallback(
    (error: unknown) => setProblems([error instanceof Error ? error.message : String(error)]),
    [],
  )
  const openDropped = useCallback(
    (files: readonly File[]) =>
      void openFiles(files)
        .then((project) => open(project))
        .catch(fail),
    [open, fail],
  )

  useEffect(() => {
    void (async () => {
      if (isServed()) {
        const { project, version } = await fetchProject()
        const left = await storedSession()
        // What was not saved is taken up again, as long as the files are those it was made on.
        return open(project, left?.version === version ? left : undefined, version)
      }
      const stored = await storedSession()
      open(stored?.project ?? demoProject(), stored)
    })().catch(fail)
  }, [open, fail])

  useEffect(() => {
    const over = (event: DragEvent): void => event.preventDefault()
    const drop = (event: DragEvent): void => {
      event.preventDefault()
      const files = [...(event.dataTransfer?.files ?? [])]
      if (files.length > 0) openDropped(files)
    }
    addEventListener('dragover', over)
    addEventListener('drop', drop)
    return () => {
      removeEventListener('dragover', over)
      removeEventListener('drop', drop)
    }
  }, [openDropped])

  const openPicked = useCallback(
    () =>
      void openHandles()
        .then((project) => project && open(project))
        .catch(fail),
    [open, fail],
  )
  const openDemo = useCallback(() => void forgetSession().then(() => open(demoProject())), [open])

  if (problems.length > 0)
    return (
      <Problems problems={problems} onBack={opened ? () => setProblems([]) : openDemo} isOpen={opened !== undefined} />
    )
  if (!opened)
    return (
      <Center mih="60vh" role="status" aria-label="Opening the site">
        <Loader />
      </Center>
    )
  return (
    <Workbench
      key={opened.key}
      project={opened.project}
      site={opened.site}
      resolved={opened.resolved}
      stored={opened.stored}
      version={opened.version}
      asker={asker}
      onOpenFiles={openDropped}
      onOpenHandles={openPicked}
      onOpenDemo={openDemo}
    />
  )
}

/** What stands in the way of opening a site, with places. */
function Problems({
  problems,
  onBack,
  isOpen,
}: {
  readonly problems: readonly string[]
  readonly onBack: () => void
  readonly isOpen: boolean
}) {
  return (
    <Stack component="main" p="xl" maw={900} mx="auto">
      <Title order={1} size="h2">
        The site cannot be opened
      </Title>
      <Alert color="red" role="alert">
        {problems.slice(0, 40).map((problem) => (
          <Code key={problem} block mb={4}>
            {problem}
          </Code>
        ))}
        {problems.length > 40 && <Text size="sm">and {problems.length - 40} more</Text>}
      </Alert>
      <div>
        <Button onClick={onBack}>{isOpen ? 'Back to the open site' : 'Open the demo site'}</Button>
      </div>
    </Stack>
  )
}

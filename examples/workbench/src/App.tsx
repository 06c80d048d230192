import { Alert, Button, Center, Code, Loader, Stack, Text, Title } from '@mantine/core'
import { Activity, startTransition, useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { deserializeSite, formatProblem, resolveSite } from 'wembra'
import { openFiles, openHandles } from './session/open-files.ts'
import { Pictures } from './session/pictures.ts'
import { ProjectFiles, type Project } from './session/project.ts'
import { fetchProject, isServed } from './session/server.ts'
import { forgetSession, storedSession, type OpenedProject, type Stored } from './session/use-session.ts'
import { Asker } from './worker/asker.ts'
import { Workbench } from './Workbench.tsx'

/** Who opens a site of their own does not load the demo site. */
const demoProject = async (): Promise<Project> => (await import('./session/demo-project.ts')).demoProject()

interface Opened extends OpenedProject {
  readonly pictures: Pictures
  /** Another session, even of the same site, begins anew. */
  readonly key: number
}

let sessions = 0

/** The worker is loaded while the site is still to come, and reads it, so that the page stays usable meanwhile. */
const asker = new Asker()

/** Opens what was given: by the command line, what was open last, else the demo site. */
export function App() {
  const [opened, setOpened] = useState<Opened>()
  const [isReading, setReading] = useState(true)
  const [problems, setProblems] = useState<readonly string[]>([])
  const asked = useRef(0)

  const open = useCallback(async (project: Project, stored?: Stored, version = ''): Promise<void> => {
    const turn = ++asked.current
    performance.mark('wembra-reading')
    setReading(true)
    const files = new ProjectFiles(project, stored?.texts ?? project.texts)
    const told = await asker.read(project, files.texts)
    // What was asked for last is what is opened.
    if (turn !== asked.current) return
    if ('problems' in told) {
      setReading(false)
      return setProblems(told.problems.map(formatProblem))
    }
    const resolved = resolveSite(deserializeSite(told.site, files.files))
    performance.mark('wembra-read')
    // Drawn in turns, so that the page stays usable.
    startTransition(() => {
      setReading(false)
      setProblems([])
      setOpened({ project, files, resolved, stored, version, pictures: new Pictures(), key: ++sessions })
    })
  }, [])

  // Not by the workbench itself, which is hidden and shown again with its pictures.
  useEffect(() => () => opened?.pictures.clear(), [opened])

  const fail = useCallback((error: unknown) => {
    setReading(false)
    setProblems([error instanceof Error ? error.message : String(error)])
  }, [])
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
      return open(stored?.project ?? (await demoProject()), stored)
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
  const openDemo = useCallback(
    () =>
      void forgetSession()
        .then(demoProject)
        .then((project) => open(project))
        .catch(fail),
    [open, fail],
  )

  const openers = useMemo(
    () => ({ files: openDropped, handles: openPicked, demo: openDemo }),
    [openDropped, openPicked, openDemo],
  )

  const isRefused = problems.length > 0
  return (
    <>
      {isRefused ? (
        <Problems
          problems={problems}
          onBack={opened ? () => setProblems([]) : openDemo}
          isOpen={opened !== undefined}
        />
      ) : (
        isReading && (
          <Center mih="60vh" role="status" aria-label="Opening the site">
            <Loader />
          </Center>
        )
      )}
      {opened && (
        // What was changed in the open site stays, whatever becomes of the other one.
        <Activity mode={isRefused || isReading ? 'hidden' : 'visible'}>
          <Workbench key={opened.key} opened={opened} pictures={opened.pictures} asker={asker} open={openers} />
        </Activity>
      )}
    </>
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

import { Alert, Button, Loader } from '@mantine/core'
import { lazy, Suspense, useCallback, useEffect, useMemo, useState } from 'react'
import { ChangeDialog, drawAhead, type PlannedChange } from './parts/ChangeDialog.tsx'
import { PlacesOf } from './parts/PlaceLink.tsx'
import { TopBar, type Openers } from './parts/TopBar.tsx'
import { FindingsScreen } from './screens/FindingsScreen.tsx'
import { LayersScreen } from './screens/LayersScreen.tsx'
import { PageScreen } from './screens/PageScreen.tsx'
import { PagesScreen } from './screens/PagesScreen.tsx'
import { drawingWith } from './session/draw.ts'
import type { Pictures } from './session/pictures.ts'
import { useRoute } from './session/use-route.ts'
import { servedVersion } from './session/server.ts'
import { useSession, type OpenedProject, type Session } from './session/use-session.ts'
import type { Asker } from './worker/asker.ts'
import { useFindings } from './worker/use-findings.ts'

/** The editor is loaded when it is looked at. */
const SourceScreen = lazy(async () => ({ default: (await import('./screens/SourceScreen.tsx')).SourceScreen }))

interface Props {
  readonly opened: OpenedProject
  readonly pictures: Pictures
  readonly asker: Asker
  readonly open: Openers
}

/** A site that is open. */
export function Workbench({ opened, pictures, asker, open }: Props) {
  const session = useSession(opened, asker)
  const route = useRoute()
  const [planned, setPlanned] = useState<PlannedChange>()
  const looked = route.screen === 'page' ? route.id : undefined

  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const isEditing = (event.target as HTMLElement).closest('.cm-editor, input, textarea')
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z' || isEditing) return
      event.preventDefault()
      if (event.shiftKey) session.redo()
      else session.undo()
    }
    addEventListener('keydown', onKey)
    return () => removeEventListener('keydown', onKey)
  }, [session])

  const ask = useCallback(() => asker.about(session.project, session.texts), [asker, session.project, session.texts])
  const found = useFindings(ask)
  const draw = useMemo(() => drawingWith(pictures, ask), [pictures, ask])
  const plan = useCallback(
    (change: PlannedChange) => {
      drawAhead(session.resolved, change, looked, draw)
      setPlanned(change)
    },
    [session.resolved, looked, draw],
  )
  const screen = (): React.ReactNode => {
    switch (route.screen) {
      case 'page':
        return (
          <PageScreen
            session={session}
            found={found}
            id={route.id}
            params={route.params}
            plan={plan}
            ask={ask}
            draw={draw}
          />
        )
      case 'findings':
        return <FindingsScreen session={session} found={found} params={route.params} plan={plan} />
      case 'layers':
        return <LayersScreen session={session} params={route.params} ask={ask} plan={plan} draw={draw} />
      case 'source':
        return (
          <Suspense fallback={<Loader aria-label="Opening the editor" />}>
            <SourceScreen session={session} found={found} file={route.id} params={route.params} ask={ask} />
          </Suspense>
        )
      case 'pages':
        return <PagesScreen session={session} found={found} params={route.params} draw={draw} ask={ask} />
    }
  }
  return (
    <PlacesOf ask={ask} site={session.resolved.site}>
      <div className="app">
        <header className="app-head">
          <TopBar session={session} found={found} screen={route.screen} open={open} ask={ask} />
        </header>
        <main className="app-main">
          <ChangedElsewhere session={session} />
          {screen()}
        </main>
        {planned && (
          <ChangeDialog
            key={planned.title}
            change={planned}
            session={session}
            ask={ask}
            draw={draw}
            page={looked}
            onClose={() => setPlanned(undefined)}
          />
        )}
      </div>
    </PlacesOf>
  )
}

const ASKED_EVERY = 3000

/** Shown once somebody else changed the files that are open. */
function ChangedElsewhere({ session }: { readonly session: Session }) {
  const [isOther, setOther] = useState(false)
  useEffect(() => {
    if (session.project.origin !== 'server') return undefined
    const ask = (): void =>
      void servedVersion()
        .then((version) => setOther(version !== '' && version !== session.version()))
        .catch(() => undefined)
    const often = setInterval(ask, ASKED_EVERY)
    return () => clearInterval(often)
  }, [session])
  if (!isOther) return null
  return (
    <Alert color="yellow" role="alert" title="The files were changed elsewhere" mb="md">
      <Button size="xs" variant="default" onClick={() => location.reload()}>
        Reload the files
      </Button>{' '}
      This discards unsaved changes made here.
    </Alert>
  )
}

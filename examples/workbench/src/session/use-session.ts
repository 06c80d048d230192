import { createStore, get, set } from 'idb-keyval'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { PatchError, SiteError, type Patch, type Problem, type ResolvedSite } from 'wembra'
import type { Asker } from '../worker/asker.ts'
import { begin, record, redo, undo, type History } from './history.ts'
import type { Project, ProjectFiles, Texts } from './project.ts'
import { saveToHandles } from './open-files.ts'
import { saveToServer } from './server.ts'

/** A text that does not read, as somebody is still writing it. */
export interface Draft {
  readonly file: string
  readonly text: string
  readonly problems: readonly Problem[]
}

interface Open {
  readonly project: Project
  readonly history: History
  readonly draft: Draft | undefined
  /** The texts as they were saved last. */
  readonly saved: Texts
}

/** A site that is open, and all that can be done with it. */
export interface Session extends Open {
  readonly texts: Texts
  readonly resolved: ResolvedSite
  readonly isChanged: boolean
  /** Writes a patch into the texts; gives why it could not, where it could not. */
  readonly apply: (patch: Patch, label: string) => Promise<string | undefined>
  readonly edit: (file: string, text: string) => void
  readonly undo: () => void
  readonly redo: () => void
  /** Writes the texts back; returns what to report about it. */
  readonly save: () => Promise<string>
  /** The version of the served files that this session is based on. */
  readonly version: () => string
}

const STORE = 'wembra-session'

interface Stored {
  readonly project: Project
  readonly texts: Texts
  readonly saved: Texts
  readonly draft: Draft | undefined
  /** Of the served files, where they are served. */
  readonly version: string
}

const database = createStore('keyval-store', 'keyval')

/** The session that was open when the page was left. */
export const storedSession = (): Promise<Stored | undefined> => get<Stored>(STORE, database).catch(() => undefined)
export const forgetSession = (): Promise<void> => set(STORE, undefined, database).catch(() => undefined)

/** Commits at once: the page may be gone before it hears that the session was written, and what is open then is undone. */
const keepSession = (session: Stored): Promise<void> =>
  database('readwrite', (sessions) => {
    sessions.put(session, STORE)
    sessions.transaction.commit()
  }).catch(() => undefined)

/** How long after a change the session is kept, in ms: while somebody types there are many. */
const KEEP_AFTER = 200

/** A project that was opened and read. */
export interface OpenedProject {
  readonly project: Project
  readonly files: ProjectFiles
  readonly resolved: ResolvedSite
  readonly stored: Stored | undefined
  readonly version: string
}

/** All that can be done with a project that is open. What changes it is done one thing after the other. */
export function useSession({ project, files, resolved, stored, version }: OpenedProject, asker: Asker): Session {
  const [open, setOpen] = useState<Open>(() => ({
    project,
    history: begin(files.texts, resolved),
    draft: stored?.draft,
    saved: stored?.saved ?? project.texts,
  }))
  const served = useRef(version)
  const latest = useRef(open)
  const line = useRef<Promise<unknown>>(Promise.resolve())
  const { history, draft, saved } = open
  const { texts } = history.present

  /** What is open from now on. */
  const put = useCallback(
    (change: Partial<Open>) => {
      latest.current = { ...latest.current, ...change }
      files.texts = latest.current.history.present.texts
      setOpen(latest.current)
    },
    [files],
  )

  const inTurn = useCallback(<T>(work: () => T | Promise<T>): Promise<T> => {
    const done = line.current.then(work)
    line.current = done.catch(() => undefined)
    return done
  }, [])

  /** Keeps what is open, if it is not kept yet: a change may have been made that is not drawn. */
  const kept = useRef<Open>(undefined)
  const keep = useCallback((): void => {
    if (kept.current === latest.current) return
    kept.current = latest.current
    const { history, saved, draft } = latest.current
    void keepSession({ project, texts: history.present.texts, saved, draft, version: served.current })
  }, [project])

  useEffect(() => {
    const later = setTimeout(keep, KEEP_AFTER)
    return () => clearTimeout(later)
  }, [keep, texts, saved, draft])

  // Who leaves or hides the page before that keeps it, too.
  useEffect(() => {
    const left = new AbortController()
    window.addEventListener('pagehide', keep, left)
    document.addEventListener('visibilitychange', keep, left)
    return () => left.abort()
  }, [keep])

  const apply = useCallback(
    (patch: Patch, label: string): Promise<string | undefined> =>
      inTurn(async () => {
        const past = latest.current.history
        const { texts: before, site } = past.present
        try {
          const after = site.with(patch)
          const written = await (await asker.about(project, before)).rewrite(patch)
          if ('problem' in written) return written.problem
          const next = { texts: { ...before, ...written.texts }, site: after, label, at: Date.now() }
          put({ history: record(past, next), draft: undefined })
          return undefined
        } catch (error) {
          if (error instanceof PatchError || error instanceof SiteError) return error.message
          throw error
        }
      }),
    [asker, project, inTurn, put],
  )

  const edit = useCallback(
    (file: string, text: string) =>
      void inTurn(async () => {
        const past = latest.current.history
        const { texts: before, site } = past.present
        if (before[file] === text) return put({ draft: undefined })
        const next = { ...before, [file]: text }
        const told = await asker.attempt(project, before, next)
        if ('problems' in told) return put({ draft: { file, text, problems: told.problems } })
        files.texts = next
        const version = { texts: next, site: site.receive(told.site), label: `edit ${file}`, at: Date.now() }
        put({ history: record(past, version), draft: undefined })
      }),
    [asker, project, files, inTurn, put],
  )

  const step = useCallback(
    (move: (history: History) => History) =>
      void inTurn(() => put({ history: move(latest.current.history), draft: undefined })),
    [inTurn, put],
  )

  const save = useCallback(async (): Promise<string> => {
    const changed = Object.fromEntries(Object.entries(texts).filter(([path, text]) => saved[path] !== text))
    if (project.handles) {
      const others = await saveToHandles(project.handles, changed, saved)
      if (others.length > 0)
        return `${others.join(', ')} was changed elsewhere in the meantime: open it again to see that. Nothing was written.`
      put({ saved: texts })
      return `Saved ${Object.keys(changed).join(', ')}.`
    }
    const now = await saveToServer(changed, served.current)
    if (now === undefined)
      return 'The files were changed elsewhere in the meantime: reload to see them. Nothing was written.'
    served.current = now
    put({ saved: texts })
    return `Saved ${Object.keys(changed).join(', ')}.`
  }, [project, texts, saved, put])

  return useMemo(
    () => ({
      ...open,
      ...{ texts, resolved: open.history.present.site },
      isChanged: Object.keys(texts).some((path) => saved[path] !== texts[path]),
      apply,
      edit,
      undo: () => step(undo),
      redo: () => step(redo),
      save,
      version: () => served.current,
    }),
    [open, texts, saved, apply, edit, step, save],
  )
}

export type { Stored }

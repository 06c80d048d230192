import { get, set } from 'idb-keyval'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { PatchError, SiteError, type Patch, type Problem, type ResolvedSite } from 'wembra'
import type { Asker } from '../worker/asker.ts'
import { begin, record, redo, undo, type History } from './history.ts'
import type { OpenSite, Project, Texts } from './project.ts'
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
  readonly resolved: ResolvedSite
  readonly draft: Draft | undefined
  /** The texts as they were saved last. */
  readonly saved: Texts
}

/** A site that is open, and all that can be done with it. */
export interface Session extends Open {
  readonly texts: Texts
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

/** The sites that texts read as, so that undo does not read them again. */
const states = new WeakMap<Texts, ResolvedSite>()

interface Stored {
  readonly project: Project
  readonly texts: Texts
  readonly saved: Texts
  readonly draft: Draft | undefined
  /** Of the served files, where they are served. */
  readonly version: string
}

/** The session that was open when the page was left. */
export const storedSession = (): Promise<Stored | undefined> => get<Stored>(STORE).catch(() => undefined)
export const forgetSession = (): Promise<void> => set(STORE, undefined).catch(() => undefined)

/** Opens a project for work; throws for one that does not read. */
export function useSession(
  project: Project,
  site: OpenSite,
  resolvedFirst: ResolvedSite,
  stored: Stored | undefined,
  version: string,
  asker: Asker,
): Session {
  const [open, setOpen] = useState<Open>(() => ({
    project,
    history: begin(stored?.texts ?? project.texts),
    resolved: resolvedFirst,
    draft: stored?.draft,
    saved: stored?.saved ?? project.texts,
  }))
  const served = useRef(version)
  const { history, draft, saved } = open
  const { texts } = history.present

  useEffect(() => {
    const later = setTimeout(
      () =>
        void set(STORE, { project, texts, saved, draft, version: served.current } satisfies Stored).catch(
          () => undefined,
        ),
      200,
    )
    return () => clearTimeout(later)
  }, [project, texts, saved, draft])

  const apply = useCallback(
    async (patch: Patch, label: string): Promise<string | undefined> => {
      const { resolved: before, history: past } = open
      try {
        const resolved = before.with(patch)
        const written = await (await asker.about(project, past.present.texts)).rewrite(patch)
        if ('problem' in written) return written.problem
        const next = { ...past.present.texts, ...written.texts }
        states.set(next, resolved)
        setOpen((now) => ({
          ...now,
          history: record(now.history, next, label, Date.now()),
          resolved,
          draft: undefined,
        }))
        return undefined
      } catch (error) {
        if (error instanceof PatchError || error instanceof SiteError) return error.message
        throw error
      }
    },
    [open, asker, project],
  )

  const edit = useCallback(
    (file: string, text: string) => {
      setOpen((now) => {
        if (now.history.present.texts[file] === text) return { ...now, draft: undefined }
        const next = { ...now.history.present.texts, [file]: text }
        const read = site.read(next)
        if ('problems' in read) return { ...now, draft: { file, text, problems: read.problems } }
        return {
          ...now,
          history: record(now.history, next, `edit ${file}`, Date.now()),
          resolved: read.resolved,
          draft: undefined,
        }
      })
    },
    [site],
  )

  const step = useCallback(
    (move: (history: History) => History) => {
      setOpen((now) => {
        const moved = move(now.history)
        if (moved.present === now.history.present) return { ...now, draft: undefined }
        const known = states.get(moved.present.texts)
        const read = known ? { resolved: known } : site.read(moved.present.texts)
        return 'resolved' in read ? { ...now, history: moved, resolved: read.resolved, draft: undefined } : now
      })
    },
    [site],
  )

  const save = useCallback(async (): Promise<string> => {
    const changed = Object.fromEntries(Object.entries(texts).filter(([path, text]) => saved[path] !== text))
    if (project.handles) {
      const others = await saveToHandles(project.handles, changed, saved)
      if (others.length > 0)
        return `${others.join(', ')} was changed elsewhere in the meantime: open it again to see that. Nothing was written.`
      setOpen((before) => ({ ...before, saved: texts }))
      return `Saved ${Object.keys(changed).join(', ')}.`
    }
    const now = await saveToServer(changed, served.current)
    if (now === undefined)
      return 'The files were changed elsewhere in the meantime: reload to see them. Nothing was written.'
    served.current = now
    setOpen((before) => ({ ...before, saved: texts }))
    return `Saved ${Object.keys(changed).join(', ')}.`
  }, [project, texts, saved])

  return useMemo(
    () => ({
      ...open,
      texts,
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

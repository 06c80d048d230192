import type { Remote } from 'comlink'
import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from 'react'
import type { Site, SourcePlace } from 'wembra'
import type { Work } from '../worker/site.worker.ts'
import { SourceLink } from './SourceLink.tsx'

/** Looks places up in the open site's files. */
interface Places {
  readonly file: (pointer: string) => string
  readonly place: (pointer: string) => Promise<SourcePlace | undefined>
}

const Context = createContext<Places | undefined>(undefined)

/** Gives what is inside the places of a site: they are looked up in its files beside the page, those of a screen at once. */
export function PlacesOf({
  ask,
  site,
  children,
}: {
  readonly ask: () => Promise<Remote<Work>>
  readonly site: Site
  readonly children: ReactNode
}) {
  const places = useMemo((): Places => {
    let asked: string[] = []
    let answer: Promise<ReadonlyMap<string, SourcePlace>> | undefined
    const all = async (): Promise<ReadonlyMap<string, SourcePlace>> => {
      const work = await ask()
      const pointers = asked
      asked = []
      answer = undefined
      const found = await work.places(pointers)
      return new Map(found.map((place) => [place.pointer, place]))
    }
    return {
      file: (pointer) => site.origin(pointer).file,
      place: async (pointer) => {
        asked.push(pointer)
        return (await (answer ??= all())).get(pointer)
      },
    }
  }, [ask, site])
  return <Context value={places}>{children}</Context>
}

/** Where a part of the site is written, which leads to the editor: its file at once, its line as soon as it is known. */
export function PlaceLink({ pointer, isExact = false }: { readonly pointer: string; readonly isExact?: boolean }) {
  const places = useContext(Context)
  const [known, setKnown] = useState<{ readonly of: Places; readonly place: SourcePlace }>()
  useEffect(() => {
    let isOver = false
    void places
      ?.place(pointer)
      .then((place) => !isOver && place && setKnown({ of: places, place }))
      .catch(() => undefined)
    return () => {
      isOver = true
    }
  }, [places, pointer])
  if (!places) return null
  // After a change the last known place is shown until the new one is.
  const place = known?.place.pointer === pointer ? known.place : { file: places.file(pointer) }
  return <SourceLink at={place} isExact={isExact} />
}

import { Anchor, Text } from '@mantine/core'
import type { MappedThing } from 'wembra'
import { PageLinks, PAGES_NAMED } from '../../parts/PageLinks.tsx'
import { screenAddress } from '../../session/use-route.ts'

/** More pages than this are a bar, not one tick each. */
const MOST_TICKS = 400

/** One tick for each page of the site, in its order. */
export function Ticks({ thing, pages }: { readonly thing: MappedThing; readonly pages: readonly string[] }) {
  if (pages.length > MOST_TICKS) {
    const share = (n: number): string => `${((n / pages.length) * 100).toFixed(2)}%`
    return (
      <span className="ticks bar" aria-hidden="true">
        <span className="wins" style={{ width: share(thing.wins.length) }} />
        <span className="overridden" style={{ width: share(thing.overridden.length) }} />
      </span>
    )
  }
  const wins = new Set(thing.wins)
  const overridden = new Set(thing.overridden.map(({ page }) => page))
  return (
    <span className="ticks" aria-hidden="true">
      {pages.map((id) => (
        <span
          key={id}
          title={id}
          className={`tick ${wins.has(id) ? 'wins' : overridden.has(id) ? 'overridden' : ''}`}
        />
      ))}
    </span>
  )
}

/** The pages that get it, and those that something overrides it on, with what. */
export function Reach({ thing }: { readonly thing: MappedThing }) {
  return (
    <div className="map-details">
      {thing.wins.length > 0 && (
        <Text size="sm" component="div">
          Gets it: <PageLinks pages={thing.wins} />
          {thing.as === 'template' && thing.wins.length > PAGES_NAMED && (
            <Anchor href={screenAddress('pages', { template: thing.id })}>all {thing.wins.length}</Anchor>
          )}
        </Text>
      )}
      {[...byReason(thing)].map(([because, pages]) => (
        <Text size="sm" component="div" key={because}>
          Overridden, {because} would give it to: <PageLinks pages={pages} />
        </Text>
      ))}
    </div>
  )
}

/** The pages on which something overrides it, by who would give it to them. */
function byReason({ overridden }: MappedThing): ReadonlyMap<string, readonly string[]> {
  const found = new Map<string, string[]>()
  for (const { page, because } of overridden) found.set(because, [...(found.get(because) ?? []), page])
  return found
}

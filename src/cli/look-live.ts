import { findDrift, type Drift, type DriftFinding } from '../reality/drift.js'
import type { ObservedBox } from '../reality/observation.js'
import type { LivePage } from '../node/serve-site.js'
import { crawl } from './crawl.js'
import type { CrawlOptions } from './crawl-options.js'
import { UsageError, type Io } from './io.js'
import { findPage, openSite } from './site-argument.js'

/** Px of a real page that a picture holds at most. */
const MOST_PX = 3000

/**
 * Looks at one real page at every viewport of a site, and compares it with what is worked out.
 *
 * @param live - Address of the site, under which its pages are.
 * @throws {FetchError} Where there is no browser. @throws {UsageError} For a page that is not live.
 */
export async function lookLive(
  file: string,
  id: string,
  live: string,
  options: CrawlOptions,
  io: Io,
): Promise<LivePage> {
  const resolved = openSite(file, io)
  const page = findPage(resolved, id)
  if (page.dormant || page.data.status === 'draft') throw new UsageError(`the page "${id}" is not live`)
  const { site } = resolved
  const address = new URL(page.facts.path.replace(/^\//, ''), live.endsWith('/') ? live : `${live}/`).href
  const pictures: Record<string, string> = {}
  const seen = await crawl(
    [address],
    { ...options, browser: true },
    {
      viewports: site.viewports,
      locators: site.data.locators ?? {},
      home: site.data.site.url ?? live,
      after: async (found, camera) => {
        for (const viewport of site.viewports) {
          const shown = found.find((each) => each.report === 'observation' && each.viewport?.width === viewport.width)
          if (!camera || shown?.report !== 'observation') continue
          const height = Math.min(MOST_PX, Math.max(viewport.height, shown.size?.height ?? 0))
          const view: ObservedBox = { x: 0, y: 0, width: viewport.width, height }
          pictures[viewport.name] = await camera(shown.url, viewport, view)
        }
      },
    },
    { ...io, out: () => undefined },
  )
  const failure = seen.find((each) => each.report === 'observation-failure')
  if (failure?.report === 'observation-failure') throw new UsageError(`${address}: not observed: ${failure.message}`)
  const { findings, estimates } = findDrift(resolved, seen)
  return {
    address,
    pictures,
    differences: findings.flatMap((finding) => finding.drifts.map((drift) => differenceOf(drift, finding))),
    estimates: estimates.map(({ viewport, property, expected, seen: is }) => ({
      viewport,
      property,
      expected,
      seen: is,
    })),
  }
}

const differenceOf = ({ viewport, property, expected, seen, decided }: Drift, { cause }: DriftFinding) => ({
  ...{ viewport, property, expected, seen },
  because: cause?.title ?? null,
  decided: decided?.at ? `${decided.layer}, ${decided.at.file}:${decided.at.line}` : null,
})

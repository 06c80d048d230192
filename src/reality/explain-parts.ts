import type { Presence } from '../model/facets.js'
import { frontPathOf } from './front-page.js'
import type { Observation, ObservedBox, ObservedPart, OutlineNode } from './observation.js'
import { folded, sitePath } from './seen-words.js'

/** Why an element of a real page was taken for one of its parts, and what contradicts it. */
export interface PartExplanation {
  readonly part: string
  readonly presence: Presence
  readonly selector: string
  /** What supports it, strongest first. */
  readonly evidence: readonly string[]
  /** What contradicts it. */
  readonly doubts: readonly string[]
}

/** The parts of one page at one viewport. */
export interface ExplainedView {
  readonly url: string
  readonly viewport: string | null
  readonly parts: readonly PartExplanation[]
  /** Parts for which nothing was found. */
  readonly none: readonly string[]
}

const EXPLAINED = ['header', 'title', 'sidebar', 'container', 'column', 'footer'] as const
type Explained = (typeof EXPLAINED)[number]

/** Says of each part of each page why it was taken for that, from what all pages together show. */
export function explainParts(observations: readonly Observation[]): readonly ExplainedView[] {
  const site = new SiteEvidence(observations)
  return observations.map((seen) => ({
    url: seen.url,
    viewport: seen.viewport?.name ?? null,
    parts: EXPLAINED.flatMap((name) => {
      const part = seen.parts[name]
      return part ? [explainOne(name, part, seen, site)] : []
    }),
    none: EXPLAINED.filter((name) => seen.parts[name] === undefined),
  }))
}

/** What only all pages together tell. */
class SiteEvidence {
  readonly pages: number
  readonly front: string | undefined
  readonly #uses = new Map<string, Set<string>>()

  constructor(observations: readonly Observation[]) {
    this.pages = new Set(observations.map(({ url }) => url)).size
    this.front = frontPathOf(observations)
    for (const { parts, url } of observations)
      for (const name of EXPLAINED) {
        const key = keyOf(name, parts[name])
        if (key !== undefined) this.#uses.set(key, (this.#uses.get(key) ?? new Set()).add(url))
      }
  }

  /** On how many pages an element of that tag, id and classes is the same part. */
  usesOf(name: Explained, part: ObservedPart): number {
    return this.#uses.get(keyOf(name, part) ?? '')?.size ?? 0
  }
}

const keyOf = (name: Explained, part: ObservedPart | undefined): string | undefined =>
  part && `${name} ${part.selector}`

const FOUND: Readonly<Record<ObservedPart['by'], string>> = {
  locator: 'the site’s own locator',
  landmark: 'its landmark',
  guess: 'how the page is built',
}

function explainOne(name: Explained, part: ObservedPart, seen: Observation, site: SiteEvidence): PartExplanation {
  const uses = site.usesOf(name, part)
  const about = ABOUT[name](part, seen, site)
  const isLone = site.pages > 2 && uses === 1 && name !== 'title'
  return {
    ...{ part: name, presence: part.presence, selector: part.selector },
    evidence: [
      `found by ${FOUND[part.by]}`,
      ...(part.box ? [placeInWords(part.box, part.position)] : []),
      ...about.evidence,
      ...(site.pages > 1 && !isLone ? [`the same element on ${uses} of ${site.pages} pages`] : []),
    ],
    doubts: [
      ...(part.presence === 'shown' ? [] : [`it is ${part.presence} at this viewport`]),
      ...about.doubts,
      ...(isLone ? ['no other page has the same element'] : []),
    ],
  }
}

const placeInWords = ({ x, y, width, height }: ObservedBox, position: string | undefined): string => {
  const [left, top, across, down] = [x, y, width, height].map(Math.round)
  const stands = position === undefined || position === 'static' || position === 'relative' ? '' : `, ${position}`
  return `${across} × ${down} px at ${left}, ${top}${stands}`
}

interface PartReasons {
  readonly evidence: readonly string[]
  readonly doubts: readonly string[]
}

const ABOUT: Readonly<Record<Explained, (part: ObservedPart, seen: Observation, site: SiteEvidence) => PartReasons>> = {
  header: (part, seen, site) => {
    const links = linksIn(part.outline ?? [])
    const leadsHome = links.some((url) => sitePath(url, seen.url, undefined) === (site.front ?? '/'))
    return {
      evidence: [
        ...(links.length > 0 ? [`${links.length} links`] : []),
        ...(leadsHome ? ['leads to the front page'] : []),
      ],
      doubts: [
        ...(links.length === 0 ? ['it leads nowhere'] : []),
        ...((part.box?.y ?? 0) > 200 ? ['it is not at the top'] : []),
        ...(part.box && seen.viewport && part.box.height > seen.viewport.height / 2
          ? ['it takes more than half of the screen']
          : []),
      ],
    }
  },
  footer: (part, seen) => {
    const links = linksIn(part.outline ?? []).length
    const end = seen.size?.height ?? 0
    const isLast = part.box !== undefined && Math.abs(part.box.y + part.box.height - end) <= 2
    return {
      evidence: [...(isLast ? ['the last thing on the page'] : []), ...(links > 0 ? [`${links} links`] : [])],
      doubts: part.presence === 'shown' && !isLast && part.box ? ['something is below it'] : [],
    }
  },
  title: (part, seen) => {
    const [words, document] = [folded(part.text ?? '').toLowerCase(), folded(seen.title).toLowerCase()]
    const isNamed = words !== '' && document.includes(words)
    const isMarked = seen.headline !== undefined && folded(seen.headline.text).toLowerCase() === words
    return {
      evidence: [
        `“${folded(part.text ?? '').slice(0, 60)}”`,
        ...(isNamed ? ['the document’s title has the same words'] : []),
        ...(isMarked ? [`its structured data repeats it (${seen.headline?.from})`] : []),
      ],
      doubts: isNamed || isMarked ? [] : ['the document’s title has other words'],
    }
  },
  sidebar: (part, seen) => {
    const [own, column] = [part.box, seen.parts.column?.box]
    if (!own || !column || part.presence !== 'shown') return { evidence: [], doubts: [] }
    const isLeft = own.x + own.width <= column.x + 1
    const isRight = own.x >= column.x + column.width - 1
    return {
      evidence: [isLeft ? 'is left of the text' : isRight ? 'is right of the text' : 'lies above or below the text'],
      doubts: own.width > column.width && (isLeft || isRight) ? ['it is wider than the text'] : [],
    }
  },
  container: () => ({ evidence: ['limits the width of the text'], doubts: [] }),
  column: (part) => ({
    evidence: ['holds the lines of the text'],
    doubts: (part.box?.width ?? 1000) < 200 ? ['it is very narrow'] : [],
  }),
}

const linksIn = (nodes: readonly OutlineNode[]): readonly string[] =>
  nodes.flatMap((node) => [...(node.links ?? []).map(({ url }) => url), ...linksIn(node.items ?? [])])

import { WembraError } from '../model/wembra-error.js'
import * as z from '#vendor/zod.js'
import { PRESENCES } from '../model/facets.js'
import type { JsonObject } from '../model/json.js'
import { LOCATORS } from '../model/site-data.js'

/**
 * What a real page shows, at one viewport or (without a browser) in its markup alone. Lengths are CSS px from the
 * page's top left; colors are as a browser computes them. `wembra/observe` writes these down, the rooms above it
 * compare them and draft from them.
 */
const box = z.strictObject({ x: z.number(), y: z.number(), width: z.number(), height: z.number() })
const presence = z.enum(PRESENCES)
const HEADLINE_SOURCES = ['json-ld', 'microdata'] as const
/** How a part was found: by the site's own locator, by its landmark, or by how the page is built. */
const FOUND_BY = ['locator', 'landmark', 'guess'] as const
const NODE_KINDS = [
  ...['section', 'heading', 'text', 'image', 'logo', 'menu', 'button', 'form', 'search', 'embed', 'listing'],
] as const
export const EXIT_PLACES = ['header', 'footer', 'sidebar', 'body'] as const

const link = z.strictObject({ label: z.string(), url: z.string() })

const look = {
  /** CSS color; not there where it is transparent. */
  background: z.string().optional(),
  ink: z.string().optional(),
  /** Whether a picture lies behind it. */
  picture: z.literal(true).optional(),
  /** Top, right, bottom, left. */
  padding: z.tuple([z.number(), z.number(), z.number(), z.number()]).optional(),
}

const nodeShape = {
  kind: z.enum(NODE_KINDS),
  /** Its place among the elements of the page: the same at every viewport. */
  at: z.string(),
  id: z.string().optional(),
  role: z.string().optional(),
  presence,
  box: box.optional(),
  level: z.number().int().optional(),
  /** It is the page's title, and is in a band of the content. */
  title: z.literal(true).optional(),
  text: z.string().optional(),
  /** How many words the text had before it was cut short. */
  words: z.number().int().optional(),
  fields: z.number().int().optional(),
  /** Address of a picture or of what is embedded. */
  source: z.string().optional(),
  links: z.array(link).optional(),
  /** Whether its inside is side by side. */
  beside: z.literal(true).optional(),
  ...look,
}
/** One thing that is on a page, with what is in it. */
export interface OutlineNode extends z.infer<z.ZodObject<typeof nodeShape>> {
  items?: OutlineNode[] | undefined
}
const node: z.ZodType<OutlineNode> = z.lazy(() =>
  z.strictObject({ ...nodeShape, items: z.array(node).optional() }),
) as unknown as z.ZodType<OutlineNode>

const part = z.strictObject({
  presence,
  by: z.enum(FOUND_BY),
  /** Tag, id and classes of the element. */
  selector: z.string(),
  /** Tag, id or classes by which it is the first that is found on the page. */
  names: z.array(z.string()).optional(),
  /** A selector that matches it alone, wherever it is. */
  path: z.string().optional(),
  box: box.optional(),
  /** As CSS computes it: static, relative, absolute, fixed, sticky. */
  position: z.string().optional(),
  text: z.string().optional(),
  outline: z.array(node).optional(),
  ...look,
})

/** What is seen to be wrong is reported in the words of these rules. */
export const SEEN_RULES = [
  'overflow',
  'header-covers-content',
  'header-unreadable',
  'text-unreadable',
  'content-at-edge',
  'sidebar-empty',
] as const

const fault = z.strictObject({
  rule: z.enum(SEEN_RULES),
  /** A selector that means the element alone. */
  selector: z.string(),
  box,
  /** Its words. */
  what: z.string(),
  numbers: z.record(z.string(), z.number()),
})

const observation = z.strictObject({
  wembra: z.literal(1),
  report: z.literal('observation'),
  url: z.string(),
  status: z.number().int().optional(),
  /** When it was taken, ISO 8601. */
  at: z.string().optional(),
  /** `null`: structure only. */
  viewport: z.strictObject({ name: z.string().optional(), width: z.number(), height: z.number() }).nullable(),
  title: z.string(),
  language: z.string().optional(),
  direction: z.enum(['ltr', 'rtl']).optional(),
  canonical: z.string().optional(),
  robots: z.string().optional(),
  /** The picture that is shown where the page is shared (og:image). */
  shareImage: z.string().optional(),
  headline: z.strictObject({ text: z.string(), from: z.enum(HEADLINE_SOURCES) }).optional(),
  /** Its type by its structured data: Article, Product, Event, … */
  types: z.array(z.string()),
  classes: z.array(z.string()),
  size: z.strictObject({ width: z.number(), height: z.number() }).optional(),
  ground: z.strictObject({ color: z.string(), ink: z.string() }).optional(),
  parts: z.partialRecord(z.enum(LOCATORS), part),
  /** What the header covers when nothing is scrolled, highest first. */
  covered: z.array(z.strictObject({ what: z.string(), px: z.number() })).optional(),
  /** Colors that lie behind the header's words, nearest first; `picture` where one does. */
  behindHeader: z.array(z.string()).optional(),
  landmarks: z.array(z.strictObject({ role: z.string(), name: z.string().optional(), presence, box: box.optional() })),
  headings: z.array(
    z.strictObject({
      level: z.number().int(),
      text: z.string(),
      presence,
      place: z.enum(EXIT_PLACES),
      /** A selector that means it alone. */
      selector: z.string().optional(),
      box: box.optional(),
    }),
  ),
  /** What is in the content, and around it. */
  outline: z.array(node),
  exits: z.record(z.enum(EXIT_PLACES), z.array(z.string())),
  comments: z.boolean(),
  /** What a visitor finds wrong with the page as it is drawn. */
  faults: z.array(fault).optional(),
  /** Whether there was more than fits: the outline is cut. */
  cut: z.literal(true).optional(),
})

/** A page that could not be observed. */
const failure = z.strictObject({
  wembra: z.literal(1),
  report: z.literal('observation-failure'),
  url: z.string(),
  at: z.string().optional(),
  viewport: z.strictObject({ name: z.string().optional(), width: z.number(), height: z.number() }).nullable(),
  code: z.string(),
  message: z.string(),
  status: z.number().int().optional(),
})

/** What a real page shows at one viewport. */
export type Observation = z.infer<typeof observation>
/** A page that could not be observed, and why. */
export type ObservationFailure = z.infer<typeof failure>
/** A rectangle on a real page, in CSS px. */
export type ObservedBox = z.infer<typeof box>
/** A part of a real page: its header, title, content, … */
export type ObservedPart = z.infer<typeof part>
/** Something that a visitor finds wrong with a page as it is drawn. */
export interface SeenFault {
  readonly rule: (typeof SEEN_RULES)[number]
  /** A selector that means the element alone. */
  readonly selector: string
  readonly box: ObservedBox
  /** Its words. */
  readonly what: string
  readonly numbers: Readonly<Record<string, number>>
}
export type ExitPlaceSeen = (typeof EXIT_PLACES)[number]

/** Thrown for what should be observations and is not; `line` is that of the NDJSON. */
export class ObservationError extends WembraError {
  override readonly name = 'ObservationError'
  readonly code = 'observation'
}

/** Reads one line of observations. @throws {ObservationError} When it is none. */
export function readObservation(text: string, place: string): Observation | ObservationFailure {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch (error) {
    throw new ObservationError(`${place}: unreadable: ${(error as Error).message}`)
  }
  const isFailure = (value as { report?: unknown } | null)?.report === 'observation-failure'
  const read = isFailure ? failure.safeParse(value) : observation.safeParse(value)
  if (read.success) return read.data
  const [issue] = read.error.issues
  throw new ObservationError(
    `${place}: wrong-type: ${issue?.path.join('.') ?? ''}: ${issue?.message ?? 'this is not an observation'}; wembra observe -o writes them`,
  )
}

/** The JSON Schema (2020-12) of observations. */
export const observationJsonSchema = (): JsonObject => ({
  $id: 'https://wembra.example/observation.schema.json',
  title: 'Wembra observation',
  ...(z.toJSONSchema(observation, { target: 'draft-2020-12' }) as JsonObject),
})

import { z } from 'zod'
import { BLEND_MODES, parseColor } from '../css/color.js'
import { parseLength, parseSides, type Length } from '../css/length.js'
import { didYouMean } from './did-you-mean.js'
import {
  definitionOf,
  FACETS,
  FACET_NAMES,
  isFacet,
  PRESENCES,
  PROPERTY_PATHS,
  type Facet,
  type PropertyDefinition,
} from './facets.js'
import { ITEM_KINDS, itemKindOf } from './item-kinds.js'
import {
  ARRANGE_WORDS,
  CHOOSERS,
  INSERT_PLACES,
  LAYERS,
  LOCATORS,
  POLICY_FIGURES,
  type ByViewport,
  type Insert,
  type Item,
  type Layout,
  type LengthValue,
  type Selector,
} from './site-data.js'

/** `strictObject` that says which key was probably meant. */
function strict<S extends z.core.$ZodLooseShape>(shape: S) {
  const keys = Object.keys(shape)
  return z.strictObject(shape, {
    error: (issue) => (issue.code === 'unrecognized_keys' ? unknownKeys(issue.keys, keys) : undefined),
  })
}

function unknownKeys(found: readonly string[], known: readonly string[]): string {
  return found
    .map((key) => {
      const meant = didYouMean(key, known)
      return meant
        ? `unknown key "${key}"; did you mean "${meant}"?`
        : `unknown key "${key}"; known here: ${known.join(', ')}`
    })
    .join('; ')
}

const unknownViewports = (found: readonly string[], known: readonly string[]): string =>
  found.map((name) => unknownViewport(name, known)).join('; unknown key')

function unknownViewport(name: string, known: readonly string[]): string {
  const meant = didYouMean(name, known)
  return `there is no viewport "${name}"; ${meant ? `did you mean "${meant}"?` : `there are: ${known.join(', ')}`}`
}

const isLengthText = (v: LengthValue, test: (l: Length) => boolean = () => true): boolean => {
  const length = parseLength(v)
  return length !== null && test(length)
}
const LENGTH_UNITS = 'a CSS length such as 24px, 2rem or calc(100vw - 48px)'
const notNegative = (v: LengthValue): boolean => (typeof v === 'number' ? v >= 0 : !v.trim().startsWith('-'))

const length = (words: readonly string[] = [], percent = true) =>
  z
    .union([z.number(), z.string()])
    .refine(
      (v) =>
        (typeof v === 'string' && words.includes(v)) ||
        (notNegative(v) && isLengthText(v, (l) => percent || !l.usesPercent)),
      {
        error: (issue) =>
          `${JSON.stringify(issue.input)} is not ${LENGTH_UNITS}${words.length ? `, nor ${words.join(', ')}` : ''}` +
          `${percent ? '' : '; percentages have no meaning here'}; negative lengths only in margins`,
      },
    )
const sides = (negative: boolean) =>
  z.union([z.number(), z.string()]).refine(
    (v) => {
      const four = parseSides(v)
      return (
        four !== null &&
        (negative || [four.top, four.right, four.bottom, four.left].every((l) => notNegative(l.source)))
      )
    },
    {
      error: (issue) =>
        `${JSON.stringify(issue.input)} is not one to four CSS lengths${negative ? '' : ', none negative'}`,
    },
  )
const color = z
  .string()
  .refine((v) => parseColor(v) !== null, { error: (issue) => `${JSON.stringify(issue.input)} is not a CSS color` })

const FIGURES: ReadonlySet<string> = new Set(POLICY_FIGURES)

const oneOrMore = <T extends z.ZodType>(schema: T) => z.union([schema, z.array(schema)])
const id = z.string().min(1)

/**
 * The schema of a site file.
 *
 * @param viewports - The site's viewport names, so that a map by viewport with another key is an error;
 *   `null` when they are not known (the published JSON Schema), which lets any key stand.
 */
export function createSiteSchema(viewports: readonly string[] | null) {
  const byViewport = <T extends z.ZodType>(schema: T): z.ZodType<ByViewport<z.infer<T>>> => {
    const map = viewports
      ? z.strictObject(Object.fromEntries([...viewports, 'else'].map((name) => [name, schema.optional()])), {
          error: (issue) => (issue.code === 'unrecognized_keys' ? unknownViewports(issue.keys, viewports) : undefined),
        })
      : z.record(z.string(), schema)
    return z.union([schema, map]) as unknown as z.ZodType<ByViewport<z.infer<T>>>
  }

  const property = (definition: PropertyDefinition): z.ZodType => {
    const said = (schema: z.ZodType) => byViewport(z.union([schema, z.enum(['inherit', 'revert'])]))
    switch (definition.type) {
      case 'word':
        return said(z.enum(definition.words))
      case 'boolean':
        return said(z.boolean())
      case 'id':
        return said(id)
      case 'color':
        return said(color)
      case 'length':
        return said(length(definition.also ? [definition.also] : [], definition.percentOf !== null))
      case 'sides':
        return said(sides(false))
      case 'presences':
        return z.union([z.record(z.string(), said(z.enum(PRESENCES))), z.enum(['inherit', 'revert'])])
    }
  }

  const lockable = z.string().refine((v) => isFacet(v) || definitionOf(v) !== undefined, {
    error: (issue) => {
      const known = FACET_NAMES.flatMap((f) => [f, ...Object.keys(FACETS[f]).map((p) => `${f}.${p}`)])
      const meant = didYouMean(String(issue.input), known)
      return `"${String(issue.input)}" is no facet or property${meant ? `; did you mean "${meant}"?` : ''}`
    },
  })
  const requirable = z.string().refine((v) => isFacet(v) || definitionOf(v) !== undefined || FIGURES.has(v), {
    error: (issue) => {
      const meant = didYouMean(String(issue.input), [...FIGURES, ...PROPERTY_PATHS, ...FACET_NAMES])
      return `a policy cannot require "${String(issue.input)}"${meant ? `; did you mean "${meant}"?` : `; beside facets it may require: ${[...FIGURES].join(', ')}`}`
    },
  })
  const facet = (name: Facet) =>
    strict(
      Object.fromEntries(
        Object.entries(FACETS[name] as Record<string, PropertyDefinition>).map(([p, d]) => [p, property(d).optional()]),
      ),
    )
  const layout = strict({
    ...Object.fromEntries(FACET_NAMES.map((name) => [name, facet(name).optional()])),
    lock: z.array(lockable).optional(),
  }) as unknown as z.ZodType<Layout>

  const selector = strict({
    all: z.literal(true).optional(),
    ...Object.fromEntries(
      ['kind', 'page', 'path', 'under', 'tag', 'purpose', 'builder', 'template'].map((k) => [
        k,
        oneOrMore(id).optional(),
      ]),
    ),
  }) as unknown as z.ZodType<Selector>
  const where = oneOrMore(selector)

  const common = { id: id.optional(), width: byViewport(length()).optional(), links: z.array(z.string()).optional() }
  const viewportName = viewports
    ? z.enum(viewports, { error: (issue) => unknownViewport(String(issue.input), viewports) })
    : z.string()
  const hide = z.array(viewportName).optional()
  const background = strict({
    color: byViewport(color).optional(),
    image: id.optional(),
    blend: byViewport(z.enum(BLEND_MODES)).optional(),
  })
  const box = {
    role: byViewport(z.enum(['banner', 'navigation', 'contentinfo'])).optional(),
    band: byViewport(z.enum(['column', 'full'])).optional(),
    breakout: z.boolean().optional(),
    maxWidth: byViewport(length(['none'])).optional(),
    padding: byViewport(sides(false)).optional(),
    margin: byViewport(sides(true)).optional(),
    height: byViewport(length([], false)).optional(),
    minHeight: byViewport(length([], false)).optional(),
    align: byViewport(z.enum(['start', 'center', 'end'])).optional(),
    background: background.optional(),
    ink: byViewport(color).optional(),
    hide,
    gap: byViewport(length([], false)).optional(),
    stackAt: byViewport(length([], false)).optional(),
  }
  // One object for every kind of item, so that an unknown key is named plainly; which keys go together is refined.
  const itemShape = {
    ...common,
    ...box,
    heading: z.int().min(1).max(6).optional(),
    text: z.string().optional(),
    image: id.optional(),
    button: z.string().optional(),
    url: z.string().optional(),
    page: id.optional(),
    form: z.union([z.string(), z.literal(true)]).optional(),
    fields: z.int().min(0).max(1000).optional(),
    to: z.string().optional(),
    search: z.literal(true).optional(),
    account: z.literal(true).optional(),
    logo: id.optional(),
    menu: id.optional(),
    use: id.optional(),
    embed: z.string().optional(),
    social: z.array(strict({ label: z.string(), url: z.string().optional() })).optional(),
    countdown: z.iso.datetime({ offset: true, local: true }).optional(),
    title: z.literal(true).optional(),
    byline: z.literal(true).optional(),
    listing: id.optional(),
    count: z.int().min(0).max(100_000).optional(),
    comments: z.literal(true).optional(),
    section: id.optional(),
  }
  const item: z.ZodType<Item> = strict({
    ...itemShape,
    get items() {
      return z.array(item).optional()
    },
    get columns() {
      return z.array(column).optional()
    },
  }).superRefine((value, ctx) => {
    const problem = itemProblem(value as Item)
    if (problem) ctx.addIssue({ code: 'custom', message: problem })
  }) as unknown as z.ZodType<Item>
  const column = strict({ share: z.number().positive().optional(), items: z.array(item).optional() })
  const section = item.refine((value) => value.section !== undefined, {
    error: 'a body is a list of sections: put this inside { section: some-id, items: [ … ] }',
  })
  const content = { items: z.array(item).optional(), columns: z.array(column).optional() }

  const row = strict({
    id: id.optional(),
    padding: byViewport(sides(false)).optional(),
    hide,
    stays: z.boolean().optional(),
    items: z.array(item).optional(),
  })
  const measured = (viewports
    ? z.partialRecord(z.enum([...viewports, 'else']), length([], false))
    : z.record(z.string(), length([], false))) as unknown as z.ZodType<Readonly<Record<string, LengthValue>>>
  const surround = strict({
    label: z.string().optional(),
    as: z.enum(['header', 'footer', 'sidebar']),
    from: id.optional(),
    height: byViewport(length([], false)).optional(),
    measured: measured.optional(),
    background: byViewport(color).optional(),
    ink: byViewport(color).optional(),
    copyOf: id.optional(),
    own: z.array(z.string()).optional(),
    rows: z.array(row).optional(),
    items: z.array(item).optional(),
  })
  const ground = strict({ color: color.optional(), ink: color.optional() })
  const allow = strict({ rule: oneOrMore(id), where: where.optional(), reason: z.string().min(1) })
  const arrangeEntry = z.union([z.enum([...ARRANGE_WORDS]), item])
  const severity = z.enum(['error', 'warning', 'note', 'none'])
  const built = strict({ with: id, template: id.optional() })
  const records = <T extends z.ZodType>(schema: T) => z.record(id, schema)
  const headings = strict(
    Object.fromEntries(
      ['1', '2', '3', '4', '5', '6'].map((n) => [
        n,
        strict({ size: length([], false).optional(), line: z.number().positive().optional() }).optional(),
      ]),
    ),
  )

  const insert = strict({
    ...common,
    ...box,
    ...content,
    id,
    at: z.enum(INSERT_PLACES),
    where,
    except: where.optional(),
    from: id.optional(),
  }) as unknown as z.ZodType<Insert>

  const page = strict({
    path: z.string().regex(/^\//, { error: 'a path begins with /' }),
    title: z.string(),
    kind: id.optional(),
    status: z.enum(['published', 'draft']).optional(),
    parent: id.optional(),
    tags: z.array(z.string()).optional(),
    classes: z.array(z.string()).optional(),
    template: id.optional(),
    built: built.optional(),
    layout: layout.optional(),
    access: z.enum(['public', 'members']).optional(),
    sendTo: id.optional(),
    image: id.optional(),
    share: strict({ image: id.optional() }).optional(),
    body: z.array(section).optional(),
    allow: z.array(allow).optional(),
  })

  return strict({
    wembra: z.literal(1, { error: 'the format version this reads is 1: begin the file with "wembra: 1"' }),
    site: strict({ name: z.string(), url: z.string().optional() }),
    extends: z.array(z.string()).optional(),
    include: z.array(z.string()).optional(),
    viewports: records(
      strict({ width: z.number().positive().max(100_000), height: z.number().positive().max(100_000) }),
    ).optional(),
    tokens: z.string().optional(),
    precedence: z.array(z.enum(LAYERS)).optional(),
    choose: z.array(z.enum(CHOOSERS)).optional(),
    locators: strict(Object.fromEntries(LOCATORS.map((name) => [name, z.string().optional()]))).optional(),
    styles: z
      .array(
        strict({
          file: z.string().optional(),
          css: z.string().optional(),
          where: where.optional(),
          from: id.optional(),
        }),
      )
      .optional(),
    typography: strict({
      family: z.string().optional(),
      file: z.string().optional(),
      base: length([], false).optional(),
      line: z.number().positive().max(100).optional(),
      headings: headings.optional(),
    }).optional(),
    assets: records(
      strict({
        file: z.string().optional(),
        width: z.number().positive().optional(),
        height: z.number().positive().optional(),
        margins: strict(
          Object.fromEntries(['top', 'right', 'bottom', 'left'].map((side) => [side, z.number().min(0).optional()])),
        ).optional(),
        color: color.optional(),
        range: z.tuple([color, color]).optional(),
      }),
    ).optional(),
    extensions: records(strict({ enabled: z.boolean(), label: z.string().optional() })).optional(),
    kinds: records(
      strict({
        label: z.string().optional(),
        from: id.optional(),
        layout: layout.optional(),
        template: id.optional(),
        facets: z.array(z.enum(FACET_NAMES)).optional(),
        listed: z.boolean().optional(),
        headline: z.enum(['marked']).optional(),
      }),
    ).optional(),
    menus: records(z.array(strict({ label: z.string(), page: id.optional(), url: z.string().optional() }))).optional(),
    builders: records(
      strict({
        label: z.string().optional(),
        from: id.optional(),
        kinds: z.array(id).optional(),
        template: id.optional(),
        layout: layout.optional(),
      }),
    ).optional(),
    surrounds: records(surround).optional(),
    theme: strict({
      label: z.string().optional(),
      layout: layout.optional(),
      template: id.optional(),
      ground: ground.optional(),
    }),
    templates: records(
      strict({
        label: z.string().optional(),
        base: id.optional(),
        from: id.optional(),
        for: z.array(id).optional(),
        builder: id.optional(),
        enabled: z.boolean().optional(),
        layout: layout.optional(),
        arrange: z.array(arrangeEntry).optional(),
        ground: ground.optional(),
        copyOf: id.optional(),
        own: z.array(z.string()).optional(),
        allow: z.array(allow).optional(),
      }),
    ).optional(),
    assign: z
      .array(
        strict({
          template: id.optional(),
          use: id.optional(),
          layout: layout.optional(),
          where,
          except: where.optional(),
        }).refine((e) => [e.template, e.use, e.layout].filter((v) => v !== undefined).length === 1, {
          error: 'an assign entry has exactly one of template, use, layout',
        }),
      )
      .optional(),
    inserts: z.array(insert).optional(),
    purposes: strict({
      front: id.optional(),
      listing: records(id).optional(),
      search: id.optional(),
      notFound: id.optional(),
      signIn: id.optional(),
    }).optional(),
    policies: z
      .array(strict({ name: z.string(), where: where.optional(), require: z.record(requirable, z.unknown()) }))
      .optional(),
    allow: z.array(allow).optional(),
    severity: z.record(z.string(), severity).optional(),
    pages: records(page),
  })
}

export type SiteData = z.infer<ReturnType<typeof createSiteSchema>>
export type PageData = SiteData['pages'][string]
export type TemplateData = NonNullable<SiteData['templates']>[string]
export type SurroundData = NonNullable<SiteData['surrounds']>[string]
export type KindData = NonNullable<SiteData['kinds']>[string]
export type BuilderData = NonNullable<SiteData['builders']>[string]
export type AssignData = NonNullable<SiteData['assign']>[number]
export type AssetData = NonNullable<SiteData['assets']>[string]

/** Why the keys of an item do not go together; `undefined` when they do. */
function itemProblem(item: Item): string | undefined {
  const kind = itemKindOf(item)
  if (!kind) return `an item says what it is with one of: ${Object.keys(ITEM_KINDS).join(', ')}`
  const allowed: readonly string[] = ITEM_KINDS[kind]
  const stray = Object.keys(item).filter((key) => !allowed.includes(key))
  if (stray.length > 0) return `a ${kind} item has no ${stray.join(', ')}; it may have: ${allowed.join(', ')}`
  if (kind === 'heading' && item.text === undefined) return 'a heading has a text: { heading: 2, text: "…" }'
  return undefined
}

import * as z from '#vendor/zod-mini.js'
import { BLEND_MODES } from '../css/color.js'
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
import { countItems, LIMITS } from './limits.js'
import { ITEM_KINDS, itemKindOf } from './item-kinds.js'
import {
  color,
  id,
  length,
  oneOrMore,
  sides,
  strict,
  unknownViewport,
  unknownViewports,
  upTo,
} from './schema-values.js'
import { sparse } from './sparse-schema.js'
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

const FIGURES: ReadonlySet<string> = new Set(POLICY_FIGURES)

export const TOO_MANY_VIEWPORTS = `a site has at most ${LIMITS.viewports} viewports`

/**
 * The schema of a site file.
 *
 * @param viewports - The site's viewport names, so that a map by viewport with another key is an error;
 *   `null` when they are not known (the published JSON Schema), which allows any key.
 */
export function createSiteSchema(viewports: readonly string[] | null) {
  const byViewport = <T extends z.ZodMiniType>(schema: T): z.ZodMiniType<ByViewport<z.infer<T>>> => {
    const map = viewports
      ? sparse(
          z.strictObject(Object.fromEntries([...viewports, 'else'].map((name) => [name, z.optional(schema)])), {
            error: (issue) =>
              issue.code === 'unrecognized_keys' ? unknownViewports(issue.keys, viewports) : undefined,
          }),
        )
      : z.record(z.string(), schema)
    return z.union([schema, map]) as unknown as z.ZodMiniType<ByViewport<z.infer<T>>>
  }

  const property = (definition: PropertyDefinition): z.ZodMiniType => {
    const said = (schema: z.ZodMiniType) => byViewport(z.union([schema, z.enum(['inherit', 'revert'])]))
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

  const lockable = z.string().check(
    z.refine((v) => isFacet(v) || definitionOf(v) !== undefined, {
      error: (issue) => {
        const known = FACET_NAMES.flatMap((f) => [f, ...Object.keys(FACETS[f]).map((p) => `${f}.${p}`)])
        const meant = didYouMean(String(issue.input), known)
        return `"${String(issue.input)}" is not a facet or property${meant ? `; did you mean "${meant}"?` : ''}`
      },
    }),
  )
  const requirable = z.string().check(
    z.refine((v) => isFacet(v) || definitionOf(v) !== undefined || FIGURES.has(v), {
      error: (issue) => {
        const meant = didYouMean(String(issue.input), [...FIGURES, ...PROPERTY_PATHS, ...FACET_NAMES])
        return `a policy cannot require "${String(issue.input)}"${meant ? `; did you mean "${meant}"?` : `; beyond facets it may require: ${[...FIGURES].join(', ')}`}`
      },
    }),
  )
  const facet = (name: Facet) =>
    strict(
      Object.fromEntries(
        Object.entries(FACETS[name] as Record<string, PropertyDefinition>).map(([p, d]) => [
          p,
          z.optional(property(d)),
        ]),
      ),
    )
  const layout = strict({
    ...Object.fromEntries(FACET_NAMES.map((name) => [name, z.optional(facet(name))])),
    lock: z.optional(z.array(lockable)),
  }) as unknown as z.ZodMiniType<Layout>

  const selector = strict({
    all: z.optional(z.literal(true)),
    ...Object.fromEntries(
      ['kind', 'page', 'path', 'under', 'tag', 'purpose', 'builder', 'template'].map((k) => [
        k,
        z.optional(oneOrMore(id)),
      ]),
    ),
  }) as unknown as z.ZodMiniType<Selector>
  const where = oneOrMore(selector)

  const common = { id: z.optional(id), width: z.optional(byViewport(length())), links: z.optional(z.array(z.string())) }
  const viewportName = viewports
    ? z.enum(viewports, { error: (issue) => unknownViewport(String(issue.input), viewports) })
    : z.string()
  const hide = z.optional(z.array(viewportName))
  const background = strict({
    color: z.optional(byViewport(color)),
    image: z.optional(id),
    blend: z.optional(byViewport(z.enum(BLEND_MODES))),
  })
  const box = {
    role: z.optional(byViewport(z.enum(['banner', 'navigation', 'contentinfo']))),
    band: z.optional(byViewport(z.enum(['column', 'full']))),
    breakout: z.optional(z.boolean()),
    maxWidth: z.optional(byViewport(length(['none']))),
    padding: z.optional(byViewport(sides(false))),
    margin: z.optional(byViewport(sides(true))),
    height: z.optional(byViewport(length([], false))),
    minHeight: z.optional(byViewport(length([], false))),
    align: z.optional(byViewport(z.enum(['start', 'center', 'end']))),
    background: z.optional(background),
    ink: z.optional(byViewport(color)),
    hide,
    gap: z.optional(byViewport(length([], false))),
    stackAt: z.optional(byViewport(length([], false))),
  }
  // One object for every kind of item, so that an unknown key is named plainly; which keys go together is refined.
  const itemShape = {
    ...common,
    ...box,
    heading: z.optional(z.int().check(z.gte(1)).check(z.lte(6))),
    text: z.optional(z.string()),
    image: z.optional(id),
    button: z.optional(z.string()),
    url: z.optional(z.string()),
    page: z.optional(id),
    form: z.optional(z.union([z.string(), z.literal(true)])),
    fields: z.optional(z.int().check(z.gte(0)).check(z.lte(1000))),
    to: z.optional(z.string()),
    search: z.optional(z.literal(true)),
    account: z.optional(z.literal(true)),
    logo: z.optional(id),
    menu: z.optional(id),
    use: z.optional(id),
    embed: z.optional(z.string()),
    social: z.optional(z.array(strict({ label: z.string(), url: z.optional(z.string()) }))),
    countdown: z.optional(z.iso.datetime({ offset: true, local: true })),
    title: z.optional(z.literal(true)),
    byline: z.optional(z.literal(true)),
    listing: z.optional(id),
    count: z.optional(z.int().check(z.gte(0)).check(z.lte(100_000))),
    comments: z.optional(z.literal(true)),
    section: z.optional(id),
  }
  const item: z.ZodMiniType<Item> = sparse(
    strict({
      ...itemShape,
      items: z.optional(
        upTo(
          LIMITS.list,
          z.lazy(() => item),
        ),
      ),
      columns: z.optional(
        upTo(
          LIMITS.list,
          z.lazy(() => column),
        ),
      ),
    }).check((context) => {
      const problem = itemProblem(context.value as Item)
      if (problem) context.issues.push({ code: 'custom', message: problem, input: context.value })
    }),
  ) as unknown as z.ZodMiniType<Item>
  const column = strict({
    share: z.optional(z.number().check(z.positive())),
    items: z.optional(upTo(LIMITS.list, item)),
  })
  const section = sparse(
    item.check(
      z.refine((value) => value.section !== undefined, {
        error: 'a body is a list of sections: put this inside { section: some-id, items: [ … ] }',
      }),
    ),
  )
  const content = { items: z.optional(upTo(LIMITS.list, item)), columns: z.optional(upTo(LIMITS.list, column)) }

  const row = strict({
    id: z.optional(id),
    padding: z.optional(byViewport(sides(false))),
    hide,
    stays: z.optional(z.boolean()),
    items: z.optional(upTo(LIMITS.list, item)),
  })
  const measured = (viewports
    ? z.partialRecord(z.enum([...viewports, 'else']), length([], false))
    : z.record(z.string(), length([], false))) as unknown as z.ZodMiniType<Readonly<Record<string, LengthValue>>>
  const surround = strict({
    label: z.optional(z.string()),
    as: z.enum(['header', 'footer', 'sidebar']),
    from: z.optional(id),
    height: z.optional(byViewport(length([], false))),
    measured: z.optional(measured),
    background: z.optional(byViewport(color)),
    ink: z.optional(byViewport(color)),
    copyOf: z.optional(id),
    own: z.optional(z.array(z.string())),
    rows: z.optional(upTo(LIMITS.rows, row)),
    items: z.optional(upTo(LIMITS.list, item)),
  })
  const ground = strict({ color: z.optional(color), ink: z.optional(color) })
  const allow = strict({ rule: oneOrMore(id), where: z.optional(where), reason: z.string().check(z.minLength(1)) })
  const arrangeEntry = z.union([z.enum([...ARRANGE_WORDS]), item])
  const severity = z.enum(['error', 'warning', 'note', 'none'])
  const built = strict({ with: id, template: z.optional(id) })
  const records = <T extends z.ZodMiniType>(schema: T) => z.record(id, schema)
  const headings = strict(
    Object.fromEntries(
      ['1', '2', '3', '4', '5', '6'].map((n) => [
        n,
        z.optional(strict({ size: z.optional(length([], false)), line: z.optional(z.number().check(z.positive())) })),
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
    except: z.optional(where),
    from: z.optional(id),
  }) as unknown as z.ZodMiniType<Insert>

  const page = strict({
    path: z.string().check(z.regex(/^\//, { error: 'a path begins with /' })),
    title: z.string(),
    kind: z.optional(id),
    status: z.optional(z.enum(['published', 'draft'])),
    parent: z.optional(id),
    tags: z.optional(z.array(z.string())),
    classes: z.optional(z.array(z.string())),
    template: z.optional(id),
    built: z.optional(built),
    layout: z.optional(layout),
    access: z.optional(z.enum(['public', 'members'])),
    sendTo: z.optional(id),
    image: z.optional(id),
    share: z.optional(strict({ image: z.optional(id) })),
    body: z.optional(
      upTo(LIMITS.list, section).check(
        z.refine((body) => countItems(body, LIMITS.body) <= LIMITS.body, {
          error: `a page has at most ${LIMITS.body} sections and items; split it into several pages`,
        }),
      ),
    ),
    allow: z.optional(upTo(LIMITS.allow, allow)),
  })

  return strict({
    wembra: z.literal(1, { error: 'the format version this reads is 1: begin the file with "wembra: 1"' }),
    site: strict({ name: z.string(), url: z.optional(z.string()) }),
    extends: z.optional(z.array(z.string())),
    include: z.optional(z.array(z.string())),
    viewports: z.optional(
      records(
        strict({
          width: z.number().check(z.positive()).check(z.lte(100_000)),
          height: z.number().check(z.positive()).check(z.lte(100_000)),
        }),
      ).check(
        z.refine((all) => Object.keys(all).length <= LIMITS.viewports, {
          error: TOO_MANY_VIEWPORTS,
        }),
      ),
    ),
    tokens: z.optional(z.string()),
    precedence: z.optional(z.array(z.enum(LAYERS))),
    choose: z.optional(z.array(z.enum(CHOOSERS))),
    locators: z.optional(strict(Object.fromEntries(LOCATORS.map((name) => [name, z.optional(z.string())])))),
    styles: z.optional(
      upTo(
        LIMITS.styles,
        strict({
          file: z.optional(z.string()),
          css: z.optional(z.string()),
          where: z.optional(where),
          from: z.optional(id),
        }),
      ),
    ),
    typography: z.optional(
      strict({
        family: z.optional(z.string()),
        file: z.optional(z.string()),
        base: z.optional(length([], false)),
        line: z.optional(z.number().check(z.positive()).check(z.lte(100))),
        headings: z.optional(headings),
      }),
    ),
    assets: z.optional(
      records(
        strict({
          file: z.optional(z.string()),
          width: z.optional(z.number().check(z.positive())),
          height: z.optional(z.number().check(z.positive())),
          margins: z.optional(
            strict(
              Object.fromEntries(
                ['top', 'right', 'bottom', 'left'].map((side) => [side, z.optional(z.number().check(z.gte(0)))]),
              ),
            ),
          ),
          color: z.optional(color),
          range: z.optional(z.tuple([color, color])),
        }),
      ),
    ),
    extensions: z.optional(records(strict({ enabled: z.boolean(), label: z.optional(z.string()) }))),
    kinds: z.optional(
      records(
        strict({
          label: z.optional(z.string()),
          from: z.optional(id),
          layout: z.optional(layout),
          template: z.optional(id),
          facets: z.optional(z.array(z.enum(FACET_NAMES))),
          listed: z.optional(z.boolean()),
          headline: z.optional(z.enum(['marked'])),
        }),
      ),
    ),
    menus: z.optional(
      records(upTo(LIMITS.menu, strict({ label: z.string(), page: z.optional(id), url: z.optional(z.string()) }))),
    ),
    builders: z.optional(
      records(
        strict({
          label: z.optional(z.string()),
          from: z.optional(id),
          kinds: z.optional(z.array(id)),
          template: z.optional(id),
          layout: z.optional(layout),
        }),
      ),
    ),
    surrounds: z.optional(records(surround)),
    theme: strict({
      label: z.optional(z.string()),
      layout: z.optional(layout),
      template: z.optional(id),
      ground: z.optional(ground),
    }),
    templates: z.optional(
      records(
        strict({
          label: z.optional(z.string()),
          base: z.optional(id),
          from: z.optional(id),
          for: z.optional(z.array(id)),
          builder: z.optional(id),
          enabled: z.optional(z.boolean()),
          layout: z.optional(layout),
          arrange: z.optional(z.array(arrangeEntry)),
          ground: z.optional(ground),
          copyOf: z.optional(id),
          own: z.optional(z.array(z.string())),
          allow: z.optional(upTo(LIMITS.allow, allow)),
        }),
      ),
    ),
    assign: z.optional(
      upTo(
        LIMITS.assign,
        strict({
          template: z.optional(id),
          use: z.optional(id),
          layout: z.optional(layout),
          where,
          except: z.optional(where),
        }).check(
          z.refine((e) => [e.template, e.use, e.layout].filter((v) => v !== undefined).length === 1, {
            error: 'an assign entry has exactly one of template, use, layout',
          }),
        ),
      ),
    ),
    inserts: z.optional(upTo(LIMITS.inserts, insert)),
    purposes: z.optional(
      strict({
        front: z.optional(id),
        listing: z.optional(records(id)),
        search: z.optional(id),
        notFound: z.optional(id),
        signIn: z.optional(id),
      }),
    ),
    policies: z.optional(
      upTo(
        LIMITS.policies,
        strict({
          name: z.string(),
          where: z.optional(where),
          except: z.optional(where),
          require: z.record(requirable, z.unknown()),
        }),
      ),
    ),
    allow: z.optional(upTo(LIMITS.allow, allow)),
    severity: z.optional(z.record(z.string(), severity)),
    pages: records(page),
  })
}

/** A whole site file, merged with all that it extends and includes. */
export type SiteData = z.infer<ReturnType<typeof createSiteSchema>>
/** A page as the merged site file has it. */
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
  if (!kind) return `an item needs one of these keys: ${Object.keys(ITEM_KINDS).join(', ')}`
  const allowed: readonly string[] = ITEM_KINDS[kind]
  const stray = Object.keys(item).filter((key) => !allowed.includes(key))
  if (stray.length > 0) return `a ${kind} item has no ${stray.join(', ')}; it may have: ${allowed.join(', ')}`
  if (kind === 'heading' && item.text === undefined) return 'a heading has a text: { heading: 2, text: "…" }'
  return undefined
}

import { parseLength } from '../css/length.js'
import { propertyInPx } from '../measure/facets.js'
import { firstContent } from '../measure/printed.js'
import { definitionOf, HEADLINE_PROPERTY, isFacet, pathOf, type PropertyPath } from '../model/facets.js'
import { isObject, type Json, type JsonObject } from '../model/json.js'
import { POLICY_FIGURES, type Where } from '../model/site-data.js'
import type { Site } from '../model/site.js'
import { atViewport } from '../resolve/settings.js'
import { compileWhere, type CompiledWhere } from '../select/selector.js'
import { countWords, exitsOf, type ExitPlace } from './links.js'
import type { Fact } from './rule.js'
import type { Sight } from './sight.js'
import { TOLERANCE_PX } from './thresholds.js'

interface CompiledPolicy {
  readonly name: string
  readonly pointer: string
  readonly where: CompiledWhere | undefined
  readonly except: CompiledWhere | undefined
  readonly require: Readonly<Record<string, Json>>
}

const compiled = new WeakMap<object, readonly CompiledPolicy[]>()

function policiesOf(site: Site): readonly CompiledPolicy[] {
  const { policies } = site.data
  if (!policies) return []
  let known = compiled.get(policies)
  if (!known) {
    known = policies.map(({ name, where, except, require }, index) => ({
      name,
      pointer: `/policies/${index}/require`,
      where: where === undefined ? undefined : compileWhere(site, where as Where),
      except: except === undefined ? undefined : compileWhere(site, except as Where),
      require: require as Readonly<Record<string, Json>>,
    }))
    compiled.set(policies, known)
  }
  return known
}

/** The requirements that a page does not keep at a viewport. */
export function brokenRequirements(sight: Sight): readonly Fact[] {
  const template = sight.page.choice.template?.id ?? null
  return policiesOf(sight.resolved.site).flatMap(({ name, pointer, where, except, require }) => {
    if (where && !where.match(sight.page.facts, template)) return []
    if (except?.match(sight.page.facts, template)) return []
    return Object.entries(require).flatMap(([key, said]): readonly Fact[] => {
      const required = isByViewport(sight, said) ? atViewport(said, sight.view.viewport.name) : said
      if (required === undefined) return []
      const is = actual(sight, key, required)
      if (keeps(sight, is, required)) return []
      const [limit] = typeof is === 'number' ? limitsOf(sight, required) : []
      return [
        {
          at: `${pointer}/${key}`,
          numbers: typeof is === 'number' && limit !== undefined ? { is, should: limit } : {},
          words: { policy: name, what: `${key} is ${inWords(is)}, and should be ${inWords(required)}` },
        },
      ]
    })
  })
}

const isByViewport = (sight: Sight, said: Json): said is JsonObject => {
  const names = [...sight.resolved.site.viewports.map((v) => v.name), 'else']
  return isObject(said) && Object.keys(said).length > 0 && Object.keys(said).every((key) => names.includes(key))
}

type Figure = (typeof POLICY_FIGURES)[number]
const isFigure = (key: string): key is Figure => (POLICY_FIGURES as readonly string[]).includes(key)

/** What may be required beside the facets. */
const FIGURES: Readonly<Record<Figure, (sight: Sight, required: Json) => Json>> = {
  access: ({ page }) => page.data.access ?? 'public',
  status: ({ page }) => page.data.status ?? 'published',
  exits: (sight, required) => {
    const by = isObject(required) ? required['by'] : undefined
    return exitsOf(sight, by as ExitPlace | undefined).size
  },
  top: ({ measure }) => firstContent(measure)?.box.y ?? null,
  words: (sight) => countWords(sight.items.filter(({ place }) => place === 'body').map(({ item }) => item)),
  'header.height': ({ header }) => header?.height ?? 0,
  purpose: ({ page }) => page.facts.purposes,
  template: ({ page }) => page.choice.template?.id ?? 'none',
}

function actual(sight: Sight, key: string, required: Json): Json {
  if (isFigure(key)) return FIGURES[key](sight, required)
  const path = isFacet(key) ? pathOf(key, HEADLINE_PROPERTY[key]) : (key as PropertyPath)
  if (path === 'sidebar.side' && sight.view.presence('sidebar.presence') !== 'shown') return 'none'
  if (definitionOf(path)?.type === 'length') return propertyInPx(sight.measure, sight.frame, path)
  return sight.view.value(path)
}

function keeps(sight: Sight, is: Json, required: Json): boolean {
  if (Array.isArray(required)) return (required as readonly Json[]).some((one) => keeps(sight, is, one))
  if (Array.isArray(is))
    return (is as readonly string[]).some((one) => one === required || one.startsWith(`${String(required)}:`))
  if (isObject(required)) {
    const { min, max } = required
    const within = (limit: Json | undefined, sign: 1 | -1): boolean =>
      limit === undefined || (typeof is === 'number' && sign * (is - (px(sight, limit) ?? NaN)) <= TOLERANCE_PX)
    return within(max, 1) && within(min, -1)
  }
  if (is === required) return true
  if (typeof is === 'number') return Math.abs(is - (px(sight, required) ?? NaN)) <= TOLERANCE_PX
  return false
}

function limitsOf(sight: Sight, required: Json): readonly number[] {
  const all = isObject(required) ? [required['max'], required['min']] : [required].flat()
  return all.flatMap((limit) => (limit === undefined ? [] : (px(sight, limit as Json) ?? [])))
}

function px({ frame }: Sight, limit: Json): number | undefined {
  const length = typeof limit === 'string' || typeof limit === 'number' ? parseLength(limit) : null
  return length?.px(frame.context(frame.width))
}

function inWords(value: Json): string {
  if (value === null) return 'nothing'
  if (typeof value === 'number') return String(Math.round(value * 10) / 10)
  if (Array.isArray(value)) return value.length === 0 ? 'nothing' : (value as readonly Json[]).map(inWords).join(' or ')
  if (isObject(value)) {
    const parts = [
      value['min'] === undefined ? '' : `at least ${inWords(value['min'])}`,
      value['max'] === undefined ? '' : `at most ${inWords(value['max'])}`,
    ]
    return parts.filter((part) => part !== '').join(' and ')
  }
  return typeof value === 'string' ? value : JSON.stringify(value)
}

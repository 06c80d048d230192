import type * as z from '#vendor/zod-mini.js'
import { isObject, type Json } from './json.js'

/**
 * Makes an object's schema look only at the keys that are there: the library looks at all that may be, and an item has
 * fifty, of which two or three are given. Values are checked, not changed; where a key is unknown or missing, or the
 * value is no map, the library's own way says so.
 *
 * A schema that `check` is called on has to be made sparse again.
 */
export function sparse<T extends z.ZodMiniType>(schema: T): T {
  const internals = schema._zod as unknown as Internals
  const { shape } = internals.def
  const dense = internals.parse
  const inners = new Map(Object.entries(shape))
  const required = Object.keys(shape).filter((key) => shape[key]?._zod.optin === undefined)
  const parse: Parse = (payload, context) => {
    const { value } = payload
    if (!isObject(value)) return dense(payload, context)
    for (const key of required) if (!Object.hasOwn(value, key)) return dense(payload, context)
    const keys = Object.keys(value)
    for (const key of keys) if (!inners.has(key)) return dense(payload, context)
    // Used again as long as nothing is wrong: a site has very many values.
    let inner: Payload | undefined
    for (const key of keys) {
      if (inner) inner.value = value[key] as Json
      else inner = { value: value[key] as Json, issues: [] }
      const { issues } = (inners.get(key) as Inner)._zod.run(inner, context)
      if (issues.length === 0) continue
      for (const issue of issues) payload.issues.push({ ...issue, path: [key, ...(issue.path ?? [])] })
      inner = undefined
    }
    return payload
  }
  // Without checks of its own a schema is run by its parser alone.
  if (internals.run === dense) internals.run = parse
  internals.parse = parse
  return schema
}

interface Payload {
  value: Json
  readonly issues: { readonly path?: readonly PropertyKey[] }[]
}
type Parse = (payload: Payload, context: unknown) => Payload

/** What the library shows of a schema to those who extend it. */
interface Internals {
  readonly def: { readonly shape: Readonly<Record<string, Inner>> }
  parse: Parse
  run: Parse
}

interface Inner {
  readonly _zod: { readonly optin: string | undefined; readonly run: Parse }
}

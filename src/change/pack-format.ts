import { toByteArray } from 'base64-js'
import * as z from '#vendor/zod.js'
import { checkSchema } from '../model/check-schema.js'
import { toPointer, type Json, type JsonObject } from '../model/json.js'
import { SiteError, type Problem, type ProblemCode } from '../model/problem.js'
import { expandSite } from '../model/shorthand.js'
import { readSource, type Source } from '../model/source.js'
import { readTokens, withTokens, type Tokens } from '../model/tokens.js'
import { hashBytes, hashJson } from './content-hash.js'

/** What can be in a pack, in the order in which it is taken in: nothing refers to what comes after it. */
export const PACK_SECTIONS = ['tokens', 'assets', 'menus', 'surrounds', 'templates'] as const
export type PackSection = (typeof PACK_SECTIONS)[number]

/** The newest format that this reads. */
const FORMAT = 1

const hash = z.string().regex(/^sha256-[A-Za-z0-9+/]{43}=$/, { error: 'a hash is "sha256-" and 44 characters' })

const entrySchema = z.strictObject({
  section: z.enum(PACK_SECTIONS),
  /** A token's dotted name, else the thing's id. */
  id: z.string().min(1),
  /** As it was written, shorthand and tokens kept. */
  value: z.json() as unknown as z.ZodType<Json>,
  /** Why it is in the pack. */
  because: z.string(),
  hash,
})

const fileSchema = z.strictObject({
  /** The asset that it is the file of. */
  asset: z.string().min(1),
  /** As the asset names it: from the site file's folder, and never out of it. */
  path: z.string().min(1),
  /** Base64 (RFC 4648). */
  content: z.base64(),
  hash,
})

const packSchema = z.strictObject({
  wembra: z.literal(FORMAT),
  report: z.literal('pack'),
  /** The name of the site it was taken from. */
  site: z.string(),
  templates: z.array(z.string()).min(1),
  /** The viewports that values in it name. */
  viewports: z.record(z.string(), z.strictObject({ width: z.number().positive(), height: z.number().positive() })),
  entries: z.array(entrySchema),
  files: z.array(fileSchema),
  /** Over all hashes in their order, so that nothing can be taken out unseen. */
  hash,
})

/** Chosen templates with what they need, to be taken into another site. */
export type Pack = z.infer<typeof packSchema>
/** One thing in a pack, with the hash it is checked by. */
export type PackEntry = Pack['entries'][number]
export type PackFile = Pack['files'][number]

/** The JSON Schema (2020-12) of packs. */
export const packJsonSchema = (): JsonObject => ({
  ...(z.toJSONSchema(packSchema, { target: 'draft-2020-12' }) as JsonObject),
  title: 'A Wembra pack: templates with what they need',
})

/** An entry's content hash: section, id and value, whatever the reason it is there for. */
export const entryHash = ({ section, id, value }: Pick<PackEntry, 'section' | 'id' | 'value'>): string =>
  hashJson({ section, id, value: value as Json })

/** A file's content hash, over its bytes. */
export const fileHash = (file: Pick<PackFile, 'content'>): string => hashBytes(toByteArray(file.content))

type Unsealed = Omit<Pack, 'hash'>

const wholeHash = ({ site, templates, viewports, entries, files }: Unsealed): string =>
  hashJson({
    ...{ site, templates, viewports },
    entries: entries.map(({ because, hash: own }) => [because, own]),
    files: files.map(({ asset, path, hash: own }) => [asset, path, own]),
  })

/** A pack with its hash. */
export const sealed = (pack: Unsealed): Pack => ({ ...pack, hash: wholeHash(pack) })

/**
 * Reads a pack and checks it by its hashes and by what a site file may contain.
 *
 * @throws {SiteError} Every problem, with its place: no JSON, a newer format, something that was altered, a value that
 *   no site may have.
 */
export function readPack(text: string, file: string): Pack {
  const { source, problems } = readSource(text, file.endsWith('.json') ? file : `${file}.json`)
  if (!source) throw new SiteError(problems.map((problem) => ({ ...problem, file })))
  const fail = (found: readonly Found[]): never => {
    throw new SiteError(
      found.map(({ pointer, code, message }) => ({ ...source.locate(pointer, 'value'), file, code, message })),
    )
  }
  const newer = newerFormat(source)
  if (newer) return fail([newer])
  const result = packSchema.safeParse(source.value)
  if (!result.success)
    return fail(
      result.error.issues.map(({ path, message }) => ({
        pointer: toPointer(path),
        code: 'wrong-value',
        message: `${message}; a pack is made by \`wembra pack\``,
      })),
    )
  const pack = result.data
  const found = [...altered(pack), ...hostileFiles(pack)]
  if (found.length === 0) found.push(...noSite(pack))
  return found.length > 0 ? fail(found) : pack
}

interface Found {
  readonly pointer: string
  readonly code: ProblemCode
  readonly message: string
}

function newerFormat({ value }: Source): Found | undefined {
  const version = (value as JsonObject)['wembra']
  if (typeof version !== 'number' || version <= FORMAT) return undefined
  const message = `this pack has format ${version}, and this program reads up to ${FORMAT}; use a newer Wembra`
  return { pointer: '/wembra', code: 'newer-format', message }
}

const ALTERED = 'was altered after it was packed: its hash is another; get the pack anew, or pack it again'

function altered(pack: Pack): Found[] {
  const parts = [
    ...pack.entries.map((entry, n) => ({
      pointer: `/entries/${n}/hash`,
      what: `${entry.section} "${entry.id}"`,
      isSame: entryHash(entry) === entry.hash,
    })),
    ...pack.files.map((each, n) => ({
      pointer: `/files/${n}/hash`,
      what: `the file ${each.path}`,
      isSame: fileHash(each) === each.hash,
    })),
    { pointer: '/hash', what: 'the list of what is in the pack', isSame: wholeHash(pack) === pack.hash },
  ]
  return parts.flatMap(({ pointer, what, isSame }) =>
    isSame ? [] : [{ pointer, code: 'altered' as const, message: `${what} ${ALTERED}` }],
  )
}

/** Files that would be written outside the site's folder, or that are no pictures. */
const hostileFiles = ({ files }: Pack): Found[] =>
  files.flatMap(({ path, content }, n): Found[] => {
    const refuse = (what: string): Found[] => [
      { pointer: `/files/${n}/path`, code: 'wrong-value', message: `"${path}" ${what}; such a pack is not taken in` },
    ]
    if (!isInside(path)) return refuse("leads out of the site's folder")
    if (path.split('/').some((part) => part.startsWith('.') || part === 'node_modules'))
      return refuse('names a hidden folder or file, or one of installed packages')
    if (!isPicture(path, toByteArray(content))) return refuse('is no picture (SVG, PNG, JPEG, WebP, GIF or AVIF)')
    return []
  })

/** The first bytes of pictures by their ending, as their formats define them; an SVG begins as XML. */
const FIRST_BYTES: Readonly<Record<string, RegExp>> = {
  svg: /^(\xef\xbb\xbf)?\s*<(\?xml|!--|!doctype svg|svg)[\s>]/i,
  png: /^\x89PNG\r\n/,
  jpg: /^\xff\xd8\xff/,
  jpeg: /^\xff\xd8\xff/,
  gif: /^GIF8[79]a/,
  webp: /^RIFF[\s\S]{4}WEBP/,
  avif: /^[\s\S]{4}ftypavi[fs]/,
}

/** Whether a file has the ending of a picture and begins as one. */
function isPicture(path: string, bytes: Uint8Array): boolean {
  const first = FIRST_BYTES[path.slice(path.lastIndexOf('.') + 1).toLowerCase()]
  return first?.test(String.fromCharCode(...bytes.subarray(0, 64))) ?? false
}

/** Whether a path stays in the folder it starts from. */
export const isInside = (path: string): boolean =>
  !/^[/\\]|^[a-z]:|\\|\0/i.test(path) && !path.split('/').some((part) => part === '..')

/** Entries that no site may contain, by the schema of site files. */
function noSite(pack: Pack): Found[] {
  const viewports = Object.keys(pack.viewports)
  const problems: Problem[] = []
  return pack.entries.flatMap((entry, n) => {
    if (entry.section === 'tokens') return []
    const value = withTokens(entry.value as Json, packTokens(pack), ({ code, message }, path) =>
      problems.push({ file: '', line: 0, column: 0, code, message: `${path.join('.')}: ${message}` }),
    )
    const unknown = problems.splice(0).map(({ code, message }) => ({
      pointer: `/entries/${n}/value`,
      code,
      message: `${message}; it is not in the pack`,
    }))
    const document = expandSite({ ...BARE, [entry.section]: { [entry.id]: value } }, viewports)
    const wrong = checkSchema(document, viewports).map(({ path, code, message }) => ({
      pointer: `/entries/${n}/value${toPointer(path.slice(2))}`,
      code,
      message,
    }))
    return [...unknown, ...wrong]
  })
}

const BARE: JsonObject = { wembra: 1, site: { name: '' }, theme: {}, pages: {} }

/** The tokens of a pack by name. */
export function packTokens({ entries }: Pick<Pack, 'entries'>): Tokens {
  const ofPack = entries.filter(({ section }) => section === 'tokens')
  return new Map(ofPack.flatMap(({ id, value }) => [...readTokens(value as Json)].map(([, token]) => [id, token])))
}

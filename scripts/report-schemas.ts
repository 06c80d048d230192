// The JSON Schemas of what `--format json` prints, made of the types of the documents.
import { fileURLToPath } from 'node:url'
import { createGenerator } from 'ts-json-schema-generator'

const root = fileURLToPath(new URL('..', import.meta.url))

/** One schema (draft 7) that takes every report, with a definition for each. */
export function reportsJsonSchema(): object {
  const { definitions = {} } = createGenerator({
    path: `${root}dist/draw/document-types.d.ts`,
    tsconfig: `${root}tsconfig.json`,
    type: '*',
    ...{ skipTypeCheck: true, additionalProperties: false, topRef: true },
  }).createSchema()
  const documents = Object.keys(definitions).filter((name) => name.endsWith('Document'))
  return {
    $schema: 'http://json-schema.org/draft-07/schema#',
    title: 'Reports of wembra --format json',
    oneOf: documents.map((name) => ({ $ref: `#/definitions/${name}` })),
    definitions,
  }
}

// Writes the JSON Schemas in docs/; the demo files name that of site files to editors. A test holds them to the code.
import { mkdirSync, writeFileSync } from 'node:fs'
import { reportsJsonSchema } from './report-schemas.js'
import { packJsonSchema, siteJsonSchema } from 'wembra'
import { mappingJsonSchema, observationJsonSchema } from 'wembra/reality'

mkdirSync(new URL('../docs/', import.meta.url), { recursive: true })
for (const [name, schema] of [
  ['site', siteJsonSchema()],
  ['pack', packJsonSchema()],
  ['mapping', mappingJsonSchema()],
  ['observation', observationJsonSchema()],
  ['reports', reportsJsonSchema()],
])
  writeFileSync(new URL(`../docs/${name}.schema.json`, import.meta.url), `${JSON.stringify(schema, null, 2)}\n`)

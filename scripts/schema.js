// Writes docs/site.schema.json, which the demo files name to editors; a test holds it to the code.
import { mkdirSync, writeFileSync } from 'node:fs'
import { siteJsonSchema } from '../dist/index.js'

mkdirSync(new URL('../docs/', import.meta.url), { recursive: true })
writeFileSync(new URL('../docs/site.schema.json', import.meta.url), `${JSON.stringify(siteJsonSchema(), null, 2)}\n`)

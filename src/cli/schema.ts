import type { Command } from 'commander'
import { siteJsonSchema } from '../model/json-schema.js'
import { packJsonSchema } from '../change/pack-format.js'
import { mappingJsonSchema } from '../reality/mapping.js'
import { observationJsonSchema } from '../reality/observation.js'
import { own, type JsonObject } from '../model/json.js'
import { addCommand } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { formatOption } from './options.js'
import type { SiteOptions } from './site-argument.js'
import { json } from './text.js'

interface SchemaOptions extends SiteOptions {
  readonly format: 'text' | 'json'
}

const SCHEMAS: Readonly<Record<string, () => JsonObject>> = {
  site: siteJsonSchema,
  pack: packJsonSchema,
  mapping: mappingJsonSchema,
  observation: observationJsonSchema,
}

/** `schema`: the JSON Schema of site files, for editors. */
export function addSchema(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<SchemaOptions>(program, io, done, {
    name: 'schema',
    examples: [
      'wembra schema > site.schema.json',
      'wembra schema pack > pack.schema.json',
      '# then begin a site file with: # yaml-language-server: $schema=./site.schema.json',
    ],
    options: [formatOption(['text', 'json'], 'text: the schema itself; json: a document around it')],
    run: ([what = 'site'], { format }, _site, io) => {
      const make = own(SCHEMAS, what)
      if (!make) throw new UsageError(`unknown schema "${what}"; there are: ${Object.keys(SCHEMAS).join(', ')}`)
      const schema = make()
      io.out(json(format === 'json' ? { wembra: 1, report: 'schema', schema } : schema))
      return ExitCode.fine
    },
  })
}

import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import { resolve } from 'node:path'
import ts from 'typescript'

/** The types that come from schemas, by the module that has them. */
const FROM_SCHEMAS = {
  'model/schema': ['SiteData', 'PageData', 'SurroundData'],
  'reality/mapping': ['Mapping', 'MappingField', 'MappingRecord'],
  'reality/observation': ['Observation', 'ObservationFailure', 'ObservedBox', 'ObservedPart', 'OutlineNode'],
  'change/pack-format': ['Pack', 'PackEntry', 'PackFile'],
} as const

describe('types that come from schemas', () => {
  it('are packed without the schema library', () => {
    for (const name of Object.keys(FROM_SCHEMAS))
      expect(readFileSync(`dist/${name}.d.ts`, 'utf8'), name).not.to.match(/\bzod\b|#vendor|\bz\./)
    const { dependencies } = JSON.parse(readFileSync('package.json', 'utf8')) as { dependencies: object }
    expect(dependencies).not.to.have.property('zod')
  })

  it('are the same, plain and inferred', () => {
    const lines = Object.entries(FROM_SCHEMAS).flatMap(([name, types]) =>
      types.map(
        (type) => `import type { ${type} as In${type} } from ${JSON.stringify(resolve(`src/${name}.js`))}
import type { ${type} as Out${type} } from ${JSON.stringify(resolve(`dist/${name}.js`))}
export const out${type} = (value: In${type}): Out${type} => value
export const in${type} = (value: Out${type}): In${type} => value`,
      ),
    )
    const file = resolve('same-types.ts')
    const options: ts.CompilerOptions = {
      module: ts.ModuleKind.NodeNext,
      moduleResolution: ts.ModuleResolutionKind.NodeNext,
      target: ts.ScriptTarget.ES2023,
      strict: true,
      exactOptionalPropertyTypes: true,
      skipLibCheck: true,
      noEmit: true,
      types: [],
    }
    const host = ts.createCompilerHost(options)
    const { readFile, fileExists, getSourceFile } = host
    host.fileExists = (name) => name === file || fileExists(name)
    host.readFile = (name) => (name === file ? lines.join('\n') : readFile(name))
    host.getSourceFile = (name, ...rest) =>
      name === file ? ts.createSourceFile(name, lines.join('\n'), ts.ScriptTarget.ES2023) : getSourceFile(name, ...rest)
    const program = ts.createProgram([file, resolve('types/vendor.d.ts')], options, host)
    const found = program.getSemanticDiagnostics(program.getSourceFile(file))
    expect(found.map(({ messageText }) => ts.flattenDiagnosticMessageText(messageText, '\n'))).to.deep.equal([])
    // The check itself can fail: a key that one has and the other has not is told.
    expect(program.getSourceFile(file)?.statements).to.have.length(4 * 14)
  })
})

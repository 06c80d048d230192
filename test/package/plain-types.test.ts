import { expect } from 'chai'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { runScript, type Answer } from '../support/command-line.js'

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
    const folder = mkdtempSync(join(tmpdir(), 'wembra-types-'))
    const compilerOptions = {
      ...{ module: 'nodenext', moduleResolution: 'nodenext', target: 'es2023', lib: ['es2023'], types: [] },
      ...{ strict: true, exactOptionalPropertyTypes: true, skipLibCheck: true, noEmit: true },
    }
    const check = (text: string): Answer => {
      writeFileSync(join(folder, 'same-types.ts'), text)
      const include = [join(folder, 'same-types.ts'), resolve('types/*.d.ts')]
      writeFileSync(join(folder, 'tsconfig.json'), JSON.stringify({ compilerOptions, include }))
      return runScript(resolve('node_modules/typescript-7/bin/tsc'), ['-p', folder], {})
    }
    expect(check(lines.join('\n'))).to.deep.equal({ code: 0, out: '', err: '' })
    // The check can fail: one type is not another.
    const [first = ''] = lines
    expect(check(first.replace('(value: InSiteData): OutSiteData', '(value: InSiteData): string')).out).to.contain(
      'error TS2322',
    )
  })
})

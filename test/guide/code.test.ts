import { expect } from 'chai'
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { wembraHere } from '../support/command-line.js'

const README = readFileSync('README.md', 'utf8')
const blocks = (markdown: string, language: string): string[] =>
  [...markdown.matchAll(new RegExp(`\`\`\`${language}\n([^]*?)\`\`\``, 'g'))].map(([, block = '']) => block)

/** Everything that a person can follow from a page: code, and links to other files. */
const PAGES = [
  'README.md',
  ...readdirSync('docs').flatMap((name) => (name.endsWith('.md') ? [join('docs', name)] : [])),
]

/** The site file of the README's first example. */
const HARBOR = blocks(README, 'yaml').find((block) => block.startsWith('# harbor.site.yaml')) ?? ''

/** Runs a block of code; each `expression // => value` in it is held against its value. Returns how many there were. */
async function runBlock(code: string): Promise<number> {
  let checks = 0
  const check = (found: unknown, expected: unknown): void => {
    checks += 1
    expect(JSON.parse(JSON.stringify(found ?? null))).to.deep.equal(expected)
  }
  const script = code
    .replace(
      /^import \{([^}]*)\} from '([^']+)'$/gm,
      (_, names: string, from: string) => `const {${names}} = await load('${from}')`,
    )
    .replace(/^(?!const |let )(.+?) \/\/ => (.+)$/gm, 'check($1, $2)')
  const load = (name: string): Promise<unknown> => import(name)
  const run = Object.getPrototypeOf(async () => undefined).constructor as new (
    ...words: string[]
  ) => (...values: unknown[]) => Promise<void>
  await new run('load', 'check', 'text', script)(load, check, HARBOR)
  return checks
}

describe('what the README and the docs show', () => {
  for (const path of PAGES) {
    const markdown = readFileSync(path, 'utf8')
    blocks(markdown, 'ts').forEach((code, n) =>
      it(`${path}: its code, block ${n + 1}, gives what it says`, async () => {
        expect(await runBlock(code)).to.be.above(0)
      }),
    )
    it(`${path}: its links lead to files that are there`, () => {
      const links = [...markdown.matchAll(/\]\(([^)#\s]+)(?:#[^)]*)?\)/g)].map(([, link = '']) => link)
      for (const link of links.filter((each) => !/^https?:/.test(each)))
        expect(() => readdirOrFile(join(path, '..', link)), link).not.to.throw()
    })
  }

  it('README: its commands print what it shows', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'wembra-readme-'))
    writeFileSync(join(folder, 'harbor.site.yaml'), HARBOR)
    const [block = ''] = blocks(README, 'console')
    const parts = block.split(/^\$ /m).filter(Boolean)
    expect(parts).to.have.length(2)
    for (const part of parts) {
      const [line = '', ...rest] = part.split('\n')
      const { out } = await wembraHere(folder, ...line.split(' ').slice(1))
      expect(out.trimEnd()).to.equal(rest.join('\n').trimEnd())
    }
  })

  it('README: every command that there is, is named in it', () => {
    for (const name of [
      'new',
      'draft',
      'import',
      'check',
      'show',
      'why',
      'table',
      'uses',
      'draw',
      'open',
      'diff',
      'how',
    ])
      expect(README, name).to.contain(`wembra ${name}`)
    for (const name of ['snapshot', 'fix', 'css', 'groups', 'unpack', 'observe', 'rules', 'schema', 'completion'])
      expect(README, name).to.contain(`wembra ${name}`)
  })
})

const readdirOrFile = (path: string): unknown => {
  try {
    return readFileSync(path)
  } catch {
    return readdirSync(path)
  }
}

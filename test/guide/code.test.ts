import { expect } from 'chai'
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import * as wembra from 'wembra'
import * as report from 'wembra/report'
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

/** Runs a block of code; each `expression // => value` in it is checked against its value. Returns how many there were. */
async function runBlock(code: string, given: Readonly<Record<string, unknown>> = {}): Promise<number> {
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
  const names = { ...given, load, check, text: HARBOR }
  await new run(...Object.keys(names), script)(...Object.values(names))
  return checks
}

/** The examples in comments of exports, by file and number. */
const EXAMPLES = readdirSync('src', { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('.ts'))
  .sort()
  .flatMap((file) =>
    [...readFileSync(join('src', file), 'utf8').matchAll(/@example\n((?: \* (?!@).*\n)+)/g)].map(([, lines = '']) => ({
      file,
      code: lines.replace(/^ \* /gm, ''),
    })),
  )

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

  it('the main exports have examples in their comments', () => {
    const exported = new Set(Object.keys({ ...wembra, ...report }))
    expect(EXAMPLES.filter(({ code }) => [...exported].some((name) => code.includes(name)))).to.have.length.above(20)
  })

  for (const { file, code } of EXAMPLES.filter(
    ({ code }) => /\b(resolved|text)\b/.test(code) && code.includes(' // => '),
  ))
    it(`${file}: its example gives what it says: ${code.split('\n')[0]}`, async () => {
      const resolved = wembra.resolveSite(wembra.readSite(HARBOR))
      expect(await runBlock(code, { ...wembra, ...report, resolved })).to.be.above(0)
    })

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

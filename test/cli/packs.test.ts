import { expect } from 'chai'
import { cpSync, existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { wembraHere as wembra } from '../support/command-line.js'

async function fellside(): Promise<{ path: string; text: () => string }> {
  const path = mkdtempSync(join(tmpdir(), 'wembra-'))
  cpSync('examples/fellside', path, { recursive: true })
  await wembra('examples/quillmere', 'pack', 'campaign', '-o', join(path, 'campaign.pack.json'))
  const file = join(path, 'fellside.site.yaml')
  return { path, text: () => readFileSync(file, 'utf8') }
}

/** A pack of the folder with a part of its text changed. */
function spoiled(path: string, from: string | RegExp, to: string): string {
  const name = 'spoiled.pack.json'
  writeFileSync(join(path, name), readFileSync(join(path, 'campaign.pack.json'), 'utf8').replace(from, to))
  return name
}

describe('wembra pack and unpack', () => {
  it('tells first, asks for every choice, writes when it is told to, and takes it back', async () => {
    const { path, text } = await fellside()
    const before = text()
    const files = readdirSync(path)
    const told = await wembra(path, 'unpack', 'campaign.pack.json')
    expect(told.code).to.equal(1)
    expect(told.out)
      .to.contain('surrounds/small-footer  differs')
      .and.contain('Choose for each of these; nothing is written before.')
    const early = await wembra(path, 'unpack', 'campaign.pack.json', '--apply')
    expect([early.code, early.err]).to.deep.equal([
      2,
      'wembra unpack: some names collide: run it without --apply to see them, then choose\n',
    ])
    const dry = await wembra(path, 'unpack', 'campaign.pack.json', '--on-collision', 'rename')
    expect(dry.out).to.contain('--apply writes it')
    expect([text(), readdirSync(path)]).to.deep.equal([before, files])

    const done = await wembra(
      path,
      'unpack',
      'campaign.pack.json',
      '--on-collision',
      'rename',
      '--apply',
      '--undo',
      'u.json',
    )
    expect([done.code, done.out]).to.satisfy(
      ([code, out]: [number, string]) => code === 0 && out.includes('written to'),
    )
    expect(text()).to.contain('  small-footer-2:\n').and.contain('# Smaller than the observatory')
    expect(existsSync(join(path, 'pictures/mark-light.svg'))).to.equal(true)
    expect((await wembra(path, 'check', '--rule', 'template-copies')).code).to.equal(0)
    await wembra(path, 'diff', '--patch', 'u.json', '--apply')
    expect(text()).to.equal(before)
  })

  it('names its viewports and its choices in JSON as well', async () => {
    const { path } = await fellside()
    const { out } = await wembra(path, 'unpack', 'campaign.pack.json', '--format', 'json')
    const document = JSON.parse(out) as { report: string; isReady: boolean; entries: { state: string }[] }
    expect(document).to.deep.include({ wembra: 1, report: 'unpacking', isReady: false, written: false })
    expect(document.entries.map(({ state }) => state)).to.include.members(['new', 'differs'])
    expect(JSON.parse((await wembra(path, 'schema', 'pack')).out)).to.have.property('title')
  })

  it('takes nothing in that is not what it was, and writes nothing', async () => {
    const { path, text } = await fellside()
    const before = text()
    const unpack = (name: string, ...more: string[]) => wembra(path, 'unpack', name, ...more, '--apply')
    const cases: readonly (readonly [string, RegExp])[] = [
      [
        spoiled(path, '"overlay"', '"sticky"'),
        /^spoiled\.pack\.json:\d+:\d+: altered: templates "campaign" was altered/,
      ],
      [spoiled(path, '"wembra": 1', '"wembra": 9'), /^spoiled\.pack\.json:2:\d+: newer-format: this pack has format 9/],
      [spoiled(path, /,\s*"hash"/, ', "hash'), /^spoiled\.pack\.json:\d+:\d+: bad-syntax/],
      ['gone.pack.json', /^gone\.pack\.json:1:1: unreadable/],
      ['fellside.site.yaml', /^fellside\.site\.yaml:\d+:\d+: bad-syntax/],
    ]
    // Each is spoiled into the same file, so each is asked as soon as it is made.
    for (const [name, expected] of cases.slice(3)) expect((await unpack(name)).err).to.match(expected)
    for (const [from, to, expected] of [
      ['"overlay"', '"sticky"', cases[0]?.[1]],
      ['"wembra": 1', '"wembra": 9', cases[1]?.[1]],
      [/,\s*"hash"/, ', "hash', cases[2]?.[1]],
    ] as const) {
      const answer = await unpack(spoiled(path, from, to))
      expect([answer.code, answer.err]).to.satisfy(
        ([code, err]: [number, string]) => code === 2 && expected?.test(err) === true,
        answer.err,
      )
    }
    expect((await wembra(path, 'unpack', 'campaign.pack.json', '--keep', 'menus/prim')).err).to.match(
      /the pack has no menus\/prim/,
    )
    expect((await wembra(path, 'unpack', 'campaign.pack.json', '--viewport', 'phone')).err).to.match(/is not two names/)
    expect((await wembra('examples/quillmere', 'pack', 'campain')).err).to.match(/did you mean "campaign"/)
    expect(text()).to.equal(before)
  })
})

describe('a change that cannot be made', () => {
  it('is told with what is wrong, and the file stays as it is', async () => {
    const { path, text } = await fellside()
    const before = text()
    const answers: readonly (readonly [readonly string[], RegExp])[] = [
      [['--patch', 'no-place.json'], /operation 1 of the patch: replace \/templates\/gone\/label: path does not exist/],
      [['--patch', 'no-list.json'], /^no-list\.json:1:1: wrong-type: expected a JSON Patch/m],
      [['--patch', 'gone.json'], /^gone\.json:1:1: unreadable/m],
      [['--set', 'templates.nota.layout.title=absent'], /did you mean "note"/],
      [['--set', 'theme.layout.titel=absent'], /did you mean "title"/],
      [['--set', 'theme.layout.width.max={space.egde}'], /unknown-token: there is no token "space.egde"/],
      [['--set', 'theme.layout.width.max=wide'], /wrong-value: "wide" is not a CSS length/],
      [['--unset', 'theme.layout.title'], /title/],
    ]
    writeFileSync(join(path, 'no-place.json'), '[{"op":"replace","path":"/templates/gone/label","value":"x"}]')
    writeFileSync(join(path, 'no-list.json'), '{}')
    for (const [args, expected] of answers) {
      const answer = await wembra(path, 'diff', ...args, '--apply')
      expect([answer.code, answer.err], args.join(' ')).to.satisfy(
        ([code, err]: [number, string]) => code === 2 && expected.test(err.replace('wembra diff: ', '')),
        answer.err,
      )
    }
    expect((await wembra(path, 'diff', 'HEAD~99:fellside.site.yaml', 'fellside.site.yaml')).code).to.equal(2)
    expect((await wembra(path, 'diff', 'fellside.site.yaml', 'fellside.site.yaml', '--apply')).err).to.match(
      /--apply needs/,
    )
    expect(text()).to.equal(before)
  })

  it('takes a token for a value', async () => {
    const { path, text } = await fellside()
    await wembra(path, 'diff', '--set', 'theme.layout.spacing.before={space.edge}', '--apply')
    expect(text()).to.contain('before: "{space.edge}"')
    expect((await wembra(path, 'why', 'home', 'spacing.before', '--viewport', 'desk')).out).to.contain('20px')
  })
})

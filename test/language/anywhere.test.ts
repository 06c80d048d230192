import { expect } from 'chai'
import { resolve } from 'node:path'
import { inspect, memoryFiles, resolveSite, readSite } from 'wembra'
import {
  actionsFor,
  changesOf,
  completionsAt,
  definitionAt,
  hoverAt,
  markFindings,
  referencesAt,
  renamableAt,
  renameAt,
  RenameError,
  SiteProject,
  symbolsIn,
  symbolsNamed,
} from 'wembra/language'
import { loadSite } from 'wembra/node'
import { Random } from '../support/random-site.js'
import { NOW } from '../support/site.js'

const QUILLMERE = resolve('examples/quillmere/quillmere.site.yaml')

/** A project whose files can be written over. */
function projectOf(file: string, texts: Readonly<Record<string, string>> = {}) {
  const over = new Map(Object.entries(texts))
  const disk = over.size === 0 ? loadSite(file).files : memoryFiles({})
  const read = (path: string): string | undefined => over.get(path) ?? disk.read(path)
  const lines = (path: string): Iterable<string> | undefined => read(path)?.split('\n')
  const project = new SiteProject(file, { ...disk, read, lines })
  const write = (path: string, text: string): void => {
    over.set(path, text)
    project.change([path])
  }
  return { project, write, read: (path: string): string => read(path) ?? '' }
}

describe('what editors ask', () => {
  it('is answered at any place of a text that is cut off, cut into or doubled anywhere', () => {
    const { project, write, read } = projectOf(QUILLMERE)
    const whole = read(QUILLMERE)
    expect(project.problems).to.deep.equal([])
    const r = new Random(20261126)
    let answered = 0
    for (let n = 0; n < 45; n++) {
      const [a, b] = [r.below(whole.length), r.below(40)]
      const kinds = [
        whole.slice(0, a),
        whole.slice(0, a) + whole.slice(a + b),
        whole.slice(0, a) + whole.slice(Math.max(0, a - b)),
      ]
      const text = kinds[n % 3] ?? whole
      write(QUILLMERE, text)
      const lines = project.lines(QUILLMERE)
      const place = lines.place(Math.min(a, text.length))
      answered += completionsAt(project, QUILLMERE, place).length
      hoverAt(project, QUILLMERE, lines.place(r.below(text.length + 1)))
      definitionAt(project, QUILLMERE, place)
      referencesAt(project, QUILLMERE, place)
      if (renamableAt(project, QUILLMERE, place))
        try {
          renameAt(project, QUILLMERE, place, 'another-name')
        } catch (error) {
          expect(error).to.be.instanceOf(RenameError)
        }
      symbolsIn(project, QUILLMERE)
      symbolsNamed(project, 'a')
    }
    expect(answered).to.be.above(50)
    write(QUILLMERE, whole)
    expect(project.problems).to.deep.equal([])
  })

  it('is answered in JSON and in pages one a line as in YAML', () => {
    const { project, write, read } = projectOf('a.site.json', {
      'a.site.json': JSON.stringify({
        wembra: 1,
        site: { name: 'Tarn' },
        include: ['pages.ndjson'],
        surrounds: { top: { as: 'header', height: 96 } },
        theme: { layout: { header: { use: 'top' } } },
        pages: { home: { path: '/', title: 'Home' } },
      }),
      'pages.ndjson':
        '{"id":"visit","path":"/visit","title":"Visit","parent":"home","layout":{"header":{"use":"top"}}}\n',
    })
    const at = (file: string, words: string, inside: number) =>
      project.lines(file).place(read(file).indexOf(words) + inside)
    expect(project.problems).to.deep.equal([])
    expect(hoverAt(project, 'a.site.json', at('a.site.json', '"use":"top"', 8))?.markdown).to.contain(
      '**surround** `top`',
    )
    // In pages.ndjson the same is said again: it wins, and changes nothing.
    expect(hoverAt(project, 'pages.ndjson', at('pages.ndjson', '"use"', 2))?.markdown).to.contain(
      'wins on 1 page: visit',
    )
    expect(definitionAt(project, 'pages.ndjson', at('pages.ndjson', '"home"', 2))).to.deep.equal([
      { file: 'a.site.json', span: project.lines('a.site.json').span(rangeOfWord(read('a.site.json'), '"home"')) },
    ])
    expect(referencesAt(project, 'a.site.json', at('a.site.json', '"top":', 2)).map(({ file }) => file)).to.deep.equal([
      ...['a.site.json', 'a.site.json', 'pages.ndjson'],
    ])
    write('a.site.json', read('a.site.json').replace('"use":"top"', '"use":""'))
    const found = completionsAt(project, 'a.site.json', at('a.site.json', '"use":""', 7))
    expect(found.map(({ label, text }) => [label, text])[0]).to.deep.equal(['top', '"top"'])
  })

  it('is the same of a site that was read again and again as of one read afresh', async () => {
    const { project, write, read } = projectOf(QUILLMERE)
    const whole = read(QUILLMERE)
    for (const text of [`# above\n${whole}`, 'theme: [', whole.replace('position: fixed', 'position: sticky')])
      write(QUILLMERE, text)
    expect(project.site?.page('moon-night').at('desk').header.position.value).to.equal('sticky')
    write(QUILLMERE, `\n\n${whole}`)
    const fresh = resolveSite(readSite(`\n\n${whole}`, { file: QUILLMERE, files: project.files }))
    const site = project.site
    if (!site) throw new Error('it cannot be read')
    const [mine, theirs] = [inspect(site, { now: NOW }), inspect(fresh, { now: NOW })]
    expect(mine).to.deep.equal(theirs)
    // By hand: what decides is on line 133 of the file, two lines further down now.
    const [covers] = markFindings(project, mine)
    expect(covers?.span).to.deep.equal({ from: { line: 135, column: 17 }, to: { line: 135, column: 25 } })
    const [fix] = await actionsFor(project, covers?.key ?? '')
    if (!fix) throw new Error('there is no fix')
    const changes = changesOf(project, fix)
    expect(changes).to.deep.include({
      file: QUILLMERE,
      span: { from: { line: 135, column: 1 }, to: { line: 136, column: 1 } },
      text: '      header: { position: fixed, clearance: auto }\n',
    })
  })
})

const rangeOfWord = (text: string, word: string) => ({ from: text.indexOf(word), to: text.indexOf(word) + word.length })

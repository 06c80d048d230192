import { expect } from 'chai'
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { inspect, resolveSite } from 'wembra'
import { loadSite } from 'wembra/node'
import {
  CancellationTokenSource,
  type CodeAction,
  type CompletionItem,
  type Diagnostic,
  type DocumentSymbol,
  type Hover,
  type Location,
  type SymbolInformation,
  type WorkspaceEdit,
} from 'vscode-languageserver-protocol/node'
import { applied, covered, Editor, useEditor } from '../support/lsp-client.js'

const MAIN = 'quillmere.site.yaml'
const EVENTS = 'pages/events.yaml'

const hoverOf = async (editor: Editor, file: string, pattern: string): Promise<string> => {
  const found = await editor.ask<Hover | null>('textDocument/hover', editor.at(file, pattern))
  return (found?.contents as { value: string } | undefined)?.value ?? ''
}
/** All files of a site, by name. */
const filesOf = (folder: string): readonly string[] =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((name) => /\.(yaml|css)$/.test(name))

const actionsOn = (editor: Editor, file: string, mark: Diagnostic): Promise<readonly CodeAction[]> =>
  editor.ask('textDocument/codeAction', {
    ...{ textDocument: { uri: editor.uri(file) }, range: mark.range, context: { diagnostics: [mark] } },
  })
function markOf(editor: Editor, file: string, code: string): Diagnostic {
  const mark = editor.marks(file).find((each) => each.code === code)
  if (!mark) throw new Error(`${file} has no ${code}`)
  return mark
}

describe('wembra lsp', () => {
  const opened = useEditor('quillmere')
  let editor: Editor
  beforeEach(() => (editor = opened()))

  const codes = (marks: readonly Diagnostic[]): readonly unknown[] => marks.map(({ code }) => code)
  const hover = (file: string, pattern: string): Promise<string> => hoverOf(editor, file, pattern)
  const actions = (file: string, mark: Diagnostic): Promise<readonly CodeAction[]> => actionsOn(editor, file, mark)
  const markIn = (file: string, code: string): Diagnostic => markOf(editor, file, code)

  describe('what it marks', () => {
    it('is what check finds, on the words that decide, in every file of the site', async () => {
      await editor.show(MAIN)
      const site = resolveSite(loadSite(editor.folder))
      const found = inspect(site)
      for (const file of filesOf(editor.folder)) {
        const here = found.filter(({ at }) => at.file.endsWith(file))
        const marked = await editor.until(() =>
          editor.marks(file).length === here.length ? editor.marks(file) : undefined,
        )
        const places = (list: readonly string[]): readonly string[] => [...list].sort()
        expect(
          places(
            marked.map(({ code, range: { start } }) => `${String(code)} ${start.line + 1}:${start.character + 1}`),
          ),
        ).to.deep.equal(places(here.map(({ rule, at }) => `${rule} ${at.line}:${at.column}`)))
      }
      const covers = markIn(MAIN, 'header-covers-content')
      expect(covered(editor.text(MAIN), covers.range)).to.equal('position')
      expect(covers).to.include({ severity: 1, source: 'wembra' })
      expect(covers.relatedInformation?.[0]).to.have.property('message', 'the first content')
      expect(codes(editor.marks('custom.css'))).to.include('style-not-understood')
    })

    it('follows what is typed, with places that move along, and goes back with it', async () => {
      const before = await editor.show(MAIN)
      const line = markIn(MAIN, 'header-covers-content').range.start.line
      const moved = await editor.type(MAIN, 'wembra: 1\n', '# a line more\nwembra: 1\n')
      expect(markIn(MAIN, 'header-covers-content').range.start.line).to.equal(line + 1)
      expect(codes(moved)).to.deep.equal(codes(before))
      const fixed = await editor.type(MAIN, 'header: { position: fixed }', 'header: { position: sticky }')
      expect(codes(fixed)).not.to.include('header-covers-content')
      await editor.type(MAIN, 'header: { position: sticky }', 'header: { position: fixed }')
      expect(await editor.type(MAIN, '# a line more\n', '')).to.deep.equal(before)
    })

    it('is what is wrong with a file that cannot be read, until it can be read again', async () => {
      const before = await editor.show(MAIN)
      const broken = await editor.type(MAIN, 'theme:\n', 'theme: [\n')
      expect(broken.every(({ code, severity }) => code === 'bad-syntax' && severity === 1)).to.equal(true)
      expect(broken).not.to.deep.equal([])
      const unknown = await editor.type(MAIN, 'theme: [\n', 'teme: {}\ntheme:\n')
      expect(unknown.map(({ code, range }) => [code, covered(editor.text(MAIN), range)])).to.deep.equal([
        ['unknown-key', 'teme'],
      ])
      expect(unknown[0]?.message).to.contain('did you mean "theme"')
      expect(await editor.type(MAIN, 'teme: {}\n', '')).to.deep.equal(before)
    })

    it('tells of one file what is changed in another, whether typed or written to the disk', async () => {
      await editor.show(MAIN)
      await editor.show(EVENTS)
      expect(codes(editor.marks(MAIN))).to.include('header-covers-content')
      // The page that decides by itself from now on has the conflict in its own file.
      await editor.type(EVENTS, 'clearance: 80px', 'position: fixed, clearance: 80px')
      expect(codes(editor.marks(EVENTS))).to.include('override-redundant')
      const style = editor.text('custom.css')
      writeFileSync(editor.path('custom.css'), '')
      await editor.connection.sendNotification('workspace/didChangeWatchedFiles', {
        changes: [{ uri: editor.uri('custom.css'), type: 2 }],
      })
      await editor.until(() => (editor.marks('custom.css').length === 0 ? true : undefined))
      writeFileSync(editor.path('custom.css'), style)
      await editor.connection.sendNotification('workspace/didChangeWatchedFiles', {
        changes: [{ uri: editor.uri('custom.css'), type: 2 }],
      })
      await editor.until(() => (editor.marks('custom.css').length > 0 ? true : undefined))
    })

    it('is that of the last of many keys, however fast they come', async () => {
      await editor.show(MAIN)
      for (let n = 0; n < 20; n++)
        await editor.edit(MAIN, n % 2 === 0 ? 'max: 1140px' : 'max: 114px', n % 2 === 0 ? 'max: 114px' : 'max: 1140px')
      const version = await editor.edit(MAIN, 'header: { position: fixed }', 'header: { position: sticky }')
      const last = await editor.looked(MAIN, version)
      expect(codes(last)).not.to.include('header-covers-content')
    })

    it('tells of a file that is taken away', async () => {
      await editor.show(MAIN)
      rmSync(editor.path('tokens.json'))
      await editor.connection.sendNotification('workspace/didChangeWatchedFiles', {
        changes: [{ uri: editor.uri('tokens.json'), type: 3 }],
      })
      const marks = await editor.until(() => {
        const now = editor.marks(MAIN)
        return now.some(({ code }) => code === 'unreadable') ? now : undefined
      })
      expect(marks.find(({ code }) => code === 'unreadable')?.message).to.contain('tokens.json')
    })

    it('is gone when its folder is closed, and there again when that is opened', async () => {
      await editor.show(EVENTS)
      const marked = (): readonly (readonly Diagnostic[])[] => [MAIN, EVENTS].map((file) => editor.marks(file))
      const isMarked = (): boolean => marked().every((marks) => marks.length > 0)
      await editor.type(EVENTS, 'clearance: 80px', 'position: fixed, clearance: 80px')
      await editor.until(() => isMarked() || undefined)
      const before = marked()
      await editor.moveFolders([], [editor.folder])
      await editor.until(() => marked().every((marks) => marks.length === 0) || undefined)
      // The site file stands in the folder above, which is not open any more.
      expect(await hover(EVENTS, '|clearance:')).to.equal('')
      await editor.moveFolders([editor.folder], [])
      await editor.until(() => isMarked() || undefined)
      expect(marked()).to.deep.equal(before)
      expect(await hover(EVENTS, '|clearance:')).not.to.equal('')
    })
  })

  describe('what can be done', () => {
    it('is a fix, after which the mark is gone and no other has come', async () => {
      await editor.show(MAIN)
      const mark = markIn(MAIN, 'header-covers-content')
      const [fix] = await actions(MAIN, mark)
      expect(fix).to.include({ kind: 'quickfix', isPreferred: true })
      expect(fix?.title).to.match(/^Fix: set header\.clearance: auto .*\(4 pages\)$/)
      const before = inspect(resolveSite(loadSite(editor.folder)))
      for (const [file, text] of applied(editor, fix?.edit ?? {})) writeFileSync(editor.path(file), text)
      const after = inspect(resolveSite(loadSite(editor.folder)))
      expect(after.map(({ rule }) => rule)).not.to.include('header-covers-content')
      expect(after.length).to.be.below(before.length)
    })

    it('is to say that it is on purpose, with the reason to be written', async () => {
      await editor.show(MAIN)
      const allow = (await actions(MAIN, markIn(MAIN, 'header-covers-content'))).at(-1)
      expect(allow?.title).to.equal('Allow header-covers-content here, because …')
      const text = applied(editor, allow?.edit ?? {}).get(MAIN) ?? ''
      expect(text).to.contain('reason: because …')
      await editor.type(MAIN, editor.text(MAIN), text)
      expect(codes(editor.marks(MAIN))).not.to.include('header-covers-content')
    })

    it('is given up when the editor takes the question back', async () => {
      const marks = await editor.show(MAIN)
      const source = new CancellationTokenSource()
      const end = { line: editor.text(MAIN).split('\n').length, character: 0 }
      // About everything in the file: it would take a second and more.
      const asked = editor.connection.sendRequest<CodeAction[]>(
        'textDocument/codeAction',
        {
          ...{ textDocument: { uri: editor.uri(MAIN) }, context: { diagnostics: marks } },
          range: { start: { line: 0, character: 0 }, end },
        },
        source.token,
      )
      source.cancel()
      const found = await asked.then(
        (list) => list.length,
        () => 0,
      )
      expect(found).to.be.below(marks.length)
      expect(await hover(MAIN, '|purposes:')).not.to.equal('')
    })
  })
})

describe('wembra lsp, asked for what is written only when it is chosen', () => {
  it('gives it then', async () => {
    const editor = await Editor.open('quillmere', {
      textDocument: { codeAction: { resolveSupport: { properties: ['edit'] } } },
    })
    await editor.show(MAIN)
    const [fix] = await actionsOn(editor, MAIN, markOf(editor, MAIN, 'header-covers-content'))
    expect(fix).not.to.have.property('edit')
    const whole = await editor.ask<CodeAction>('codeAction/resolve', fix as object)
    expect(applied(editor, whole.edit ?? {}).get(MAIN)).to.contain('position: fixed, clearance: auto')
    expect(await editor.close()).to.equal(0)
  })
})

describe('wembra lsp, asked about files as they are', () => {
  // What is written here is taken back: one editor does for all.
  let editor: Editor
  before(async () => {
    editor = await Editor.open('quillmere')
    await editor.show(MAIN)
  })
  after(async () => expect(await editor.close()).to.equal(0))

  const hover = (file: string, pattern: string): Promise<string> => hoverOf(editor, file, pattern)
  const occurrences = (word: RegExp, textOf: (file: string) => string): number =>
    filesOf(editor.folder).reduce((sum, file) => sum + [...textOf(file).matchAll(word)].length, 0)

  describe('what could be written', () => {
    /** What is offered while something is written, which is taken back then. */
    const offered = async (old: string, pattern: string): Promise<readonly CompletionItem[]> => {
      const written = pattern.replace('|', '')
      await editor.edit(MAIN, old, written)
      const { textDocument, position } = editor.at(MAIN, pattern)
      const items = await editor.ask<readonly CompletionItem[]>('textDocument/completion', { textDocument, position })
      await editor.edit(MAIN, written, old)
      return items
    }
    const labels = (items: readonly CompletionItem[]): readonly string[] => items.map(({ label }) => label)

    it('are keys, each with its sentence and without those that are there', async () => {
      const keys = await offered('    label: Event\n', '    label: Event\n    |\n')
      expect(labels(keys)).to.deep.equal(['base', 'from', 'builder', 'enabled', 'ground', 'copyOf', 'own', 'allow'])
      expect(keys[0]).to.deep.include({ documentation: 'The template it takes everything from first.' })
      expect(keys[0]?.textEdit?.newText).to.equal('base: ')
    })

    it('are words, in a map that is still open', async () => {
      const words = await offered('header: { position: fixed }', 'header: { position: |}')
      expect(labels(words)).to.deep.equal(['flow', 'sticky', 'fixed', 'overlay', 'inherit', 'revert'])
    })

    it('are ids of the sort that fits, with what they are called', async () => {
      const headers = await offered('header: { position: fixed }', 'header: { use: | }')
      expect(labels(headers).slice(0, 3)).to.deep.equal(['main-header', 'night-header', 'bare-header'])
      expect(labels(headers)).not.to.include('site-footer')
    })

    it('are pages, templates, tags, tokens, rules and properties where these are meant', async () => {
      const cases: readonly (readonly [string, string, string])[] = [
        ['front: home', 'front: ho|', 'home'],
        ['template: volunteers, where', 'template: sto|, where', 'story'],
        ['tag: meteors', 'tag: |', 'meteors'],
        ['"{reading.narrow}"', '"{|"', 'reading.narrow'],
        ['rule: [ header-tall ]', 'rule: [ header-| ]', 'header-covers-content'],
        ['lock: [ header.use ]', 'lock: [ header.| ]', 'header.position'],
        ['exits: { max: 6 }', 'wor|', 'words'],
        ['kind: product } ]', 'kind: |', 'article'],
        ['hide: [ phone ]', 'hide: [ | ]', 'tablet'],
      ]
      for (const [old, pattern, wanted] of cases)
        expect(labels(await offered(old, pattern)), pattern).to.include(wanted)
    })
  })

  describe('what it tells of a place', () => {
    it('is where a setting wins, what it comes to, and who overrides it', async () => {
      // Six events, none of which says otherwise (pages/events.yaml).
      expect(await hover(MAIN, '|position: fixed')).to.match(
        /\*\*header\.position\*\*\n\n- wins on 6 pages: moon-night, /,
      )
      const use = await hover(MAIN, 'header: { |use: main-header, position: sticky')
      expect(use).to.match(/- wins on \d+ pages: /)
      expect(use).to.match(/- overridden on \d+ pages: .*assign entry 3/)
      // The campaign's gutter is a token, 24 px at every width.
      expect(await hover(MAIN, '|gutter: "{space.edge}"')).to.contain('24 px at desk, 24 px at tablet, 24 px at phone')
    })

    it('is what a name means: what it prints and who gets it', async () => {
      const template = await hover(MAIN, '  |campaign:')
      expect(template).to.contain('**template** `campaign`')
      expect(template).to.contain('- prints: title, gap 64px, content')
      expect(template).to.contain('- pages: 3 pages: star-party, star-party-tickets, star-party-faq')
      expect(await hover(MAIN, 'use: |bare-header, where')).to.match(/\*\*surround\*\* `bare-header`\n\n- as: header/)
      expect(await hover(MAIN, 'front: |home')).to.match(/\*\*page\*\* `home`\n\n- path: \/welcome\n/)
      expect(await hover(MAIN, 'gutter: "{space|.edge}"')).to.contain('**token** `space.edge`: `24px`')
      expect(await hover(MAIN, '[ header-|tall ]')).to.contain('**header-tall** (note)')
    })

    it('is what a key is for', async () => {
      expect(await hover(MAIN, '|arrange: [ title, byline')).to.contain('The main column, top to bottom')
      expect(await hover(MAIN, '|purposes:')).to.equal(
        'What some pages are for: front page, listings, search, page not found, sign-in.',
      )
    })

    it('is, in a style sheet, which facet a declaration changes on which pages', async () => {
      await editor.show('custom.css')
      const text = editor.text('custom.css')
      const sticky = /position: \w+/.exec(text)?.[0] ?? ''
      const told = await hover('custom.css', sticky.replace('position', 'posi|tion'))
      expect(told).to.match(/\*\*header\.position\*\*\n\n- wins on 1 page: visit/)
      expect(await hover('custom.css', '/* ---- |type')).to.equal('')
    })
  })

  describe('where a name leads', () => {
    it('is to its definition, in whatever file that is', async () => {
      const to = async (pattern: string): Promise<string> => {
        const [found] = await editor.ask<Location[]>('textDocument/definition', editor.at(MAIN, pattern))
        if (!found) return 'nowhere'
        const file = found.uri.slice(editor.uri('').length + 1)
        return `${file}: ${covered(editor.text(file), found.range)}`
      }
      expect(await to('use: |night-header, position')).to.equal(`${MAIN}: night-header`)
      expect(await to('template: event|-view')).to.equal(`${MAIN}: event-view`)
      expect(await to('page: |visit }')).to.equal('pages/visit.yaml: visit')
      expect(await to('gutter: "{space.|edge}"')).to.equal('tokens.json: "edge"')
      expect(await to('label: |Campaign')).to.equal('nowhere')
    })

    it('is, backwards, to everywhere it is named: as many places as a search of the files finds', async () => {
      const found = await editor.ask<Location[]>('textDocument/references', {
        ...editor.at(MAIN, 'use: |night-header, position'),
        context: { includeDeclaration: true },
      })
      expect(found).to.have.length(occurrences(/\bnight-header\b/g, (file) => editor.text(file)))
      expect(
        found.every(
          ({ uri, range }) => covered(editor.text(uri.slice(editor.uri('').length + 1)), range) === 'night-header',
        ),
      ).to.equal(true)
    })

    it('stays right when a thing is renamed everywhere, the classes of style sheets included', async () => {
      const range = await editor.ask<Diagnostic['range']>(
        'textDocument/prepareRename',
        editor.at(MAIN, 'page: |visit }'),
      )
      expect(covered(editor.text(MAIN), range)).to.equal('visit')
      const edit = await editor.ask<WorkspaceEdit>('textDocument/rename', {
        ...editor.at(MAIN, 'page: |visit }'),
        newName: 'plan-a-visit',
      })
      const before = inspect(resolveSite(loadSite(editor.folder)))
      const copy = mkdtempSync(join(tmpdir(), 'wembra-renamed-'))
      cpSync(editor.folder, copy, { recursive: true })
      for (const [file, text] of applied(editor, edit)) writeFileSync(join(copy, file), text)
      const after = inspect(resolveSite(loadSite(copy)))
      const renamed = (id: string): string => (id === 'visit' ? 'plan-a-visit' : id)
      const told = (list: typeof before, name: (id: string) => string): readonly string[] =>
        list.map(({ rule, pages }) => `${rule} ${pages.map(name).join(' ')}`).sort()
      expect(told(after, (id) => id)).to.deep.equal(told(before, renamed))
      expect(readFileSync(join(copy, 'custom.css'), 'utf8')).to.contain('.page-plan-a-visit')
    })

    it('is not renamed to a name that is taken, or none', async () => {
      for (const [newName, why] of [
        ['bare-header', /there is a surround "bare-header" already/],
        ['two words', /"two words" is no id/],
      ] as const) {
        const asked = editor.ask('textDocument/rename', { ...editor.at(MAIN, 'use: |night-header, position'), newName })
        expect(await asked.then(() => '', String)).to.match(why)
      }
    })
  })

  describe('its outline', () => {
    it('is of the sections of a file and the things in them', async () => {
      const symbols = await editor.ask<DocumentSymbol[]>('textDocument/documentSymbol', {
        textDocument: { uri: editor.uri(MAIN) },
      })
      const templates = symbols.find(({ name }) => name === 'templates')
      expect(templates?.children?.map(({ name, detail }) => `${detail ?? ''} ${name}`)).to.deep.equal(
        ['article-view', 'event-view', 'campaign', 'campaign-autumn', 'story', 'volunteers', 'shop-item', 'shelf'].map(
          (id) => `template ${id}`,
        ),
      )
    })

    it('is of the whole site by id and title', async () => {
      const found = await editor.ask<SymbolInformation[]>('workspace/symbol', { query: 'DUST' })
      expect(found.map(({ name, containerName }) => [containerName, name])).to.deep.equal([
        ['page', 'lecture-dust: Lecture: what dust is for'],
      ])
    })
  })
})

describe('wembra lsp on a site without conflicts', () => {
  const WINTER = 'quillmere-winter.site.yaml'

  const opened = useEditor('quillmere-winter')
  let editor: Editor
  beforeEach(() => (editor = opened()))

  it('marks nothing until there is something', async () => {
    expect(await editor.show(WINTER)).to.deep.equal([])
    const marks = await editor.type(WINTER, 'page: programme }', 'page: program }')
    expect(marks.map(({ code, range }) => [code, covered(editor.text(WINTER), range)])).to.deep.equal([
      ['assign-dangling', 'page'],
    ])
    expect(await editor.type(WINTER, 'page: program }', 'page: programme }')).to.deep.equal([])
  })

  it('is asked about it as about the other', async () => {
    await editor.show(WINTER)
    const ask = <T>(method: string, pattern: string, more: object = {}): Promise<T> =>
      editor.ask(`textDocument/${method}`, { ...editor.at(WINTER, pattern), ...more })
    const text = editor.text(WINTER)
    const times = (word: RegExp): number => [...text.matchAll(word)].length
    const told = await ask<Hover>('hover', 'use: |logo-header, position: flow')
    expect((told.contents as { value: string }).value).to.match(/\*\*surround\*\* `logo-header`\n\n- as: header\n/)
    const [defined] = await ask<Location[]>('definition', 'base: |edge')
    expect(covered(text, (defined as Location).range)).to.equal('edge')
    const uses = await ask<Location[]>('references', 'use: |night-header', { context: { includeDeclaration: true } })
    expect(uses).to.have.length(times(/\bnight-header\b/g))
    const edit = await ask<WorkspaceEdit>('rename', 'use: |night-header', { newName: 'dusk-header' })
    expect(applied(editor, edit).get(WINTER)).to.equal(text.replaceAll('night-header', 'dusk-header'))
    const symbols = await editor.ask<DocumentSymbol[]>('textDocument/documentSymbol', editor.at(WINTER, 'wembra: 1'))
    expect(symbols.find(({ name }) => name === 'menus')?.children?.map(({ name }) => name)).to.deep.equal([
      ...['season', 'house', 'room'],
    ])
    const found = await editor.ask<SymbolInformation[]>('workspace/symbol', { query: 'night sky' })
    expect(found.map(({ name }) => name)).to.deep.equal(['night: Landing page under the night sky'])
    // A header over the first words, and then its room: a fix is offered, and an offer is taken.
    const marks = await editor.type(WINTER, 'use: logo-header, position: flow', 'use: logo-header, position: fixed')
    const covers = marks.find(({ code }) => code === 'header-covers-content')
    expect(covers && covered(editor.text(WINTER), covers.range)).to.equal('position')
    const [fix] = await editor.ask<CodeAction[]>('textDocument/codeAction', {
      ...{ textDocument: { uri: editor.uri(WINTER) }, range: covers?.range, context: { diagnostics: [] } },
    })
    expect(fix?.title).to.match(/^Fix: /)
    const fixed = applied(editor, fix?.edit ?? {}).get(WINTER) ?? ''
    const left = await editor.type(WINTER, editor.text(WINTER), fixed)
    expect(left.map(({ code }) => code)).not.to.include('header-covers-content')
    await editor.edit(WINTER, 'base: edge\n    builder', 'base: \n    builder')
    const offered = await ask<CompletionItem[]>('completion', 'base: |\n    builder')
    expect(offered.map(({ label }) => label)).to.include.members(['talk', 'edge', 'room'])
  })

  it('leaves files alone that are part of no site', async () => {
    writeFileSync(editor.path('notes.css'), 'body { color: red }')
    const asked = editor.ask('textDocument/hover', {
      ...{ textDocument: { uri: editor.uri('notes.css') }, position: { line: 0, character: 3 } },
    })
    expect(await asked).to.equal(null)
  })
})

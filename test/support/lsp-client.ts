import { expect } from 'chai'
import { spawn, type ChildProcess } from 'node:child_process'
import { cpSync, mkdtempSync, readFileSync, realpathSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import {
  createProtocolConnection,
  StreamMessageReader,
  StreamMessageWriter,
  type ClientCapabilities,
  type Diagnostic,
  type InitializeResult,
  type Position,
  type ProtocolConnection,
  type PublishDiagnosticsParams,
  type TextEdit,
  type WorkspaceEdit,
  type WorkspaceFolder,
} from 'vscode-languageserver-protocol/node'
import { COMMAND } from './command-line.js'

/** `wembra lsp` in a process of its own. */
interface Server {
  readonly connection: ProtocolConnection
  readonly process: ChildProcess
  readonly capabilities: InitializeResult['capabilities']
}

const folderOf = (folder: string): WorkspaceFolder => ({ uri: pathToFileURL(folder).href, name: 'site' })

async function start(
  folder: string,
  capabilities: ClientCapabilities,
  [command, ...script]: readonly [string, ...string[]],
): Promise<Server> {
  const child = spawn(command, [...script, 'lsp', '--stdio'], { cwd: folder, stdio: ['pipe', 'pipe', 'inherit'] })
  const { stdin, stdout } = child
  const connection = createProtocolConnection(new StreamMessageReader(stdout), new StreamMessageWriter(stdin))
  connection.onRequest('client/registerCapability', () => null)
  connection.listen()
  const ended = new Promise<never>((_done, fail) =>
    child.once('exit', (code) => fail(new Error(`the server ended with ${code}`))),
  )
  // It ends later too, when nobody waits for its first answer any more.
  ended.catch(() => undefined)
  const workspaceFolders = [folderOf(folder)]
  const asked = connection.sendRequest<InitializeResult>('initialize', {
    ...{ processId: process.pid, rootUri: workspaceFolders[0]?.uri, capabilities, workspaceFolders },
  })
  const answer = await Promise.race([asked, ended])
  await connection.sendNotification('initialized', {})
  return { connection, process: child, capabilities: answer.capabilities }
}

/** A copy of an example site. */
function copyOf(example: string): string {
  const folder = join(realpathSync(mkdtempSync(join(tmpdir(), 'wembra-editor-'))), example)
  cpSync(resolve('examples', example), folder, { recursive: true })
  return folder
}

/** An editor of a folder, with a server behind it. */
export class Editor {
  readonly folder: string
  readonly #server: Server
  readonly #texts = new Map<string, { text: string; version: number }>()
  readonly #diagnostics = new Map<string, PublishDiagnosticsParams>()
  readonly #waiting = new Set<() => void>()

  private constructor(folder: string, server: Server) {
    this.folder = folder
    this.#server = server
    this.connection.onNotification('textDocument/publishDiagnostics', (published: PublishDiagnosticsParams) => {
      this.#diagnostics.set(published.uri, published)
      for (const check of this.#waiting) check()
    })
  }

  get connection(): ProtocolConnection {
    return this.#server.connection
  }

  get process(): ChildProcess {
    return this.#server.process
  }

  get capabilities(): InitializeResult['capabilities'] {
    return this.#server.capabilities
  }

  /** Opens a copy of an example site. */
  static open(example: string, capabilities: ClientCapabilities = {}): Promise<Editor> {
    return Editor.of(copyOf(example), capabilities)
  }

  static async of(
    folder: string,
    capabilities: ClientCapabilities = {},
    command: readonly [string, ...string[]] = COMMAND,
  ): Promise<Editor> {
    return new Editor(folder, await start(folder, capabilities, command))
  }

  /** Closes the folder with its files, and opens a copy of an example site in its place. The server stays. */
  async openAnew(example: string): Promise<Editor> {
    for (const uri of this.#texts.keys())
      await this.connection.sendNotification('textDocument/didClose', { textDocument: { uri } })
    const next = new Editor(copyOf(example), this.#server)
    await next.moveFolders([next.folder], [this.folder])
    return next
  }

  /** Opens and closes folders. */
  async moveFolders(opened: readonly string[], closed: readonly string[]): Promise<void> {
    const event = { added: opened.map(folderOf), removed: closed.map(folderOf) }
    await this.connection.sendNotification('workspace/didChangeWorkspaceFolders', { event })
  }

  uri(file: string): string {
    return pathToFileURL(join(this.folder, file)).href
  }

  path(file: string): string {
    return join(this.folder, file)
  }

  text(file: string): string {
    return this.#texts.get(this.uri(file))?.text ?? readFileSync(this.path(file), 'utf8')
  }

  /** Opens a file as it is on the disk. */
  async show(file: string): Promise<readonly Diagnostic[]> {
    const uri = this.uri(file)
    const text = readFileSync(this.path(file), 'utf8')
    this.#texts.set(uri, { text, version: 1 })
    const seen = this.looked(file, 1)
    await this.connection.sendNotification('textDocument/didOpen', {
      textDocument: { uri, languageId: 'yaml', version: 1, text },
    })
    return seen
  }

  /** Types a text in the place of another, at its first place; returns what is then marked in the file. */
  async type(file: string, old: string, text: string): Promise<readonly Diagnostic[]> {
    const version = await this.edit(file, old, text)
    return this.looked(file, version)
  }

  /** The same without waiting for an answer. */
  async edit(file: string, old: string, text: string): Promise<number> {
    const uri = this.uri(file)
    const { text: before, version } = this.#texts.get(uri) ?? { text: '', version: 0 }
    const at = before.indexOf(old)
    if (at < 0) throw new Error(`${file} has no ${JSON.stringify(old)}`)
    const range = { start: positionIn(before, at), end: positionIn(before, at + old.length) }
    this.#texts.set(uri, { text: before.slice(0, at) + text + before.slice(at + old.length), version: version + 1 })
    await this.connection.sendNotification('textDocument/didChange', {
      ...{ textDocument: { uri, version: version + 1 }, contentChanges: [{ range, text }] },
    })
    return version + 1
  }

  /** Where the first `|` of a pattern stands in a file: `use: |main-header`. */
  at(file: string, pattern: string): { readonly textDocument: { readonly uri: string }; readonly position: Position } {
    const text = this.text(file)
    const inside = pattern.indexOf('|')
    const at = text.indexOf(pattern.replace('|', ''))
    if (at < 0) throw new Error(`${file} has no ${JSON.stringify(pattern)}`)
    return { textDocument: { uri: this.uri(file) }, position: positionIn(text, at + Math.max(0, inside)) }
  }

  ask<T>(method: string, params: object): Promise<T> {
    return this.connection.sendRequest<T>(method, params)
  }

  /** What is marked in a file. */
  marks(file: string): readonly Diagnostic[] {
    return this.#diagnostics.get(this.uri(file))?.diagnostics ?? []
  }

  /** Waits until a version of a file was looked at. */
  looked(file: string, version: number): Promise<readonly Diagnostic[]> {
    return this.until(() => {
      const published = this.#diagnostics.get(this.uri(file))
      return published && (published.version ?? 0) >= version ? published.diagnostics : undefined
    })
  }

  /** Waits until something holds of what was published. */
  until<T>(find: () => T | undefined): Promise<T> {
    return new Promise((done) => {
      const check = (): void => {
        const found = find()
        if (found === undefined) return
        this.#waiting.delete(check)
        done(found)
      }
      this.#waiting.add(check)
      check()
    })
  }

  async close(): Promise<number | null> {
    const ended = new Promise<number | null>((done) => this.process.once('exit', done))
    await this.connection.sendRequest('shutdown')
    await this.connection.sendNotification('exit')
    return ended
  }
}

function positionIn(text: string, offset: number): Position {
  const lines = text.slice(0, offset).split('\n')
  return { line: lines.length - 1, character: lines.at(-1)?.length ?? 0 }
}

function offsetIn(text: string, { line, character }: Position): number {
  const lines = text.split('\n')
  return lines.slice(0, line).reduce((sum, each) => sum + each.length + 1, 0) + character
}

/** The words that a range covers. */
export const covered = (text: string, { start, end }: Diagnostic['range']): string =>
  text.slice(offsetIn(text, start), offsetIn(text, end))

/** A text with edits made, as an editor makes them: all by the places that held before. */
export function edited(text: string, edits: readonly TextEdit[]): string {
  return [...edits]
    .sort((a, b) => offsetIn(text, b.range.start) - offsetIn(text, a.range.start))
    .reduce(
      (now, { range, newText }) =>
        now.slice(0, offsetIn(text, range.start)) + newText + now.slice(offsetIn(text, range.end)),
      text,
    )
}

/** The files that an edit changes, with their texts then. */
export const applied = (editor: Editor, edit: WorkspaceEdit): ReadonlyMap<string, string> =>
  new Map(
    Object.entries(edit.changes ?? {}).map(([uri, edits]) => {
      const file = uri.slice(pathToFileURL(`${editor.folder}/`).href.length)
      return [file, edited(editor.text(file), edits)]
    }),
  )

/** Declares the hooks that give each test of a suite an example site as it is, in an editor whose server stays. */
export function useEditor(example: string): () => Editor {
  let editor: Editor | undefined
  beforeEach(async () => void (editor = await (editor?.openAnew(example) ?? Editor.open(example))))
  afterEach(async function () {
    if (this.currentTest?.state === 'passed') return
    // What a test left that failed may be anything.
    editor?.process.kill()
    editor = undefined
  })
  after(async () => editor && expect(await editor.close()).to.equal(0))
  return () => {
    if (!editor) throw new Error('no editor is open')
    return editor
  }
}

import { isEqual as equal } from 'es-toolkit'
import {
  CodeActionKind,
  DidChangeWatchedFilesNotification,
  DidChangeWorkspaceFoldersNotification,
  ErrorCodes,
  ResponseError,
  TextDocuments,
  TextDocumentSyncKind,
  type CancellationToken,
  type CodeAction,
  type Connection,
  type InitializeParams,
  type InitializeResult,
  type Position,
  type Range,
} from 'vscode-languageserver'
import { TextDocument } from 'vscode-languageserver-textdocument'
import {
  actionsFor,
  changesOf,
  completionsAt,
  definitionAt,
  hoverAt,
  markFindings,
  markProblems,
  referencesAt,
  renamableAt,
  renameAt,
  RenameError,
  symbolsIn,
  symbolsNamed,
  type Action,
  type Mark,
  type SiteProject,
  type TextPlace,
} from '../language/index.js'
import { inspectAsync } from '../inspect/inspect.js'
import { fontProblem } from '../measure/font.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import {
  completionItem,
  diagnosticOf,
  editOf,
  fileOf,
  foldersOf,
  locationOf,
  overlaps,
  rangeOf,
  symbolInformation,
  symbolOf,
  uriOf,
} from './protocol.js'
import { Workspace } from './workspace.js'

/** More marks than this in one site no editor shows usefully; the most harmful are kept. */
const MOST_MARKS = 500
/** So long after a change nothing else must have come before the site is looked at; ms. */
const QUIET_MS = 10

/** So long an editor may take a question back before work on it begins; ms. */
const SETTLED_MS = 5

/** Serves the Language Server Protocol (3.17) on a connection, until it is told to end. */
export function serve(connection: Connection, version: string): void {
  new Server(connection, version).listen()
}

class Server {
  readonly #connection: Connection
  readonly #version: string
  readonly #documents = new TextDocuments(TextDocument)
  readonly #workspace = new Workspace()
  /** What is being looked for in a site, to be ended when it changes. */
  readonly #looking = new Map<SiteProject, AbortController>()
  readonly #timers = new Map<SiteProject, NodeJS.Timeout>()
  /** Files of each site that marks were published for. */
  readonly #marked = new Map<SiteProject, ReadonlyMap<string, readonly Mark[]>>()
  #resolvesEdits = false
  #watchesFiles = false

  constructor(connection: Connection, version: string) {
    this.#connection = connection
    this.#version = version
  }

  listen(): void {
    const connection = this.#connection
    connection.onInitialize((params) => this.#initialize(params))
    connection.onInitialized(() => {
      if (this.#watchesFiles)
        void connection.client.register(DidChangeWatchedFilesNotification.type, {
          watchers: [{ globPattern: '**/*.{yaml,yml,json,ndjson,css,svg,png,jpg,jpeg,webp,gif,ttf,otf,woff,woff2}' }],
        })
    })
    this.#documents.onDidChangeContent(({ document }) => {
      const file = fileOf(document.uri)
      if (file === undefined) return
      const touched = new Set(this.#workspace.change(file, document.getText()))
      const project = this.#workspace.projectOf(file)
      if (project) touched.add(project)
      for (const each of touched) this.#lookSoon(each)
    })
    this.#documents.onDidClose(({ document }) => {
      const file = fileOf(document.uri)
      if (file !== undefined) for (const project of this.#workspace.change(file, undefined)) this.#lookSoon(project)
    })
    connection.onDidChangeWatchedFiles(({ changes }) => {
      const files = changes.flatMap(({ uri }) => fileOf(uri) ?? [])
      const open = new Set(this.#openFiles())
      const others = files.filter((file) => !open.has(file))
      for (const project of this.#workspace.touch(others)) this.#lookSoon(project)
    })
    connection.onNotification(DidChangeWorkspaceFoldersNotification.type, ({ event: { added, removed } }) => {
      for (const project of this.#workspace.move(foldersOf(added), foldersOf(removed))) this.#leave(project)
      // Files that are open may be part of a site now.
      for (const file of this.#openFiles()) {
        const project = this.#workspace.projectOf(file)
        if (project && !this.#marked.has(project)) this.#lookSoon(project)
      }
    })
    connection.onHover(({ textDocument, position }) =>
      this.#at(textDocument.uri, position, (project, file, place) => {
        const hover = hoverAt(project, file, place)
        return hover && { contents: { kind: 'markdown', value: hover.markdown }, range: rangeOf(hover.span) }
      }),
    )
    connection.onCompletion(({ textDocument, position }) =>
      this.#at(textDocument.uri, position, (project, file, place) =>
        completionsAt(project, file, place).map(completionItem),
      ),
    )
    connection.onDefinition(({ textDocument, position }) =>
      this.#at(textDocument.uri, position, (project, file, place) =>
        definitionAt(project, file, place).map(locationOf),
      ),
    )
    connection.onReferences(({ textDocument, position, context }) =>
      this.#at(textDocument.uri, position, (project, file, place) =>
        referencesAt(project, file, place, context.includeDeclaration).map(locationOf),
      ),
    )
    connection.onPrepareRename(({ textDocument, position }) =>
      this.#at(textDocument.uri, position, (project, file, place) => {
        const span = renamableAt(project, file, place)
        return span && rangeOf(span)
      }),
    )
    connection.onRenameRequest(({ textDocument, position, newName }) =>
      this.#at(textDocument.uri, position, (project, file, place) => {
        try {
          return editOf(renameAt(project, file, place, newName))
        } catch (error) {
          if (error instanceof RenameError) throw new ResponseError(ErrorCodes.InvalidParams, error.message)
          throw error
        }
      }),
    )
    connection.onDocumentSymbol(({ textDocument }) => {
      const file = fileOf(textDocument.uri)
      const project = file === undefined ? undefined : this.#workspace.projectOf(file)
      return project && file !== undefined ? symbolsIn(project, file).map(symbolOf) : []
    })
    connection.onWorkspaceSymbol(({ query }) =>
      this.#workspace.projects.flatMap((project) => symbolsNamed(project, query).map(symbolInformation)),
    )
    connection.onCodeAction(async ({ textDocument, range, context }, token) => {
      const file = fileOf(textDocument.uri)
      const project = file === undefined ? undefined : this.#workspace.projectOf(file)
      if (!project || (context.only && !context.only.some((kind) => kind.startsWith(CodeActionKind.QuickFix))))
        return []
      return this.#actions(project, file as string, range, token)
    })
    connection.onCodeActionResolve((action) => this.#withEdit(action))
    this.#documents.listen(connection)
    connection.listen()
  }

  #initialize({ capabilities, workspaceFolders, rootUri }: InitializeParams): InitializeResult {
    this.#workspace.move(foldersOf(workspaceFolders ?? (rootUri === null ? [] : [{ uri: rootUri }])), [])
    this.#resolvesEdits = capabilities.textDocument?.codeAction?.resolveSupport?.properties.includes('edit') ?? false
    this.#watchesFiles = capabilities.workspace?.didChangeWatchedFiles?.dynamicRegistration ?? false
    return {
      serverInfo: { name: 'wembra', version: this.#version },
      capabilities: {
        textDocumentSync: TextDocumentSyncKind.Incremental,
        hoverProvider: true,
        completionProvider: { triggerCharacters: [' ', '{', '"', '-'] },
        definitionProvider: true,
        referencesProvider: true,
        renameProvider: { prepareProvider: true },
        documentSymbolProvider: true,
        workspaceSymbolProvider: true,
        codeActionProvider: { codeActionKinds: [CodeActionKind.QuickFix], resolveProvider: true },
        workspace: { workspaceFolders: { supported: true, changeNotifications: true } },
      },
    }
  }

  /** Answers about a place of a file that is part of a site. */
  #at<T>(
    uri: string,
    { line, character }: Position,
    answer: (project: SiteProject, file: string, place: TextPlace) => T | undefined,
  ): T | null {
    const file = fileOf(uri)
    const project = file === undefined ? undefined : this.#workspace.projectOf(file)
    if (!project || file === undefined) return null
    return answer(project, file, { line: line + 1, column: character + 1 }) ?? null
  }

  /** Looks at a site once nothing more has come for a moment; what is still being looked for is given up. */
  #lookSoon(project: SiteProject): void {
    this.#looking.get(project)?.abort()
    clearTimeout(this.#timers.get(project))
    this.#timers.set(
      project,
      setTimeout(() => void this.#look(project), QUIET_MS),
    )
  }

  /** A site is in no open folder any more: nothing of it is marked. */
  #leave(project: SiteProject): void {
    this.#looking.get(project)?.abort()
    clearTimeout(this.#timers.get(project))
    for (const file of this.#marked.get(project)?.keys() ?? [])
      void this.#connection.sendDiagnostics({ uri: uriOf(file), diagnostics: [] })
    for (const kept of [this.#looking, this.#timers, this.#marked]) kept.delete(project)
  }

  #openFiles(): readonly string[] {
    return this.#documents.all().flatMap(({ uri }) => fileOf(uri) ?? [])
  }

  async #look(project: SiteProject): Promise<void> {
    const controller = new AbortController()
    this.#looking.set(project, controller)
    const { signal } = controller
    try {
      const problems = this.#workspace.problemsOf(project)
      const { site } = project
      const isReadable = problems.length === 0 && site !== undefined
      const marks = isReadable ? await findMarks(project, site, signal) : markProblems(project, problems)
      if (!signal.aborted) this.#publish(project, marks)
    } catch (error) {
      if (!signal.aborted)
        this.#connection.console.error(`wembra: ${error instanceof Error ? (error.stack ?? '') : String(error)}`)
    }
  }

  /** Publishes the marks of a site, file by file where they are others than before. */
  #publish(project: SiteProject, marks: readonly Mark[]): void {
    const byFile = new Map<string, Mark[]>()
    for (const mark of marks) byFile.set(mark.file, [...(byFile.get(mark.file) ?? []), mark])
    const before = this.#marked.get(project) ?? new Map<string, readonly Mark[]>()
    const own = this.#openFiles().filter((file) => project.has(file))
    for (const file of new Set([...before.keys(), ...byFile.keys(), ...own])) {
      const uri = uriOf(file)
      const version = this.#documents.get(uri)?.version
      // Of a file that is open its editor waits to hear that it was looked at.
      if (version === undefined && equal(before.get(file), byFile.get(file))) continue
      const diagnostics = (byFile.get(file) ?? []).map(diagnosticOf)
      void this.#connection.sendDiagnostics({ uri, diagnostics, ...(version !== undefined && { version }) })
    }
    this.#marked.set(project, byFile)
  }

  async #actions(project: SiteProject, file: string, range: Range, token: CancellationToken): Promise<CodeAction[]> {
    const controller = new AbortController()
    // Of a question that was taken back before it was read nothing more is told.
    if (token.isCancellationRequested) return []
    token.onCancellationRequested(() => controller.abort())
    const marks = (this.#marked.get(project)?.get(file) ?? []).filter(({ span }) => overlaps(rangeOf(span), range))
    const found: CodeAction[] = []
    try {
      // Editors ask at every move of the cursor, and take most of it back at once.
      await new Promise((done) => setTimeout(done, SETTLED_MS))
      for (const mark of marks) {
        controller.signal.throwIfAborted()
        if (mark.key === undefined) continue
        for (const action of await actionsFor(project, mark.key, controller.signal)) {
          const { title, isPreferred } = action
          const made: CodeAction = {
            ...{ title, kind: CodeActionKind.QuickFix, isPreferred, diagnostics: [diagnosticOf(mark)] },
            data: { site: project.file, action },
          }
          found.push(this.#resolvesEdits ? made : this.#withEdit(made))
        }
      }
    } catch (error) {
      if (!controller.signal.aborted) throw error
    }
    return found
  }

  #withEdit(made: CodeAction): CodeAction {
    const { site, action } = made.data as { readonly site: string; readonly action: Action }
    const project = this.#workspace.projects.find(({ file }) => file === site)
    if (!project) return made
    const changes = changesOf(project, action)
    return 'problem' in changes
      ? { ...made, disabled: { reason: changes.problem } }
      : { ...made, edit: editOf(changes) }
  }
}

/** The marks of a site that can be read: its findings, and what they could not be measured by. */
async function findMarks(project: SiteProject, site: ResolvedSite, signal: AbortSignal): Promise<readonly Mark[]> {
  const findings = await inspectAsync(site, { signal, now: project.now, max: MOST_MARKS, cases: false })
  const unread = fontProblem(site.site)
  return [...markFindings(project, findings), ...markProblems(project, unread ? [unread] : [], 'warning')]
}

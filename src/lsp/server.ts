import equal from 'fast-deep-equal'
import { fileURLToPath, pathToFileURL } from 'node:url'
import {
  CodeActionKind,
  CompletionItemKind,
  DiagnosticSeverity,
  DidChangeWatchedFilesNotification,
  ErrorCodes,
  ResponseError,
  SymbolKind,
  TextDocuments,
  TextDocumentSyncKind,
  type CancellationToken,
  type CodeAction,
  type Connection,
  type Diagnostic,
  type InitializeParams,
  type InitializeResult,
  type Location,
  type Position,
  type Range,
  type SymbolInformation,
  type WorkspaceEdit,
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
  type Completion,
  type FileSpan,
  type Mark,
  type SiteProject,
  type SiteSymbol,
  type Span,
  type TextChange,
  type TextPlace,
} from '../language/index.js'
import { inspectAsync } from '../inspect/inspect.js'
import { fontProblem } from '../measure/font.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { Workspace } from './workspace.js'

/** More marks than this in one site no editor shows usefully; the most harmful are kept. */
const MOST_MARKS = 500
/** So long after a change nothing else must have come before the site is looked at; ms. */
const QUIET_MS = 10

/** So long an editor may take a question back before work on it begins; ms. */
const SETTLED_MS = 5

const SEVERITY = {
  error: DiagnosticSeverity.Error,
  warning: DiagnosticSeverity.Warning,
  note: DiagnosticSeverity.Information,
} as const

const COMPLETION: Readonly<Record<Completion['kind'], CompletionItemKind>> = {
  key: CompletionItemKind.Property,
  word: CompletionItemKind.EnumMember,
  id: CompletionItemKind.Reference,
  token: CompletionItemKind.Constant,
  rule: CompletionItemKind.Event,
  property: CompletionItemKind.Field,
}

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
      const open = new Set(this.#documents.keys().map(fileOf))
      const others = files.filter((file) => !open.has(file))
      for (const project of this.#workspace.touch(others)) this.#lookSoon(project)
    })
    connection.onHover(({ textDocument, position }) =>
      this.#at(textDocument.uri, position, (project, file, place) => {
        const hover = hoverAt(project, file, place)
        return hover && { contents: { kind: 'markdown', value: hover.markdown }, range: rangeOf(hover.span) }
      }),
    )
    connection.onCompletion(({ textDocument, position }) =>
      this.#at(textDocument.uri, position, (project, file, place) =>
        completionsAt(project, file, place).map((each, n) => ({
          ...{ label: each.label, kind: COMPLETION[each.kind], detail: each.detail },
          ...{ documentation: each.sentence, sortText: String(n).padStart(4, '0') },
          ...{ filterText: each.text, textEdit: { range: rangeOf(each.span), newText: each.text } },
        })),
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
    const uris = workspaceFolders?.map(({ uri }) => uri) ?? [rootUri ?? []].flat()
    this.#workspace.roots = uris.flatMap((uri) => fileOf(uri) ?? [])
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
    const open = this.#documents.all().flatMap(({ uri }) => fileOf(uri) ?? [])
    const own = open.filter((file) => project.has(file))
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

/** The file that an address names; `undefined` for what is in no file. */
function fileOf(uri: string): string | undefined {
  try {
    return uri.startsWith('file:') ? fileURLToPath(uri) : undefined
  } catch {
    return undefined
  }
}

const uriOf = (file: string): string => pathToFileURL(file).href

const positionOf = ({ line, column }: TextPlace): Position => ({ line: line - 1, character: column - 1 })
const rangeOf = ({ from, to }: Span): Range => ({ start: positionOf(from), end: positionOf(to) })
const locationOf = ({ file, span }: FileSpan): Location => ({ uri: uriOf(file), range: rangeOf(span) })

const isBefore = (a: Position, b: Position): boolean =>
  a.line < b.line || (a.line === b.line && a.character <= b.character)
const overlaps = (a: Range, b: Range): boolean => isBefore(a.start, b.end) && isBefore(b.start, a.end)

const diagnosticOf = ({ span, severity, code, message, related }: Mark): Diagnostic => ({
  ...{ range: rangeOf(span), severity: SEVERITY[severity], source: 'wembra', code, message },
  relatedInformation: related.map((each) => ({ location: locationOf(each), message: each.message })),
})

function editOf(changes: readonly TextChange[]): WorkspaceEdit {
  const byFile: Record<string, { range: Range; newText: string }[]> = {}
  for (const { file, span, text } of changes) (byFile[uriOf(file)] ??= []).push({ range: rangeOf(span), newText: text })
  return { changes: byFile }
}

const KINDS: Readonly<Record<string, SymbolKind>> = {
  page: SymbolKind.File,
  template: SymbolKind.Class,
  surround: SymbolKind.Struct,
  menu: SymbolKind.Array,
  picture: SymbolKind.Object,
  kind: SymbolKind.Enum,
  builder: SymbolKind.Interface,
  extension: SymbolKind.Package,
}

const kindOf = ({ kind }: SiteSymbol): SymbolKind => KINDS[kind] ?? SymbolKind.Key

interface OutlineEntry {
  readonly name: string
  readonly detail: string
  readonly kind: SymbolKind
  readonly range: Range
  readonly selectionRange: Range
  readonly children: OutlineEntry[]
}

const symbolOf = (symbol: SiteSymbol): OutlineEntry => ({
  ...{ name: symbol.name, detail: symbol.kind === symbol.name ? '' : symbol.kind, kind: kindOf(symbol) },
  ...{ range: rangeOf(symbol.whole), selectionRange: rangeOf(symbol.span), children: symbol.children.map(symbolOf) },
})

const symbolInformation = (symbol: SiteSymbol): SymbolInformation => ({
  ...{ name: symbol.name, kind: kindOf(symbol), location: locationOf(symbol), containerName: symbol.kind },
})

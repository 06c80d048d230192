// What the language part finds, in the words of the Language Server Protocol: places count from 0, files are addresses.
import { fileURLToPath, pathToFileURL } from 'node:url'
import {
  CompletionItemKind,
  DiagnosticSeverity,
  SymbolKind,
  type CompletionItem,
  type Diagnostic,
  type Location,
  type Position,
  type Range,
  type SymbolInformation,
  type WorkspaceEdit,
  type WorkspaceFolder,
} from 'vscode-languageserver'
import type { Completion, FileSpan, Mark, SiteSymbol, Span, TextChange, TextPlace } from '../language/index.js'

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

/** The file that an address names; `undefined` for what is in no file. */
export function fileOf(uri: string): string | undefined {
  try {
    return uri.startsWith('file:') ? fileURLToPath(uri) : undefined
  } catch {
    return undefined
  }
}

export const foldersOf = (folders: readonly Pick<WorkspaceFolder, 'uri'>[]): readonly string[] =>
  folders.flatMap(({ uri }) => fileOf(uri) ?? [])

export const uriOf = (file: string): string => pathToFileURL(file).href

const positionOf = ({ line, column }: TextPlace): Position => ({ line: line - 1, character: column - 1 })
export const rangeOf = ({ from, to }: Span): Range => ({ start: positionOf(from), end: positionOf(to) })
export const locationOf = ({ file, span }: FileSpan): Location => ({ uri: uriOf(file), range: rangeOf(span) })

const isBefore = (a: Position, b: Position): boolean =>
  a.line < b.line || (a.line === b.line && a.character <= b.character)
export const overlaps = (a: Range, b: Range): boolean => isBefore(a.start, b.end) && isBefore(b.start, a.end)

export const diagnosticOf = ({ span, severity, code, message, related }: Mark): Diagnostic => ({
  ...{ range: rangeOf(span), severity: SEVERITY[severity], source: 'wembra', code, message },
  relatedInformation: related.map((each) => ({ location: locationOf(each), message: each.message })),
})

export function editOf(changes: readonly TextChange[]): WorkspaceEdit {
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

export interface OutlineEntry {
  readonly name: string
  readonly detail: string
  readonly kind: SymbolKind
  readonly range: Range
  readonly selectionRange: Range
  readonly children: OutlineEntry[]
}

export const symbolOf = (symbol: SiteSymbol): OutlineEntry => ({
  ...{ name: symbol.name, detail: symbol.kind === symbol.name ? '' : symbol.kind, kind: kindOf(symbol) },
  ...{ range: rangeOf(symbol.whole), selectionRange: rangeOf(symbol.span), children: symbol.children.map(symbolOf) },
})

export const symbolInformation = (symbol: SiteSymbol): SymbolInformation => ({
  ...{ name: symbol.name, kind: kindOf(symbol), location: locationOf(symbol), containerName: symbol.kind },
})

/** What could be written, in the order in which it is offered. */
export const completionItem = (each: Completion, n: number): CompletionItem => ({
  ...{ label: each.label, kind: COMPLETION[each.kind], detail: each.detail },
  ...{ documentation: each.sentence, sortText: String(n).padStart(4, '0') },
  ...{ filterText: each.text, textEdit: { range: rangeOf(each.span), newText: each.text } },
})

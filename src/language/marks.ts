import type { Finding, Severity } from '../inspect/rule.js'
import type { Place, Problem } from '../model/problem.js'
import type { Lines, Span } from './places.js'

/** Where the texts of files are had from: a project, or an editor that holds them. */
export interface Texts {
  /** A file's text by its lines; of one that is not there, no text. */
  readonly lines: (file: string) => Lines
}

/** Something to be shown at a place of a file: a finding, or why it cannot be read. */
export interface Mark {
  readonly file: string
  readonly span: Span
  readonly severity: Severity
  /** The rule, or the code of the problem. */
  readonly code: string
  readonly message: string
  readonly related: readonly { readonly file: string; readonly span: Span; readonly message: string }[]
  /** The finding's key; none for a problem. */
  readonly key?: string
}

/** Problems as marks on their words; those with which a site can be read all the same are warnings. */
export const markProblems = (
  texts: Texts,
  problems: readonly Problem[],
  severity: Severity = 'error',
): readonly Mark[] =>
  problems.map((problem) => ({
    ...{ file: problem.file, span: spanAt(texts, problem), severity },
    ...{ code: problem.code, message: problem.message, related: [] },
  }))

/** Findings as marks on the words that decide. */
export const markFindings = (texts: Texts, findings: readonly Finding[]): readonly Mark[] =>
  findings.map(({ at, severity, rule, message, advice, related, key }) => ({
    ...{ file: at.file, span: spanAt(texts, at), severity, code: rule, key },
    message: advice ? `${message}\n${advice}` : message,
    related: related.map((each) => ({ file: each.file, span: spanAt(texts, each), message: each.because })),
  }))

/** The word that stands at a place. */
export function spanAt(texts: Texts, place: Place): Span {
  const lines = texts.lines(place.file)
  return lines.span(lines.wordAt(place))
}

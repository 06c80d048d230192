import { Alert, Anchor, Group, NativeSelect, Stack, Text, Title } from '@mantine/core'
import { json } from '@codemirror/lang-json'
import { css } from '@codemirror/lang-css'
import { yaml } from '@codemirror/lang-yaml'
import { lintGutter, setDiagnostics, type Diagnostic } from '@codemirror/lint'
import { EditorState } from '@codemirror/state'
import { EditorView } from '@codemirror/view'
import type { Remote } from 'comlink'
import { basicSetup } from 'codemirror'
import { useEffect, useMemo, useRef } from 'react'
import type { Severity } from 'wembra'
import { Lines, markFindings, markProblems } from 'wembra/language'
import { screenAddress, sourceAddress } from '../session/use-route.ts'
import type { Session } from '../session/use-session.ts'
import type { Work } from '../worker/site.worker.ts'
import { languageTools, offsetIn } from './source-tools.ts'
import type { Findings } from '../worker/use-findings.ts'

interface Props {
  readonly session: Session
  readonly found: Findings
  readonly file: string
  readonly params: URLSearchParams
  readonly ask: () => Promise<Remote<Work>>
}

const language = (file: string) => (/\.ya?ml$/.test(file) ? yaml() : file.endsWith('.css') ? css() : json())
const LEVEL: Readonly<Record<Severity, Diagnostic['severity']>> = { error: 'error', warning: 'warning', note: 'info' }
/** So long after the last key the text is read. */
const SETTLED = 250

/** The source as text: problems and findings are on their lines, and editing here edits the site. */
export function SourceScreen({ session, found, file: asked, params, ask }: Props) {
  const { texts, project, draft } = session
  const files = Object.keys(texts).filter((name) => /\.(ya?ml|json|ndjson|css)$/.test(name))
  const file = files.includes(asked) ? asked : project.file
  const line = Number(params.get('line') ?? 0)
  const text = draft?.file === file ? draft.text : (texts[file] ?? '')
  const holder = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView>(undefined)
  const edit = useRef(session.edit)
  edit.current = session.edit
  const asking = useRef(ask)
  asking.current = ask

  useEffect(() => {
    if (!holder.current) return
    let later: ReturnType<typeof setTimeout> | undefined
    const write = (): void => {
      later = undefined
      if (view.current) edit.current(file, view.current.state.doc.toString())
    }
    const made = new EditorView({
      parent: holder.current,
      state: EditorState.create({
        doc: text,
        extensions: [
          basicSetup,
          language(file),
          lintGutter(),
          languageTools(file, () => asking.current()),
          EditorView.contentAttributes.of({ 'aria-label': `Source of ${file}`, tabindex: '0' }),
          EditorView.updateListener.of((update) => {
            if (
              !update.docChanged ||
              !update.transactions.some(
                (t) =>
                  t.isUserEvent('input') ||
                  t.isUserEvent('delete') ||
                  t.isUserEvent('undo') ||
                  t.isUserEvent('redo') ||
                  t.isUserEvent('move'),
              )
            )
              return
            clearTimeout(later)
            later = setTimeout(write, SETTLED)
          }),
        ],
      }),
    })
    view.current = made
    return () => {
      if (later !== undefined) {
        clearTimeout(later)
        edit.current(file, made.state.doc.toString())
      }
      made.destroy()
      view.current = undefined
    }
    // The editor keeps its own text; changes from elsewhere are laid over it below.
  }, [file])

  useEffect(() => {
    const editor = view.current
    if (!editor || editor.state.doc.toString() === text || editor.hasFocus) return
    editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: text } })
  }, [text])

  useEffect(() => {
    const editor = view.current
    if (!editor || line < 1 || line > editor.state.doc.lines) return
    const at = editor.state.doc.line(line)
    editor.dispatch({ selection: { anchor: at.from }, effects: EditorView.scrollIntoView(at.from, { y: 'center' }) })
  }, [file, line])

  const marks = useMemo(() => {
    const here = new Lines(text)
    const lines = (name: string): Lines => (name === file ? here : new Lines(''))
    return draft
      ? markProblems(
          { lines },
          draft.problems.filter((problem) => problem.file === file),
        )
      : markFindings(
          { lines },
          found.findings.filter(({ at }) => at.file === file),
        )
  }, [file, text, found.findings, draft])
  useEffect(() => {
    const editor = view.current
    if (!editor) return
    const { doc } = editor.state
    const diagnostics = marks
      .filter(({ span }) => span.to.line <= doc.lines)
      .map(({ span, severity, code, message, key }): Diagnostic => {
        const actions =
          key === undefined
            ? []
            : [{ name: 'What can be done', apply: () => goTo(screenAddress('findings', { finding: key })) }]
        const range = { from: offsetIn(doc, span.from), to: offsetIn(doc, span.to) }
        return {
          ...range,
          severity: LEVEL[severity],
          message: key === undefined ? message : `${code}: ${message}`,
          actions,
        }
      })
    editor.dispatch(setDiagnostics(editor.state, diagnostics))
  }, [marks, text])

  return (
    <Stack gap="sm">
      <Group justify="space-between" align="flex-end">
        <Title order={2}>Source</Title>
        <NativeSelect
          label="File"
          value={file}
          onChange={(event) => {
            location.hash = sourceAddress(event.currentTarget.value, 1)
          }}
          data={files.map((name) => ({
            value: name,
            label: texts[name] === project.texts[name] ? name : `${name} (changed)`,
          }))}
        />
      </Group>
      <div ref={holder} className="source" {...(draft && { 'data-draft': '' })} />
      {draft && (
        <Alert color="red" role="alert" title="It does not read like this yet; the site is as it was before">
          {draft.problems.slice(0, 5).map((problem) => (
            <Text key={`${problem.line}:${problem.column} ${problem.message}`} size="sm">
              <Anchor href={sourceAddress(problem.file, problem.line)} ff="monospace">
                {problem.file}:{problem.line}:{problem.column}
              </Anchor>{' '}
              {problem.message}
            </Text>
          ))}
        </Alert>
      )}
    </Stack>
  )
}

const goTo = (address: string): void => void (location.hash = address)

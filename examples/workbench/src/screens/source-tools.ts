import type { Completion as Offered, CompletionContext, CompletionResult } from '@codemirror/autocomplete'
import { EditorState, type Extension, type Text } from '@codemirror/state'
import { hoverTooltip, type Tooltip } from '@codemirror/view'
import type { Remote } from 'comlink'
import { micromark } from 'micromark'
import type { Completion, TextPlace } from 'wembra/language'
import type { Work } from '../worker/site.worker.ts'

type Ask = () => Promise<Remote<Work>>

/** What is told of a place under the pointer, and offered while one types: the same as editors get from `wembra lsp`. */
export function languageTools(file: string, ask: Ask): Extension {
  // The same objects whenever they are asked for: others would be asked anew.
  const data = [{ autocomplete: (context: CompletionContext) => completions(file, ask, context) }]
  return [
    hoverTooltip((view, offset) => hover(file, ask, view.state.doc, offset), { hoverTime: 250 }),
    EditorState.languageData.of(() => data),
  ]
}

function placeOf(doc: Text, offset: number): TextPlace {
  const { number, from } = doc.lineAt(offset)
  return { line: number, column: offset - from + 1 }
}

/** The offset of a place in an editor's text. */
export const offsetIn = (doc: Text, { line, column }: TextPlace): number => {
  const { from, to } = doc.line(Math.min(line, doc.lines))
  return Math.min(from + column - 1, to)
}

async function hover(file: string, ask: Ask, doc: Text, offset: number): Promise<Tooltip | null> {
  const work = await ask()
  const found = await work.hover(file, doc.toString(), placeOf(doc, offset))
  if (!found) return null
  const dom = document.createElement('div')
  dom.className = 'source-hover'
  // Markup that a name may contain is shown as it is written.
  dom.innerHTML = micromark(found.markdown)
  return {
    ...{ pos: offsetIn(doc, found.span.from), end: offsetIn(doc, found.span.to), above: true },
    create: () => ({ dom }),
  }
}

const TYPES: Readonly<Record<Completion['kind'], string>> = {
  ...{ key: 'property', word: 'enum', id: 'variable', token: 'constant', rule: 'keyword', property: 'property' },
}

async function completions(
  file: string,
  ask: Ask,
  { state, pos, explicit }: CompletionContext,
): Promise<CompletionResult | null> {
  const before = state.sliceDoc(Math.max(0, pos - 1), pos)
  // After a space or a bracket everything could come: that is asked for.
  if (!explicit && !/[\w.{"-]/.test(before)) return null
  const work = await ask()
  const found = await work.completions(file, state.doc.toString(), placeOf(state.doc, pos))
  const [first] = found
  if (!first) return null
  const options = found.map(({ label, kind, detail, sentence, text }): Offered => ({
    ...{ label, type: TYPES[kind], detail, apply: text },
    ...(sentence !== '' && { info: sentence }),
  }))
  return { from: offsetIn(state.doc, first.span.from), to: offsetIn(state.doc, first.span.to), options, filter: false }
}

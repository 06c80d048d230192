// Compares what `wembra observe` reads of real pages with what a person saw.
import type { Observation, ObservedBox } from 'wembra/reality'
import type { Rect, TrueBox, TruePart, TrueView } from './measure.js'

export const FACETS = ['header', 'title', 'sidebar', 'width', 'spacing', 'footer'] as const
export type FacetScored = (typeof FACETS)[number]

/** How far a reading may be off, in px. */
const NEAR = 2.5

/** What is wrong with each facet's reading at one viewport: empty where it is right, `undefined` where it is not counted. */
export type Marks = Readonly<Record<FacetScored, string | undefined>>

const near = (a: number, b: number, by = NEAR): boolean => Math.abs(a - b) <= by
const inShort = (box: Rect | undefined): string =>
  box ? [box.x, box.y, box.width, box.height].map((px) => Math.round(px)).join(',') : 'none'
const folded = (text: string): string =>
  text
    .replace(/([^\p{L}\p{N}\p{P}]|[¶#])+$/u, '')
    .replace(/\s+/g, ' ')
    .trim()
    .toLowerCase()

const POSITIONS: Readonly<Record<string, TrueBox['position']>> = {
  ...{ static: 'flow', relative: 'flow', absolute: 'overlay', fixed: 'fixed', sticky: 'sticky' },
}

/** What is right of any of the answers is right; else what is wrong with the first. */
function best(answers: TrueView[TruePart], judge: (answer: TrueBox | undefined) => string): string | undefined {
  if (answers === 'any') return undefined
  const wrongs = answers.map(judge)
  return wrongs.includes('') ? '' : wrongs[0]
}

/** Both columns of a box: with its padding, and without. */
const either = (answer: TrueBox, judge: (rect: Rect) => boolean): boolean =>
  judge(answer.border) || judge(answer.content)

export function markView(seen: Observation, truth: TrueView): Marks {
  const boxOf = (name: keyof Observation['parts']): ObservedBox | undefined => {
    const part = seen.parts[name]
    return part?.presence === 'shown' && part.box && part.box.height > 0 ? part.box : undefined
  }
  const [header, footer, title, sidebar] = [boxOf('header'), boxOf('footer'), boxOf('title'), boxOf('sidebar')]
  const column = boxOf('column') ?? boxOf('container') ?? boxOf('content')
  const presence = (answer: TrueBox | undefined, box: ObservedBox | undefined, judge: () => string): string =>
    !answer && !box ? '' : answer && box ? judge() : `${inShort(box)} for ${inShort(answer?.border)}`
  return {
    header: best(truth.header, (answer) =>
      presence(answer, header, () => {
        const { border, position } = answer as TrueBox
        const box = header as ObservedBox
        const ours = POSITIONS[seen.parts.header?.position ?? 'static']
        if (ours !== position) return `${ours} for ${position}`
        return near(box.y + box.height, border.y + border.height) ? '' : `${inShort(box)} for ${inShort(border)}`
      }),
    ),
    footer: best(truth.footer, (answer) =>
      presence(answer, footer, () => {
        const { border } = answer as TrueBox
        const box = footer as ObservedBox
        return near(box.y, border.y) ? '' : `${inShort(box)} for ${inShort(border)}`
      }),
    ),
    title: best(truth.title, (answer) =>
      presence(answer, title, () => {
        const { border, text } = answer as TrueBox
        const words = seen.parts.title?.text ?? ''
        if (folded(words) !== folded(text)) return `"${words.slice(0, 40)}" for "${text.slice(0, 40)}"`
        return near((title as ObservedBox).y, border.y, 4) ? '' : `${inShort(title)} for ${inShort(border)}`
      }),
    ),
    sidebar: best(truth.sidebar, (answer) =>
      presence(answer, sidebar, () => {
        const [ours, theirs] = [sidebar as ObservedBox, (answer as TrueBox).border]
        const sideOf = (rail: Rect): string =>
          !column
            ? 'beside'
            : rail.x + rail.width <= column.x + 40
              ? 'left'
              : rail.x >= column.x + column.width - 40
                ? 'right'
                : 'below'
        if (sideOf(ours) !== sideOf(theirs)) return `${sideOf(ours)} for ${sideOf(theirs)}`
        return near(ours.width, theirs.width) ? '' : `${inShort(ours)} for ${inShort(theirs)}`
      }),
    ),
    width: best(truth.column, (answer) =>
      presence(answer, column, () => {
        const box = column as ObservedBox
        const isRight = either(answer as TrueBox, (rect) => near(box.x, rect.x) && near(box.width, rect.width))
        return isRight ? '' : `${inShort(box)} for ${inShort((answer as TrueBox).border)}`
      }),
    ),
    spacing: best(truth.column, (answer) =>
      presence(answer, column, () => {
        const box = column as ObservedBox
        const isRight = either(
          answer as TrueBox,
          (rect) => near(box.y, rect.y, 3) && near(box.y + box.height, rect.y + rect.height, 3),
        )
        return isRight ? '' : `${inShort(box)} for ${inShort((answer as TrueBox).border)}`
      }),
    ),
  }
}

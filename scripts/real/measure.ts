// Takes the boxes of what truth.yaml names, in Chromium; it shares no code with the observer.
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import type { BrowserContext } from 'playwright-core'
import { parse } from 'yaml'

export const VIEWPORTS = [
  { name: 'desk', width: 1280, height: 800 },
  { name: 'tablet', width: 768, height: 1024 },
  { name: 'phone', width: 390, height: 844 },
] as const

export interface Rect {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** What is in sight of one answer: its box, and the box within its padding. */
export interface TrueBox {
  readonly border: Rect
  readonly content: Rect
  /** How it is: in the flow, laid over, or kept in place while the page scrolls. */
  readonly position: 'flow' | 'overlay' | 'fixed' | 'sticky'
  readonly text: string
}

export const TRUE_PARTS = ['header', 'footer', 'title', 'sidebar', 'column'] as const
export type TruePart = (typeof TRUE_PARTS)[number]
/** By part, the answers that are right: `undefined` where there is nothing in sight; `any` where it is not counted. */
export type TrueView = Readonly<Record<TruePart, 'any' | readonly (TrueBox | undefined)[]>>

type Answers = string | readonly string[]
type Entry = Partial<Record<TruePart, Answers>> & {
  readonly pages?: Record<string, Partial<Record<TruePart, Answers>>>
}

const TRUTH = parse(readFileSync(fileURLToPath(new URL('truth.yaml', import.meta.url)), 'utf8')) as Record<
  string,
  Entry
>

/** What truth.yaml answers for a part of a page. */
export function answersFor(site: string, page: string, part: TruePart): Answers {
  const entry = TRUTH[site]
  const answer = entry?.pages?.[page]?.[part] ?? entry?.[part]
  if (answer === undefined) throw new Error(`truth.yaml has no ${part} of ${site} ${page}`)
  return answer
}

/** All that truth.yaml answers for a site, as text. */
export const writtenOf = (site: string): string => JSON.stringify(TRUTH[site])

/** Runs in the page. */
const BOXES = `(selector, first) => {
  const seen = [...document.querySelectorAll(selector)].filter((e) => {
    const r = e.getBoundingClientRect(), s = getComputedStyle(e)
    return e.checkVisibility() && s.visibility === 'visible' && s.opacity !== '0' && r.width > 1 && r.height > 1 && r.right > 1 && r.left < innerWidth - 1
  })
  const all = first ? seen.slice(0, 1) : seen
  if (all.length === 0) return null
  const edges = (inner) => {
    const boxes = all.map((e) => {
      const r = e.getBoundingClientRect(), s = getComputedStyle(e)
      const [t, q, b, l] = inner ? [s.paddingTop, s.paddingRight, s.paddingBottom, s.paddingLeft].map(parseFloat) : [0, 0, 0, 0]
      return [r.left + l + scrollX, r.top + t + scrollY, r.right - q + scrollX, r.bottom - b + scrollY]
    })
    const [x, y, r, b] = [0, 1, 2, 3].map((n) => (n < 2 ? Math.min : Math.max)(...boxes.map((box) => box[n])))
    return { x, y, width: r - x, height: b - y }
  }
  let position = 'flow'
  // What most of the page is in as well lays nothing over it.
  const holdsPage = (e) => e.innerText.length > document.body.innerText.length / 2
  for (let at = all[0]; at && at !== document.body && position === 'flow'; at = at.parentElement) {
    const p = getComputedStyle(at).position
    if (p === 'fixed' || p === 'sticky') position = p
    else if (p === 'absolute' && !holdsPage(at)) position = 'overlay'
  }
  return { border: edges(false), content: edges(true), position, text: all[0].innerText.replace(/\\s+/g, ' ').trim() }
}`

/** Measures one page at every viewport. */
export async function measureReal(
  context: BrowserContext,
  { site, page, address }: { readonly site: string; readonly page: string; readonly address: string },
): Promise<Record<string, TrueView>> {
  const views: Record<string, TrueView> = {}
  for (const { name, width, height } of VIEWPORTS) {
    const tab = await context.newPage()
    await tab.setViewportSize({ width, height })
    await tab.goto(address, { waitUntil: 'load' })
    await tab.waitForTimeout(800)
    const view: Partial<Record<TruePart, 'any' | (TrueBox | undefined)[]>> = {}
    for (const part of TRUE_PARTS) {
      const answers = answersFor(site, page, part)
      if (answers === 'any') {
        view[part] = 'any'
        continue
      }
      view[part] = []
      for (const selector of [answers].flat()) {
        const first = part === 'title' || (part === 'header' && !selector.includes(','))
        const box = selector === 'none' ? null : await tab.evaluate(`(${BOXES})(${JSON.stringify(selector)}, ${first})`)
        view[part].push((box ?? undefined) as TrueBox | undefined)
      }
    }
    views[name] = view as TrueView
    await tab.close()
  }
  return views
}

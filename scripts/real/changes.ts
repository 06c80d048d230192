// Changes behind a site's back, made in its pages as they are served: what they do, and what has to be reported of them.
import { answersFor, type TruePart } from './measure.js'

/** A kind of change. */
export interface Change {
  readonly name: string
  readonly part: TruePart
  /** Runs in the page with the element of the part, or all where there are several; returns whether anything visible changed. */
  readonly script: string
  /** Whether it is made on one page only, or on all. */
  readonly onePage?: true
  /** The property that has to be reported, and those that may be reported with it. */
  readonly told: RegExp
  readonly with?: RegExp
}

const RECT = 'const rect = () => JSON.stringify(part.getBoundingClientRect()), before = rect();'
const AFTER = 'return rect() !== before'

export const CHANGES: readonly Change[] = [
  {
    name: 'position',
    part: 'header',
    script: `const stays = /fixed|sticky/.test(getComputedStyle(part).position); const { top, width } = part.getBoundingClientRect(); set(part, 'position', stays ? 'relative' : 'fixed'); set(part, 'top', stays ? '0' : top + scrollY + 'px'); set(part, 'width', width + 'px'); return true`,
    told: /^header\.position$/,
    with: /^header\.(clearance|background)$/,
  },
  {
    name: 'height',
    part: 'header',
    script: `${RECT} const { height } = part.getBoundingClientRect(); set(part, 'height', height + 24 + 'px'); set(part, 'min-height', height + 24 + 'px'); set(part, 'max-height', 'none'); ${AFTER}`,
    told: /^header\.height$/,
    with: /^header\.clearance$/,
  },
  {
    name: 'width',
    part: 'column',
    script: `if (part.innerText.length < 0.6 * document.body.innerText.length) return false; ${RECT} const { width } = part.getBoundingClientRect(); set(part, 'max-width', width - 60 + 'px'); set(part, 'min-width', '0'); ${AFTER}`,
    told: /^width\./,
    with: /^(width\.|sidebar\.gap)/,
  },
  {
    name: 'title',
    part: 'title',
    script: `part.textContent = 'Another name for it'; return true`,
    onePage: true,
    told: /^title\.words$/,
    with: /^title\.height$/,
  },
  {
    name: 'second h1',
    part: 'column',
    script: `part.append(Object.assign(document.createElement('h1'), { textContent: 'One more name' })); return true`,
    onePage: true,
    // Where there was none, or one of a lower level, it is the title.
    told: /^(body\.topHeadings|title\.presence|title\.words)$/,
  },
  {
    name: 'side',
    part: 'sidebar',
    script: `const x = part.getBoundingClientRect().x
      for (let at = part; at.parentElement && at !== document.body; at = at.parentElement) {
        const own = getComputedStyle(at), around = getComputedStyle(at.parentElement)
        if (own.float === 'left' || own.float === 'right') { set(at, 'float', own.float === 'left' ? 'right' : 'left'); break }
        if (around.display === 'flex' && around.flexDirection === 'row' && at.parentElement.childElementCount > 1) { set(at.parentElement, 'flex-direction', 'row-reverse'); break }
      }
      return Math.abs(part.getBoundingClientRect().x - x) > 100`,
    told: /^sidebar\.side$/,
    with: /^sidebar\.(gap|width)$/,
  },
  {
    name: 'no sidebar',
    part: 'sidebar',
    script: `let all = part; while (all.parentElement.innerText.trim() === part.innerText.trim()) all = all.parentElement; set(all, 'display', 'none'); return true`,
    onePage: true,
    told: /^sidebar\.presence$/,
    with: /^(sidebar|width)\./,
  },
  {
    name: 'no header',
    part: 'header',
    script: `for (const each of parts) set(each, 'display', 'none'); return true`,
    onePage: true,
    told: /^header\.presence$/,
    with: /^header\./,
  },
  {
    name: 'footer words',
    part: 'footer',
    script: `const walker = document.createTreeWalker(part, NodeFilter.SHOW_TEXT)
      for (let node = walker.nextNode(); node; node = walker.nextNode())
        if (node.data.trim().split(/\\s+/).length > 1 && !node.parentElement.closest('a') && node.parentElement.checkVisibility()) { node.data = 'Said in other words'; return true }
      return false`,
    told: /^footer\.words$/,
    with: /^footer\.height$/,
  },
]

/** Whether a site has the part that a change is made on, on these pages. */
export const isPossible = (change: Change, site: string, pages: readonly string[]): boolean =>
  pages.every((page) => [answersFor(site, page, change.part)].flat().some((each) => each !== 'none' && each !== 'any'))

/** A script that makes the change in a page once it is loaded, and notes in `data-changed` whether anything changed. */
export function scriptOf(change: Change, site: string, page: string): string {
  const selectors = [answersFor(site, page, change.part)].flat().filter((each) => each !== 'none' && each !== 'any')
  return `<script>{
    const set = (element, name, value) => element.style.setProperty(name, value, 'important')
    const make = (part, parts) => { ${change.script} }
    const run = () => {
      const all = ${JSON.stringify(selectors)}.flatMap((selector) => [...document.querySelectorAll(selector)])
      const parts = all.filter((each) => each.checkVisibility() && each.getBoundingClientRect().width > 1)
      document.documentElement.dataset.changed = parts.length > 0 ? String(make(parts.find((each) => each.querySelector('a[href]')) ?? parts[0], parts)) : 'false'
    }
    addEventListener('load', run)
  }</script>`
}

// What a visitor finds wrong with a page, measured in Chromium: by scrolling it, by what lies on top at a point, by the
// pixels of a picture and by the accessibility tree. It shares no code with the observer.
import { decode } from 'fast-png'
import type { BrowserContext, Page } from 'playwright-core'
import { answersFor, VIEWPORTS, type Rect } from './measure.js'

export const TROUBLES = ['overflow', 'covered', 'contrast', 'headings', 'emptyRail', 'glued'] as const
export type TroubleKind = (typeof TROUBLES)[number]

/** A trouble, with the words it is of where it is of some. */
export interface Trouble {
  readonly kind: TroubleKind
  readonly words: string
}

interface Text {
  readonly words: string
  readonly rect: Rect
  readonly large: boolean
  /** What lies over its middle is something else that is painted. */
  readonly covered: boolean
  readonly glued: boolean
}

/** Runs in the page: every text, where its lines are, and what lies on top of them before anything is scrolled. */
const TEXTS = `() => {
  const out = []
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
  const paints = (element, stop) => {
    for (let e = element; e && e !== stop; e = e.parentElement) {
      const s = getComputedStyle(e)
      if (/img|svg|video/i.test(e.tagName) || s.backgroundImage !== 'none') return true
      if (!/^rgba\\(.*, 0\\)$/.test(s.backgroundColor) && s.backgroundColor !== 'transparent') return true
    }
    return false
  }
  const stays = (element) => {
    for (let e = element; e; e = e.parentElement) if (/fixed|sticky/.test(getComputedStyle(e).position)) return true
    return false
  }
  const floats = (element) => {
    for (let e = element; e && e !== document.body; e = e.parentElement) if (/fixed|sticky|absolute/.test(getComputedStyle(e).position)) return e
    return null
  }
  for (let node = walker.nextNode(); node && out.length < 2500; node = walker.nextNode()) {
    if (!/[\\p{L}\\p{N}]/u.test(node.data)) continue
    const parent = node.parentElement
    if (!parent || /SCRIPT|STYLE|NOSCRIPT|OPTION|TEMPLATE|TITLE/i.test(parent.tagName) || parent.closest('svg,[disabled]')) continue
    const s = getComputedStyle(parent)
    if (!parent.checkVisibility({ opacityProperty: true, visibilityProperty: true, contentVisibilityAuto: true }) || s.visibility !== 'visible') continue
    const range = document.createRange()
    range.selectNodeContents(node)
    const lines = [...range.getClientRects()].filter((r) => r.width > 2 && r.height > 4)
    const [line] = lines
    if (!line || line.right < 1 || line.bottom + scrollY < 1 || line.left > innerWidth - 1) continue
    const whole = range.getBoundingClientRect()
    if (whole.width * whole.height < 20) continue
    let clipped = false, isScrolled = false
    for (let e = parent; e && e !== document.body; e = e.parentElement) {
      const c = getComputedStyle(e), r = e.getBoundingClientRect()
      if (c.overflowX !== 'visible' || c.overflowY !== 'visible') {
        isScrolled = true
        if (line.left >= r.right - 1 || line.right <= r.left + 1 || line.top >= r.bottom - 1 || line.bottom <= r.top + 1) clipped = true
      }
      if (c.clipPath !== 'none' && r.width < 3) clipped = true
    }
    if (clipped) continue
    let covered = false
    const y = line.top + line.height / 2
    if (y > 0 && y < innerHeight && !stays(parent)) {
      const points = [0.1, 0.5, 0.9].map((share) => document.elementFromPoint(line.left + line.width * share, y))
      covered = points.filter((top) => {
        if (!top || top === parent || parent.contains(top) || top.contains(parent)) return false
        const layer = floats(top)
        return layer !== null && !layer.contains(parent) && (paints(top, layer.parentElement) || top.textContent.trim() !== '' && top.childElementCount === 0)
      }).length >= 2
    }
    const size = parseFloat(s.fontSize)
    const gluedLine = lines.some((r) => Math.abs(r.left) < 1 || Math.abs(r.right - document.documentElement.clientWidth) < 1)
    out.push({
      words: node.data.replace(/\\s+/g, ' ').trim().slice(0, 60),
      rect: { x: line.left + scrollX, y: line.top + scrollY, width: line.width, height: line.height },
      large: size >= 24 || (size >= 18.66 && Number(s.fontWeight) >= 700),
      covered,
      glued: gluedLine && !isScrolled && !stays(parent) && node.data.trim().length > 2,
    })
  }
  return out
}`

/** What is wrong with a page at each viewport. */
export async function troublesOf(
  context: BrowserContext,
  { site, page: name, address }: { site: string; page: string; address: string },
): Promise<Record<string, readonly Trouble[]>> {
  const found: Record<string, readonly Trouble[]> = {}
  for (const viewport of VIEWPORTS) {
    const page = await context.newPage()
    await page.setViewportSize(viewport)
    await page.goto(address, { waitUntil: 'load' })
    await page.evaluate('document.fonts.ready')
    await page.waitForTimeout(300)
    const texts: Text[] = await page.evaluate(`(${TEXTS})()`)
    const unreadable = await unreadableOf(page, texts)
    const rails = await emptyRails(page, answersFor(site, name, 'sidebar'))
    const headings = await headingsOf(page)
    await page.evaluate('scrollTo(100000, 0)')
    const slid = Number(await page.evaluate('scrollX'))
    found[viewport.name] = [
      ...(slid > 1 ? [{ kind: 'overflow' as const, words: '' }] : []),
      ...texts.filter((text) => text.covered).map(({ words }) => ({ kind: 'covered' as const, words })),
      ...unreadable.map((words) => ({ kind: 'contrast' as const, words })),
      ...headings.map((words) => ({ kind: 'headings' as const, words })),
      ...(rails ? [{ kind: 'emptyRail' as const, words: '' }] : []),
      ...texts.filter((text) => text.glued).map(({ words }) => ({ kind: 'glued' as const, words })),
    ]
    await page.close()
  }
  return found
}

async function emptyRails(page: Page, answers: string | readonly string[]): Promise<boolean> {
  for (const selector of [answers].flat()) {
    if (selector === 'none' || selector === 'any') continue
    const isEmpty = await page.evaluate(
      `[...document.querySelectorAll(${JSON.stringify(selector)})].some((e) => e.checkVisibility() && e.getBoundingClientRect().width > 80 && e.innerText.trim() === '' && !e.querySelector('img,svg,input,iframe'))`,
    )
    if (isEmpty) return true
  }
  return false
}

/** Headings as they are read aloud: one more of level 1, a level left out, or none of level 1 at all. */
async function headingsOf(page: Page): Promise<readonly string[]> {
  const session = await page.context().newCDPSession(page)
  const { nodes } = (await session.send('Accessibility.getFullAXTree')) as {
    nodes: readonly {
      nodeId: string
      parentId?: string
      ignored: boolean
      role?: { value: string }
      name?: { value: string }
      properties?: readonly { name: string; value: { value: unknown } }[]
    }[]
  }
  await session.detach()
  const byId = new Map(nodes.map((node) => [node.nodeId, node]))
  const isChrome = (id: string | undefined): boolean => {
    const node = id === undefined ? undefined : byId.get(id)
    if (!node) return false
    return /banner|contentinfo|complementary|navigation/.test(node.role?.value ?? '') || isChrome(node.parentId)
  }
  const all = nodes
    .filter((node) => !node.ignored && node.role?.value === 'heading')
    .map((node) => ({
      level: Number(node.properties?.find(({ name }) => name === 'level')?.value.value ?? 2),
      words: (node.name?.value ?? '').slice(0, 60),
      isChrome: isChrome(node.parentId),
    }))
  const own = all.filter((each) => !each.isChrome)
  const out: string[] = []
  let before = 0
  for (const { level, words } of own) {
    if (before === 0 ? level > 2 : level > before + 1) out.push(words)
    else if (level === 1 && before > 0) out.push(words)
    before = level
  }
  // A heading 2 may be a page's title, where no heading 1 is.
  if (!all.some(({ level }) => level === 1) && own[0]?.level !== 2) out.push('')
  return out
}

/** Texts of which no pixel stands out enough from the most frequent one around it. */
async function unreadableOf(page: Page, texts: readonly Text[]): Promise<readonly string[]> {
  const { data, width, height, channels } = decode(await page.screenshot({ fullPage: true }))
  const out: string[] = []
  for (const { words, rect, large, covered } of texts) {
    if (covered) continue
    const [left, top] = [Math.max(0, Math.floor(rect.x)), Math.max(0, Math.floor(rect.y))]
    const [right, bottom] = [
      Math.min(width, Math.ceil(rect.x + rect.width)),
      Math.min(height, Math.ceil(rect.y + rect.height)),
    ]
    if (right - left < 3 || bottom - top < 3) continue
    const counts = new Map<number, number>()
    for (let y = top; y < bottom; y++)
      for (let x = left; x < right; x++) {
        const at = (y * width + x) * channels
        const key = ((data[at] ?? 0) << 16) | ((data[at + 1] ?? 0) << 8) | (data[at + 2] ?? 0)
        counts.set(key, (counts.get(key) ?? 0) + 1)
      }
    const [[ground = 0, most = 0] = []] = [...counts].sort(([, a], [, b]) => b - a)
    // A ground that is a picture has no color of its own.
    if (most < 0.3 * (right - left) * (bottom - top)) continue
    const base = lightness(ground)
    const best = Math.max(
      ...[...counts.keys()].map((key) => {
        const other = lightness(key)
        return (Math.max(base, other) + 0.05) / (Math.min(base, other) + 0.05)
      }),
    )
    if (best < (large ? 3 : 4.5)) out.push(words)
  }
  return out
}

function lightness(key: number): number {
  const [r = 0, g = 0, b = 0] = [key >> 16, (key >> 8) & 255, key & 255].map((channel) => {
    const c = channel / 255
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
  })
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}

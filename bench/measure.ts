// Boxes of a page per second, beside a general-purpose flexbox engine that lays out the same tree of boxes.
import { Bench } from 'tinybench'
import Yoga, { Edge, FlexDirection, type Node } from 'yoga-layout'
import { measurePage, resolveSite, type Box, type ResolvedSite } from 'wembra'
import { loadSite } from 'wembra/node'

const VIEWPORT = 'desk'

/** The boxes of a page as a tree, each in the smallest that encloses it. */
interface Tree {
  readonly box: Box
  readonly inner: Tree[]
}

function treeOf(boxes: readonly Box[]): Tree {
  const [first, ...rest] = [...boxes].sort((a, b) => b.width * b.height - a.width * a.height)
  const root: Tree = { box: first as Box, inner: [] }
  for (const box of rest) {
    let here = root
    for (;;) {
      const next = here.inner.find(({ box: o }) => encloses(o, box))
      if (!next) break
      here = next
    }
    here.inner.push({ box, inner: [] })
  }
  return root
}

const encloses = (outer: Box, inner: Box): boolean =>
  outer.x <= inner.x &&
  outer.y <= inner.y &&
  outer.x + outer.width >= inner.x + inner.width &&
  outer.y + outer.height >= inner.y + inner.height

/** The same tree in the engine: widths and heights of leaves, margins for what lies between. */
function layOut({ box, inner }: Tree): Node {
  const node = Yoga.Node.create()
  node.setFlexDirection(FlexDirection.Column)
  node.setWidth(box.width)
  if (inner.length === 0) node.setHeight(box.height)
  let y = box.y
  inner.forEach((each, index) => {
    const child = layOut(each)
    child.setMargin(Edge.Top, each.box.y - y)
    child.setMargin(Edge.Left, each.box.x - box.x)
    y = each.box.y + each.box.height
    node.insertChild(child, index)
  })
  return node
}

const site = loadSite('examples/quillmere')
const resolved: ResolvedSite = resolveSite(site)
const pages = resolved.pageIds.filter((id) => !resolved.page(id).dormant)
const trees = pages.map((id) => treeOf(measurePage(resolved.page(id), VIEWPORT).boxes))
const boxes = pages.reduce((sum, id) => sum + measurePage(resolved.page(id), VIEWPORT).boxes.length, 0)

const bench = new Bench({ iterations: 60, time: 0, warmupIterations: 30, warmupTime: 0 })
bench
  .add('wembra', () => {
    for (const id of pages) measurePage(resolved.page(id), VIEWPORT)
  })
  // Nothing is known of its pages then but how wide words are.
  .add('a site resolved anew', () => {
    const anew = resolveSite(site)
    for (const id of pages) measurePage(anew.page(id), VIEWPORT)
  })
  .add('flexbox engine', () => {
    for (const tree of trees) {
      const node = layOut(tree)
      node.calculateLayout(tree.box.width, undefined)
      node.freeRecursive()
    }
  })
await bench.run()
const seconds = (name: string): number => {
  const result = bench.tasks.find((task) => task.name === name)?.result
  return result && 'latency' in result ? result.latency.p50 / 1000 : NaN
}
const [ours, anew, theirs] = [seconds('wembra'), seconds('a site resolved anew'), seconds('flexbox engine')]
const rate = (time: number): string =>
  `${Math.round(pages.length / time)} pages (${Math.round(boxes / time)} boxes) a second`
console.log(
  `${pages.length} pages, ${boxes} boxes: wembra ${rate(ours)} again, ${rate(anew)} of a site that is resolved anew, text broken into lines; ` +
    `the flexbox engine ${Math.round(pages.length / theirs)} pages with heights given (${(ours / theirs).toFixed(2)}x and ${(anew / theirs).toFixed(2)}x its time)`,
)

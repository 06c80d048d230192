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

const resolved: ResolvedSite = resolveSite(loadSite('examples/quillmere'))
const pages = resolved.pageIds.filter((id) => !resolved.page(id).dormant)
const trees = pages.map((id) => treeOf(measurePage(resolved.page(id), VIEWPORT).boxes))
const boxes = pages.reduce((sum, id) => sum + measurePage(resolved.page(id), VIEWPORT).boxes.length, 0)

const bench = new Bench({ iterations: 60, time: 0, warmupIterations: 30, warmupTime: 0 })
bench
  .add('wembra', () => {
    for (const id of pages) measurePage(resolved.page(id), VIEWPORT)
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
const [ours, theirs] = [seconds('wembra'), seconds('flexbox engine')]
console.log(
  `${pages.length} pages, ${boxes} boxes: wembra ${Math.round(pages.length / ours)} pages (${Math.round(boxes / ours)} boxes) a second, text broken into lines; ` +
    `the flexbox engine ${Math.round(pages.length / theirs)} pages with heights given (${(ours / theirs).toFixed(2)}x its time)`,
)

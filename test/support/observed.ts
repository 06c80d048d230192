import type { Observation, OutlineNode } from 'wembra/reality'

const HOME = 'https://tarn.example'

/** A bar's links, as the observer outlines a menu. */
export const menu = (...paths: readonly string[]): OutlineNode => ({
  ...{ kind: 'menu', at: '0.', presence: 'shown', box: { x: 200, y: 20, width: 400, height: 24 } },
  links: paths.map((path) => ({ label: path.slice(1), url: HOME + path })),
})

export const words = (text: string, at = '1.'): OutlineNode => ({
  ...{ kind: 'text', at, presence: 'shown', text, box: { x: 20, y: 20, width: 100, height: 24 } },
})

/** An observation of a plain page of 1280 x 800: a header of 64 px, 800 px of text, a footer of 80 px. */
export function observed(
  path: string,
  { header = [menu('/', '/visit')], footer = [words('Tarn keeps its doors open')], exits, ...more }: Bars = {},
): Observation {
  const box = (y: number, height: number, x = 0, width = 1280) => ({ x, y, width, height })
  const part = (selector: string, at: ReturnType<typeof box>, rest: object = {}) => ({
    ...{ presence: 'shown' as const, by: 'landmark' as const, selector, box: at, position: 'static' },
    ...rest,
  })
  const linksIn = (nodes: readonly OutlineNode[]): string[] =>
    nodes.flatMap(({ links = [] }) => links.map(({ url }) => url)).filter((url) => url !== HOME + path)
  return {
    ...{ wembra: 1, report: 'observation', url: HOME + path, title: `${path} — Tarn`, types: [], classes: [] },
    viewport: { name: 'desk', width: 1280, height: 800 },
    size: { width: 1280, height: 944 },
    ground: { color: 'rgb(255, 255, 255)', ink: 'rgb(0, 0, 0)' },
    parts: {
      header: part('header#top', box(0, 64), { outline: [...header], background: 'rgb(16, 32, 48)' }),
      footer: part('footer#foot', box(864, 80), { outline: [...footer] }),
      content: part('main', box(64, 800)),
      container: part('main', box(64, 800)),
      column: part('main', box(64, 800)),
      title: { ...part('h1', box(64, 24)), by: 'guess', text: path },
    },
    landmarks: [],
    headings: [{ level: 1, text: path, presence: 'shown', place: 'body', box: box(64, 24) }],
    outline: [{ kind: 'text', at: '2.', presence: 'shown', text: 'Words.', box: box(88, 776) }],
    exits: { header: linksIn(header), footer: linksIn(footer), sidebar: [], body: [], ...exits },
    comments: false,
    ...more,
  }
}

interface Bars extends Partial<Omit<Observation, 'exits'>> {
  readonly header?: readonly OutlineNode[]
  readonly footer?: readonly OutlineNode[]
  readonly exits?: Partial<Observation['exits']>
}

/** Style rules that may differ by size of screen: one rule where all agree, else one in a media query for each. */
export class SizedCss {
  readonly #sizes: readonly { readonly name: string; readonly media: string }[]
  readonly #lines: string[] = []

  constructor(sizes: Readonly<Record<string, { readonly width: number }>>) {
    const widest = Object.entries(sizes).sort(([, a], [, b]) => b.width - a.width)
    this.#sizes = widest.map(([name, { width }], n) => {
      const from = n === widest.length - 1 ? '' : `(min-width:${width}px)`
      const to = n === 0 ? '' : `(max-width:${(widest[n - 1]?.[1].width ?? 0) - 0.02}px)`
      return { name, media: [from, to].filter(Boolean).join(' and ') }
    })
  }

  /** Adds what a selector is given at each size; settings without a value are left out. */
  add(selector: string, at: (size: string) => Readonly<Record<string, string | undefined>>): void {
    const rules = this.#sizes.map(({ name, media }) => ({ media, text: declarations(at(name)) }))
    const [first] = rules
    if (rules.every(({ text }) => text === first?.text)) this.raw(rule(selector, first?.text ?? ''))
    else for (const { media, text } of rules) this.raw(text === '' ? '' : `@media ${media}{${rule(selector, text)}}`)
  }

  raw(css: string): void {
    if (css !== '') this.#lines.push(css)
  }

  text(): string {
    return this.#lines.join('\n').replaceAll('</', '<\\/')
  }
}

const declarations = (values: Readonly<Record<string, string | undefined>>): string =>
  Object.entries(values)
    .flatMap(([property, value]) => (value === undefined ? [] : [`${property}:${value}`]))
    .join(';')

const rule = (selector: string, text: string): string => (text === '' ? '' : `${selector}{${text}}`)

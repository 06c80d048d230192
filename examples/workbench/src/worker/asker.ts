import { proxy, wrap, type Remote } from 'comlink'
import type { SerializedSite } from 'wembra'
import type { Project, Texts } from '../session/project.ts'
import type { OnPages, Told, Work } from './site.worker.ts'

/** A worker that has a site open; where only texts are others, it gets those. */
export class Asker {
  readonly #work: Remote<Work> = wrap<Work>(
    new Worker(new URL('./site.worker.ts', import.meta.url), { type: 'module' }),
  )
  #project: Project | undefined
  #texts: Texts = {}
  #opening: Promise<void> = Promise.resolve()

  /** The worker's answers about these texts. */
  async about(project: Project, texts: Texts): Promise<Remote<Work>> {
    if (this.#project?.binary !== project.binary || this.#project.file !== project.file) {
      this.#opening = this.#work.open({ file: project.file, binary: project.binary }, texts)
    } else if (this.#texts !== texts) {
      this.#opening = this.#work.change(this.#changed(texts))
    }
    this.#project = project
    this.#texts = texts
    await this.#opening
    return this.#work
  }

  /** The site that these texts are, or why they are none. */
  async read(project: Project, texts: Texts): Promise<Told> {
    const work = await this.about(project, texts)
    return gathered((onPages) => work.tell(onPages))
  }

  /** What other texts make of the site; where they are none, it stays as it is. */
  async attempt(project: Project, texts: Texts, next: Texts): Promise<Told> {
    const work = await this.about(project, texts)
    const changed = this.#changed(next)
    const told = await gathered((onPages) => work.attempt(changed, onPages))
    if ('site' in told) this.#texts = next
    return told
  }

  #changed(texts: Texts): Texts {
    return Object.fromEntries(Object.entries(texts).filter(([path, text]) => text !== this.#texts[path]))
  }
}

/** Pages come some at a time, and what they belong to after them. */
async function gathered(ask: (onPages: OnPages) => Promise<Told>): Promise<Told> {
  const pages: SerializedSite['pages'][number][] = []
  const onPages = proxy((some: SerializedSite['pages']) => {
    pages.push(...some)
    return Promise.resolve()
  })
  const told = await ask(onPages)
  return 'site' in told ? { site: { ...told.site, pages } } : told
}

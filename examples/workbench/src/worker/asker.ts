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

  /**
   * The worker, which has these texts open when it gets what is asked of it now. Nothing is waited for in between: it
   * takes messages in their order, and others may ask about other texts meanwhile.
   */
  about(project: Project, texts: Texts): Promise<Remote<Work>> {
    if (this.#project?.binary !== project.binary || this.#project.file !== project.file) {
      void this.#work.open({ file: project.file, binary: project.binary }, texts)
    } else if (this.#texts !== texts) {
      void this.#work.change(this.#changed(texts))
    }
    this.#project = project
    this.#texts = texts
    return Promise.resolve(this.#work)
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
    // Unless somebody opened something else meanwhile.
    if ('site' in told && this.#texts === texts) this.#texts = next
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

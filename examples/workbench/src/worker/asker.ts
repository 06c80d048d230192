import { wrap, type Remote } from 'comlink'
import type { Project, Texts } from '../session/project.ts'
import type { Work } from './site.worker.ts'

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
      const changed = Object.entries(texts).filter(([path, text]) => text !== this.#texts[path])
      this.#opening = this.#work.change(Object.fromEntries(changed))
    }
    this.#project = project
    this.#texts = texts
    await this.#opening
    return this.#work
  }
}

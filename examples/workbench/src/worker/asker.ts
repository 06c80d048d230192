import { wrap, type Remote } from 'comlink'
import type { Project, Texts } from '../session/project.ts'
import type { Work } from './site.worker.ts'

/** A worker that has a site open; opened anew when the texts are others. */
export class Asker {
  readonly #work: Remote<Work> = wrap<Work>(
    new Worker(new URL('./site.worker.ts', import.meta.url), { type: 'module' }),
  )
  #texts: Texts | undefined
  #opening: Promise<void> = Promise.resolve()

  /** The worker's answers about these texts. */
  async about(project: Project, texts: Texts): Promise<Remote<Work>> {
    if (this.#texts !== texts) {
      this.#texts = texts
      this.#opening = this.#work.open({ file: project.file, binary: project.binary }, texts)
    }
    await this.#opening
    return this.#work
  }
}

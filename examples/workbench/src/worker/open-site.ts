import type { Problem, ResolvedSite } from 'wembra'
import { SiteProject } from 'wembra/language'
import { ProjectFiles, type Project, type Texts } from '../session/project.ts'

export type Read = { readonly resolved: ResolvedSite } | { readonly problems: readonly Problem[] }

/** A project whose texts change: read as a whole once, and after that at the price of what is not as it was. */
export class OpenSite {
  readonly project: SiteProject
  readonly #files: ProjectFiles

  constructor(project: Pick<Project, 'file' | 'binary'>, texts: Texts) {
    this.#files = new ProjectFiles(project, texts)
    this.project = new SiteProject(project.file, this.#files.files)
  }

  /** These are the texts now; they are read when the site is asked for. */
  set texts(texts: Texts) {
    const changed = Object.keys(texts).filter((path) => texts[path] !== this.#files.texts[path])
    this.#files.texts = texts
    if (changed.length > 0) this.project.change(changed)
  }

  /** The site as these texts say it. */
  read(texts: Texts): Read {
    this.texts = texts
    const { problems, site } = this.project
    return problems.length === 0 && site ? { resolved: site } : { problems }
  }
}

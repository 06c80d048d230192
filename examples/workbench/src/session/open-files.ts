import { findSiteFile, type Project } from './project.ts'

const TEXT = /\.(ya?ml|json|ndjson|css|svg)$/i

/** Thrown for files among which there is no site. */
export class OpenError extends Error {}

/** Makes a project of files that were dropped or chosen; those of a folder keep their paths within it. */
export async function openFiles(files: readonly File[]): Promise<Project> {
  const texts: Record<string, string> = {}
  const binary: Record<string, Uint8Array> = {}
  for (const file of files) {
    const path = (file.webkitRelativePath || file.name).replace(/^[^/]+\/(?=.)/, (folder) =>
      file.webkitRelativePath ? '' : folder,
    )
    if (TEXT.test(path)) texts[path] = await file.text()
    else binary[path] = new Uint8Array(await file.arrayBuffer())
  }
  const file = findSiteFile(texts)
  if (file === undefined)
    throw new OpenError(
      `None of ${files.map((f) => f.name).join(', ')} is a site file: its name ends in .site.yaml or .site.json.`,
    )
  return { origin: 'files', file, texts, binary }
}

/** Offers a text as a download. */
export function download(name: string, content: string | Blob, type = 'text/plain'): void {
  const url = URL.createObjectURL(typeof content === 'string' ? new Blob([content], { type }) : content)
  const link = document.createElement('a')
  link.href = url
  link.download = name.slice(name.lastIndexOf('/') + 1)
  link.click()
  setTimeout(() => URL.revokeObjectURL(url), 10_000)
}

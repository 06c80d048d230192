import { findSiteFile, type Project, type Texts } from './project.ts'

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

/** Browsers with the File System Access API let a page write into files that were chosen for that. */
type Picker = (options: { readonly multiple: boolean }) => Promise<readonly FileSystemFileHandle[]>

const picker = (): Picker | undefined => (window as unknown as { showOpenFilePicker?: Picker }).showOpenFilePicker

export const canOpenHandles = (): boolean => picker() !== undefined

/** Asks for files that can be saved into; `undefined` when none was chosen. */
export async function openHandles(): Promise<Project | undefined> {
  const pick = picker()
  if (!pick) return undefined
  let handles: readonly FileSystemFileHandle[]
  try {
    handles = await pick({ multiple: true })
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') return undefined
    throw error
  }
  const project = await openFiles(await Promise.all(handles.map((handle) => handle.getFile())))
  return { ...project, origin: 'handles', handles: Object.fromEntries(handles.map((handle) => [handle.name, handle])) }
}

/**
 * Writes texts into the files they came from. A file is replaced when all of it was written, and not before.
 *
 * @returns The files that somebody else changed in the meantime, into which nothing was written; then none is.
 */
export async function saveToHandles(
  handles: Readonly<Record<string, FileSystemFileHandle>>,
  changed: Texts,
  saved: Texts,
): Promise<readonly string[]> {
  const others: string[] = []
  for (const path of Object.keys(changed)) {
    const there = await handles[path]?.getFile().then((file) => file.text())
    if (there !== saved[path]) others.push(path)
  }
  if (others.length > 0) return others
  for (const [path, text] of Object.entries(changed)) {
    const stream = await handles[path]?.createWritable()
    await stream?.write(text)
    await stream?.close()
  }
  return []
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

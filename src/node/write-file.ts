import { accessSync, constants, existsSync, mkdirSync } from 'node:fs'
import { dirname } from 'node:path'
import writeFileAtomic from 'write-file-atomic'

/** Writes a file whole or not at all. */
export const writeWhole = (path: string, content: string | Uint8Array): void =>
  writeFileAtomic.sync(path, typeof content === 'string' ? content : Buffer.from(content))

/** Writes several files, none of them where one may not be written. */
export function writeTogether(texts: ReadonlyMap<string, string | Uint8Array>): void {
  for (const path of texts.keys()) if (existsSync(path)) accessSync(path, constants.W_OK)
  for (const path of texts.keys()) mkdirSync(dirname(path), { recursive: true })
  for (const [path, text] of texts) writeWhole(path, text)
}

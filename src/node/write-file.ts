import writeFileAtomic from 'write-file-atomic'

/** Writes a file whole or not at all. */
export const writeWhole = (path: string, content: string | Uint8Array): void =>
  writeFileAtomic.sync(path, typeof content === 'string' ? content : Buffer.from(content))

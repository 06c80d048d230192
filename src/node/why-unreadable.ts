const REASONS: Readonly<Record<string, string>> = {
  ENOENT: 'there is no such file',
  ENOTDIR: 'there is no such file',
  EACCES: 'permission denied',
  EPERM: 'permission denied',
  EISDIR: 'it is a folder',
  EMFILE: 'too many files are open',
}

/** Why a file cannot be read, in words: from what Node throws. */
export function whyUnreadable(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException
  return REASONS[code ?? ''] ?? message
}

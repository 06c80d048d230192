import { dirname } from 'node:path'
import { isFolder } from '../node/is-folder.js'
import type { ExitCode, Io } from './io.js'

/** Files that a site may be made of. */
const PARTS = /\.(ya?ml|json|ndjson|css|svg|png|jpe?g|gif|webp|ttf|otf|woff2?)$/i
const IGNORED = /(^|[/\\])(node_modules|\.git|dist)([/\\]|$)/
/** Editors write a file in several steps; so long must nothing have changed. */
const QUIET_MS = 80

/**
 * Runs a check now, and again whenever a file in the folders of the sites changes, until Ctrl+C.
 *
 * @returns The exit code of the last check.
 */
export async function watchSites(sites: readonly string[], io: Io, run: () => Promise<ExitCode>): Promise<ExitCode> {
  const { watch } = await import('chokidar')
  const folders = sites.map((site) => (isFolder(site) ? site : dirname(site)))
  const watcher = watch([...new Set(folders)], {
    ignoreInitial: true,
    ignored: (path, stats) => IGNORED.test(path) || (stats?.isFile() === true && !PARTS.test(path)),
  })
  const waiting = (): void => {
    io.looked?.()
    io.err('watching for changes; Ctrl+C ends\n')
  }
  let code = await run()
  let timer: NodeJS.Timeout | undefined
  let isRunning = false
  watcher.on('all', (_event, path) => {
    clearTimeout(timer)
    timer = setTimeout(() => void again(path), QUIET_MS)
  })
  const again = async (path: string): Promise<void> => {
    // A change during a check is checked once that is done.
    if (isRunning) return void (timer = setTimeout(() => void again(path), QUIET_MS))
    isRunning = true
    io.out(`\n${io.colors.dim(`${path} changed`)}\n\n`)
    code = await run().finally(() => (isRunning = false))
    waiting()
  }
  await new Promise<void>((ready) => watcher.once('ready', ready))
  waiting()
  await new Promise<void>((end) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => end())
  })
  clearTimeout(timer)
  await watcher.close()
  return code
}

import { build, preview } from 'vite'

const configFile = new URL('../examples/workbench/vite.config.ts', import.meta.url).pathname

/** Builds the workbench. */
export const buildWorkbench = () => build({ configFile, logLevel: 'warn' })

/** Serves the built workbench on a free local port; `close` ends it. */
export async function serveWorkbench() {
  const server = await preview({
    configFile,
    logLevel: 'warn',
    preview: { host: '127.0.0.1', port: 4173, strictPort: false },
  })
  const address = server.resolvedUrls?.local[0]
  if (!address) throw new Error('the workbench is served, but has no address')
  return { address, close: () => new Promise((resolve) => void server.httpServer.close(resolve)) }
}

if (process.argv[1] === new URL(import.meta.url).pathname) await buildWorkbench()

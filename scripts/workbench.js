import { build, preview } from 'vite'

const configOf = (app) => new URL(`../examples/${app}/vite.config.ts`, import.meta.url).pathname

/** Builds one of the example apps. */
export const buildApp = (app) => build({ configFile: configOf(app), logLevel: 'error' })

/** Serves a built app on a free local port; `close` ends it. */
export async function serveApp(app) {
  const server = await preview({
    configFile: configOf(app),
    logLevel: 'warn',
    preview: { host: '127.0.0.1', port: 4173, strictPort: false },
  })
  const address = server.resolvedUrls?.local[0]
  if (!address) throw new Error(`the ${app} is served, but has no address`)
  return { address, close: () => new Promise((resolve) => void server.httpServer.close(resolve)) }
}

export const buildWorkbench = () => buildApp('workbench')
export const serveWorkbench = () => serveApp('workbench')

if (process.argv[1] === new URL(import.meta.url).pathname) for (const app of ['workbench', 'embed']) await buildApp(app)

import { fileURLToPath } from 'node:url'
import type { PluginOption, UserConfig } from 'vite'

/**
 * How an example app is served and built: with the library as it was built here.
 *
 * @param parts The names under which the app's scripts and workers import the library.
 */
export function appConfig(folder: string, parts: string[], plugins: PluginOption[] = []): UserConfig {
  const at = (path: string): string => fileURLToPath(new URL(path, import.meta.url))
  return {
    root: at(folder),
    base: './',
    plugins,
    optimizeDeps: {
      // What only a worker imports is not found from the page, and would be prepared once the app already runs.
      entries: ['index.html', 'src/**/*.worker.ts'],
      // A browser would ask for each of the library's modules; as for any dependency they are put into few. At each
      // start, since the library may have been built again meanwhile.
      include: parts,
      force: true,
    },
    build: { outDir: at(`${folder}/dist`), emptyOutDir: true, chunkSizeWarningLimit: 2000 },
    server: { fs: { allow: [at('..')] } },
  }
}

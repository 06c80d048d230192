import { fileURLToPath } from 'node:url'
import type { PluginOption, UserConfig } from 'vite'

/** How an example app is served and built: with the library as it was built here, under the names that users import. */
export function appConfig(folder: string, plugins: PluginOption[] = []): UserConfig {
  const at = (path: string): string => fileURLToPath(new URL(path, import.meta.url))
  return {
    root: at(folder),
    base: './',
    plugins,
    resolve: {
      alias: {
        'wembra/fonts': at('../dist/packaged/fonts.js'),
        'wembra/language': at('../dist/language/index.js'),
        'wembra/reality': at('../dist/reality/index.js'),
        'wembra/report': at('../dist/draw/index.js'),
        wembra: at('../dist/index.js'),
      },
    },
    // What only a worker imports is not found from the page, and would be prepared once the app already runs.
    optimizeDeps: { entries: ['index.html', 'src/**/*.worker.ts'] },
    build: { outDir: at(`${folder}/dist`), emptyOutDir: true, chunkSizeWarningLimit: 2000 },
    server: { fs: { allow: [at('..')] } },
  }
}

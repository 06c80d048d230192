import react from '@vitejs/plugin-react'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url))

export default defineConfig({
  root: here('.'),
  base: './',
  plugins: [react()],
  resolve: {
    alias: {
      'wembra/fonts': here('../../dist/fonts/index.js'),
      'wembra/reality': here('../../dist/reality/index.js'),
      'wembra/report': here('../../dist/draw/index.js'),
      wembra: here('../../dist/index.js'),
    },
  },
  build: { outDir: here('dist'), emptyOutDir: true, chunkSizeWarningLimit: 2000 },
  server: { fs: { allow: [here('../..')] } },
})

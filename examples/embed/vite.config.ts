import { defineConfig } from 'vite'
import { appConfig } from '../app-config.ts'

export default defineConfig(appConfig('embed', ['wembra', 'wembra/report']))

import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'
import { appConfig } from '../app-config.ts'

const parts = ['wembra', 'wembra/fonts', 'wembra/language', 'wembra/report']

export default defineConfig(appConfig('workbench', parts, [react()]))

import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'
import { appConfig } from '../app-config.ts'

export default defineConfig(appConfig('workbench', [react()]))

import './component-styles.css'
import './app.css'
import { createTheme, MantineProvider } from '@mantine/core'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { App } from './App.tsx'

const theme = createTheme({
  primaryColor: 'indigo',
  primaryShade: { light: 8, dark: 7 },
  fontFamily: '"Source Sans 3", "Segoe UI", system-ui, sans-serif',
  headings: { fontWeight: '650' },
  defaultRadius: 'sm',
  respectReducedMotion: true,
})

const root = document.getElementById('root')
if (root)
  createRoot(root).render(
    <StrictMode>
      <MantineProvider theme={theme} defaultColorScheme="auto">
        <App />
      </MantineProvider>
    </StrictMode>,
  )

import '@fontsource-variable/hanken-grotesk'
import './theme/base.css'
import { CssBaseline, ThemeProvider } from '@mui/material'
import { QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { makeClient } from './api/make-client.ts'
import { Registered } from './Registered.tsx'
import { router } from './routes.tsx'
import { theme } from './theme/theme.ts'
import { loadAllLater } from './ui/later.tsx'
import { Saving } from './ui/Saving.tsx'
import { Toasts } from './ui/Toasts.tsx'

const client = makeClient()

for (const event of ['pointermove', 'keydown', 'touchstart'])
  window.addEventListener(event, () => void loadAllLater(), { once: true, passive: true })

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <ThemeProvider theme={theme} defaultMode="system">
      <CssBaseline />
      <QueryClientProvider client={client}>
        <Registered>{router}</Registered>
        <Toasts />
        <Saving />
      </QueryClientProvider>
    </ThemeProvider>
  </StrictMode>,
)

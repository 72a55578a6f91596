import '@fontsource-variable/hanken-grotesk'
import './theme/base.css'
import { CssBaseline, ThemeProvider } from '@mui/material'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { Registered } from './Registered.tsx'
import { router } from './routes.tsx'
import { theme } from './theme/theme.ts'
import { loadAllLater } from './ui/later.tsx'
import { Toasts } from './ui/Toasts.tsx'

const client = new QueryClient({
  defaultOptions: { queries: { retry: 1, staleTime: 5_000, placeholderData: (before: unknown) => before } },
})

for (const event of ['pointermove', 'keydown', 'touchstart'])
  window.addEventListener(event, () => void loadAllLater(), { once: true, passive: true })

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <ThemeProvider theme={theme} defaultMode="system">
      <CssBaseline />
      <QueryClientProvider client={client}>
        <Registered>{router}</Registered>
        <Toasts />
      </QueryClientProvider>
    </ThemeProvider>
  </StrictMode>,
)

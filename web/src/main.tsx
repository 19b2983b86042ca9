import './styles.css';
import './theme.ts';
import { ApiProblem } from '@basitax/api/client';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { Tooltip } from 'radix-ui';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { Toaster } from 'sonner';
import { z } from 'zod';
import { App } from './app.tsx';

// the page's content policy forbids making code from text, which Zod would try
z.config({ jitless: true });

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      retry: (count, error) => count < 2 && !(error instanceof ApiProblem && error.status >= 400),
    },
  },
});

createRoot(document.getElementById('root') as HTMLElement).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <Tooltip.Provider delayDuration={300}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
        <Toaster
          position="bottom-center"
          offset={{ bottom: 64 }}
          toastOptions={{
            // its own colours are for a white page
            classNames: { description: '!text-soft' },
            cancelButtonStyle: { background: 'var(--accent-wash)', color: 'var(--ink)' },
            actionButtonStyle: { background: 'var(--accent)', color: 'var(--on-accent)' },
            style: {
              background: 'var(--panel)',
              color: 'var(--ink)',
              border: '1px solid var(--edge)',
              borderRadius: 3,
              fontFamily: 'inherit',
            },
          }}
        />
      </Tooltip.Provider>
    </QueryClientProvider>
  </StrictMode>,
);

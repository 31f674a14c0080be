import './mantine.css';
import './fonts.css';
import './style.css';
import { MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router';
import { ApiError } from './api/call.ts';
import { router } from './router.tsx';
import { WithSession } from './shell/session.tsx';
import { resolver, theme } from './theme.ts';

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      // A refusal says the same the second time; a broken line may not.
      retry: (count, error) => !(error instanceof ApiError && error.status >= 400) && count < 2,
    },
  },
});

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <MantineProvider theme={theme} cssVariablesResolver={resolver} defaultColorScheme="auto">
      <QueryClientProvider client={queries}>
        <WithSession>
          <RouterProvider router={router} />
        </WithSession>
      </QueryClientProvider>
    </MantineProvider>
  </StrictMode>,
);

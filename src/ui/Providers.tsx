'use client';
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter';
import { ThemeProvider } from '@mui/material/styles';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useLayoutEffect, useState, type ReactNode } from 'react';
import { DeletionsProvider } from './Deletions';
import type {} from './early-presses';
import { JobStream } from './JobStream';
import { theme } from './theme';

/** What every screen stands on: the theme and the cache of answers. */
export function Providers({ children }: { children: ReactNode }) {
  const [client] = useState(
    () =>
      new QueryClient({
        // What came with the page is not asked for again at once.
        defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false, staleTime: 2_000 } },
      }),
  );
  // With the drawing, not after it: a press that is on its way meanwhile is heard, and is not to be pressed again.
  useLayoutEffect(() => window.earlyPresses?.works(), []);
  return (
    <AppRouterCacheProvider>
      <ThemeProvider theme={theme}>
        <QueryClientProvider client={client}>
          <JobStream />
          <DeletionsProvider>{children}</DeletionsProvider>
        </QueryClientProvider>
      </ThemeProvider>
    </AppRouterCacheProvider>
  );
}

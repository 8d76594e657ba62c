import { MantineProvider } from '@mantine/core';
import { Notifications } from '@mantine/notifications';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { theme } from '../../styles/theme';
import { NuqsAdapter } from 'nuqs/adapters/react';
import { ApiError } from './api';
import { useKeptFocus } from './use-kept-focus';

/** What every island stands in: theme, notices, and one store of what the server said. */
export function App({ children }: { children: ReactNode }) {
  const [client] = useState(
    () =>
      new QueryClient({
        defaultOptions: {
          queries: {
            refetchOnWindowFocus: false,
            staleTime: 1_000,
            retry: (count, error) => count < 2 && !(error instanceof ApiError && error.status >= 400),
          },
        },
      }),
  );
  useKeptFocus();
  return (
    <MantineProvider theme={theme} defaultColorScheme="auto" withCssVariables={false} withGlobalClasses={false}>
      <QueryClientProvider client={client}>
        <Notifications position="bottom-left" limit={3} />
        <NuqsAdapter>{children}</NuqsAdapter>
      </QueryClientProvider>
    </MantineProvider>
  );
}

import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { QueryClientProvider } from '@tanstack/react-query';
import { RouterProvider } from 'react-router';
import { queryClient } from '../api/queries';
import { theme } from '../theme';
import { router } from './router';

/** Style sheets without the prefixes of old browsers, none of which runs these pages. */
const styles = createCache({ key: 'css', stylisPlugins: [] });

/** The application with everything that its pages stand in. */
export function App() {
  return (
    <CacheProvider value={styles}>
      <ThemeProvider theme={theme} defaultMode="system" disableTransitionOnChange noSsr>
        <CssBaseline />
        <QueryClientProvider client={queryClient}>
          <RouterProvider router={router} />
        </QueryClientProvider>
      </ThemeProvider>
    </CacheProvider>
  );
}

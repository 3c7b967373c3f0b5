import { QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { RouterProvider } from '@tanstack/react-router';
import { StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { pauseBefore, Problem } from './api/client';
import { sessionQuery } from './api/queries';
import { stands } from './api/stands';
import { watchAim } from './primitives/aimed';
import { makeRouter } from './router';
import './styles.css';

// Radix puts one style element of its own into the page; it takes the nonce from here.
(window as unknown as { __webpack_nonce__: string }).__webpack_nonce__ =
  document.querySelector<HTMLMetaElement>('meta[name=nonce]')?.content ?? '';

const queries: QueryClient = new QueryClient({
  queryCache: new QueryCache({
    onError: (error) => {
      // A session that has ended leads back to sign-in; what was typed waits in the outbox.
      if (!(error instanceof Problem)) return;
      if (error.status === 401) stands(queries, sessionQuery.queryKey, null);
      if (error.rule === 'two-steps') void queries.invalidateQueries({ queryKey: sessionQuery.queryKey });
    },
  }),
  defaultOptions: {
    queries: {
      retry: (count, error) => count < 4 && (!(error instanceof Problem) || error.again),
      retryDelay: (count, error) => 1000 * pauseBefore(count, error),
    },
  },
});

watchAim();
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <Suspense fallback={null}>
        <RouterProvider router={makeRouter(queries)} />
      </Suspense>
    </QueryClientProvider>
  </StrictMode>,
);

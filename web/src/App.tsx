import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useEffect } from 'react';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { Access } from './access/Access.tsx';
import { Bench } from './bench/Bench.tsx';
import { Broken } from './frame/Broken.tsx';
import { Paces } from './configuration/Paces.tsx';
import { Places } from './configuration/Places.tsx';
import { PlacePage } from './place/PlacePage.tsx';
import { Review } from './configuration/Review.tsx';
import { Versions } from './configuration/Versions.tsx';
import { Failure } from './controls/States.tsx';
import { Completeness } from './completeness/Completeness.tsx';
import { Coverage } from './coverage/Coverage.tsx';
import { Desk } from './desk/Desk.tsx';
import { Doubts } from './doubts/Doubts.tsx';
import { Files } from './files/Files.tsx';
import { Frame } from './frame/Frame.tsx';
import { loadedAhead } from './frame/loadedAhead.tsx';
import { Links } from './links/Links.tsx';
import { Logbook } from './logbook/Logbook.tsx';
import { CallFailed } from './server/calls.ts';
import { useSession } from './server/queries.ts';
import { Rehearsal } from './rehearsal/Rehearsal.tsx';
import { SignIn } from './signin/SignIn.tsx';
import { Sources } from './sources/Sources.tsx';
import { Registers } from './sources/registers/Registers.tsx';
import { Take } from './sources/take/Take.tsx';
import { Stores } from './stores/Stores.tsx';
import { Tags } from './tags/Tags.tsx';

// The chart library is most of the code: only Traces waits for it.
const traces = loadedAhead(() => import('./traces/Traces.tsx').then(({ Traces }) => Traces));

// It draws with the same library.
const keeping = loadedAhead(() => import('./keeping/Keeping.tsx').then(({ Keeping }) => Keeping));

const sheet = loadedAhead(() => import('./sheet/Sheet.tsx').then(({ Sheet }) => Sheet));

/** Loaded ahead once the browser has nothing else to do, so that nobody waits for it at all. */
function loadAhead(): void {
  for (const { loadAhead } of [traces, keeping, sheet])
    if ('requestIdleCallback' in globalThis) requestIdleCallback(loadAhead);
    else setTimeout(loadAhead, 2000);
}

const client = new QueryClient({
  defaultOptions: {
    queries: {
      // What the server understood and refused stays refused; what did not get through is tried again.
      retry: (failures, error) => error instanceof CallFailed && error.status >= 500 && failures < 2,
      refetchOnWindowFocus: false,
      gcTime: 60_000,
    },
  },
});
client.getQueryCache().subscribe(({ type, query }) => {
  const error: unknown = query.state.error;
  if (
    type === 'updated' &&
    error instanceof CallFailed &&
    error.status === 401 &&
    (query.queryKey as readonly unknown[])[0] !== 'session'
  ) {
    void client.invalidateQueries({ queryKey: ['session'] });
  }
});

const router = createBrowserRouter([
  {
    element: <Frame />,
    children: [
      {
        // A screen that fails leaves the frame standing.
        errorElement: <Broken />,
        children: [
          { path: '/', element: <Desk /> },
          { path: '/sources', element: <Sources /> },
          { path: '/take', element: <Take /> },
          { path: '/registers', element: <Registers /> },
          { path: '/tags', element: <Tags /> },
          { path: '/sheet', element: <sheet.Screen /> },
          { path: '/coverage', element: <Coverage /> },
          { path: '/completeness', element: <Completeness /> },
          { path: '/doubts', element: <Doubts /> },
          { path: '/rehearsal', element: <Rehearsal /> },
          { path: '/keeping', element: <keeping.Screen /> },
          {
            path: '/traces',
            element: <traces.Screen />,
          },
          { path: '/stores', element: <Stores /> },
          { path: '/links', element: <Links /> },
          { path: '/files', element: <Files /> },
          { path: '/draft', element: <Review /> },
          { path: '/logbook', element: <Logbook /> },
          { path: '/access', element: <Access /> },
          { path: '/versions', element: <Versions /> },
          { path: '/paces', element: <Paces /> },
          { path: '/places', element: <Places /> },
          { path: '/place', element: <PlacePage /> },
          { path: '/bench', element: <Bench /> },
          {
            path: '*',
            element: <p className="p-6">There is no screen at this address. The rail on the left has them all.</p>,
          },
        ],
      },
    ],
  },
]);

function Door() {
  const { data: session, error, isPending } = useSession();
  const isIn = session !== undefined && !error;
  useEffect(() => {
    if (isIn) loadAhead();
  }, [isIn]);
  if (isIn) return <RouterProvider router={router} />;
  if (isPending) return <div className="h-full" aria-busy="true" />;
  if (error instanceof CallFailed && error.status === 401) return <SignIn />;
  return <main className="p-6">{error && <Failure error={error} />}</main>;
}

export function App() {
  return (
    <QueryClientProvider client={client}>
      <Door />
    </QueryClientProvider>
  );
}

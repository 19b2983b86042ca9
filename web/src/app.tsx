import { useQuery } from '@tanstack/react-query';
import type { ComponentType, ReactNode } from 'react';
import { Link, Navigate, Route, Routes, useLocation } from 'react-router';
import { openEarly } from './api/opening.ts';
import { usePerson } from './api/person.ts';
import { Button, Notice } from './ui/controls.tsx';

const loadFiles = () => import('./screens/files.tsx');
const loadSignIn = () => import('./screens/sign-in.tsx');
const loadWelcome = () => import('./screens/welcome.tsx');
const loadEditor = () => import('./screens/editor.tsx');
const loadCatalogue = () => import('./screens/catalogue.tsx');
const loadBatchReport = () => import('./screens/batch-report.tsx');
const loadKeptReports = () => import('./screens/kept-reports.tsx');
const loadBatches = () => import('./screens/batches.tsx');
const loadBatchRun = () => import('./screens/batch-run.tsx');
const loadMap = () => import('./screens/map.tsx');
const loadTeam = () => import('./screens/team.tsx');
const loadRules = () => import('./screens/rules.tsx');
const loadRule = () => import('./screens/rule.tsx');
const loadHealth = () => import('./screens/health.tsx');
const loadTokens = () => import('./screens/tokens.tsx');
const loadShortcuts = () => import('./screens/shortcuts.tsx');

// what will be shown is asked for at once, not when all before it has come; a file too
if (location.pathname.startsWith('/files/')) {
  openEarly(location.pathname);
  void loadEditor();
} else if (location.pathname === '/' || location.pathname === '/files') void loadFiles();

/** What stands at which address, for those who have signed in. */
const screens: readonly { readonly path: string; readonly screen: ReactNode }[] = [
  { path: '/files', screen: <Screen name="files" load={loadFiles} /> },
  { path: '/files/:id', screen: <Screen name="editor" load={loadEditor} /> },
  { path: '/files/:id/revisions/:number', screen: <Screen name="editor" load={loadEditor} /> },
  { path: '/shortcuts', screen: <Screen name="shortcuts" load={loadShortcuts} /> },
  { path: '/tokens', screen: <Screen name="tokens" load={loadTokens} /> },
  { path: '/rules', screen: <Screen name="rules" load={loadRules} /> },
  { path: '/rules/:id', screen: <Screen name="rule" load={loadRule} /> },
  { path: '/health', screen: <Screen name="health" load={loadHealth} /> },
  { path: '/team', screen: <Screen name="team" load={loadTeam} /> },
  { path: '/map', screen: <Screen name="map" load={loadMap} /> },
  { path: '/batches', screen: <Screen name="batches" load={loadBatches} /> },
  { path: '/batches/:id', screen: <Screen name="batch-run" load={loadBatchRun} /> },
  { path: '/batches/:id/report', screen: <Screen name="batch-report" load={loadBatchReport} /> },
  { path: '/reports', screen: <Screen name="kept-reports" load={loadKeptReports} /> },
  { path: '/reports/:id', screen: <Screen name="kept-reports" load={loadKeptReports} /> },
  { path: '/catalogue', screen: <Screen name="catalogue" load={loadCatalogue} /> },
];

export function App(): ReactNode {
  return (
    <Routes>
      <Route path="/sign-in" element={<Screen name="sign-in" load={loadSignIn} />} />
      <Route path="/welcome" element={<Screen name="welcome" load={loadWelcome} />} />
      <Route path="/" element={<Navigate to="/files" replace />} />
      {screens.map(({ path, screen }) => (
        <Route key={path} path={path} element={<SignedIn>{screen}</SignedIn>} />
      ))}
      <Route
        path="*"
        element={
          <Notice title="There is nothing at this address.">
            <Link className="underline" to="/files">
              Go to the files
            </Link>
          </Notice>
        }
      />
    </Routes>
  );
}

/** Asks for a sign-in first, and comes back to the address that was asked for. */
function SignedIn({ children }: { children: ReactNode }): ReactNode {
  const person = usePerson();
  const location = useLocation();
  if (person.isPending) return <Notice title="Loading …" />;
  if (person.isError) {
    return (
      <Notice title={person.error.message} alert>
        <Button onClick={() => void person.refetch()}>Try again</Button>
      </Notice>
    );
  }
  if (!person.data) return <Navigate to="/sign-in" state={{ from: location.pathname + location.search }} replace />;
  return children;
}

/**
 * A screen whose code comes when it is wanted. React's own way shows what waits for at least 0.3 s, however soon the
 * code is there.
 */
function Screen({ name, load }: { name: string; load: () => Promise<{ default: ComponentType }> }): ReactNode {
  const code = useQuery({
    queryKey: ['screen', name],
    queryFn: load,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: Number.POSITIVE_INFINITY,
  });
  if (code.isPending) return <Notice title="Loading …" />;
  if (code.isError) {
    return (
      <Notice
        title="This screen could not be loaded. Check that the server runs and that you are connected, and try again."
        alert
      >
        <Button onClick={() => void code.refetch()}>Try again</Button>
      </Notice>
    );
  }
  const { default: Loaded } = code.data;
  return <Loaded />;
}

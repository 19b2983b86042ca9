import { useQuery } from '@tanstack/react-query';
import { lazy, type ReactNode, Suspense } from 'react';
import { Link, Navigate, Route, Routes, useLocation } from 'react-router';
import { api } from './api/client.ts';
import { openEarly } from './api/opening.ts';
import { FilesScreen } from './screens/files.tsx';
import { SignInScreen } from './screens/sign-in.tsx';
import { Button, Notice } from './ui/controls.tsx';

const loadEditor = () => import('./screens/editor.tsx');
const EditorScreen = lazy(loadEditor);
const ShortcutsScreen = lazy(() => import('./screens/shortcuts.tsx'));

// a file is asked for at once, not when all that shows it has come
if (location.pathname.startsWith('/files')) {
  openEarly(location.pathname);
  void loadEditor();
}

export function usePerson() {
  return useQuery({ queryKey: ['person'], queryFn: api.whoAmI, staleTime: 60_000 });
}

export function App(): ReactNode {
  return (
    <Routes>
      <Route path="/sign-in" element={<SignInScreen />} />
      <Route path="/" element={<Navigate to="/files" replace />} />
      <Route
        path="/files"
        element={
          <SignedIn>
            <FilesScreen />
          </SignedIn>
        }
      />
      <Route
        path="/files/:id"
        element={
          <SignedIn>
            <EditorScreen />
          </SignedIn>
        }
      />
      <Route
        path="/files/:id/revisions/:number"
        element={
          <SignedIn>
            <EditorScreen />
          </SignedIn>
        }
      />
      <Route
        path="/shortcuts"
        element={
          <SignedIn>
            <ShortcutsScreen />
          </SignedIn>
        }
      />
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
  return <Suspense fallback={<Notice title="Loading …" />}>{children}</Suspense>;
}

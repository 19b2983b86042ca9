import type { ReactNode } from 'react';
import { ShortcutsTable } from '../editor/shortcuts/shortcuts-table.tsx';
import { BackLink, TopLine } from '../ui/top-line.tsx';

/** The same table as in the editor, as a page of its own. */
export default function ShortcutsScreen(): ReactNode {
  return (
    <div className="flex h-full flex-col">
      <TopLine>
        <BackLink to="/files">Files</BackLink>
        <h1 className="font-bold">Shortcuts</h1>
      </TopLine>
      <main className="mx-auto flex min-h-0 w-full max-w-4xl flex-1 flex-col gap-2 p-4">
        <p className="text-sm text-soft">
          Only yours, on every computer where you sign in. They work while the graph has the focus, not while you type.
        </p>
        <ShortcutsTable />
      </main>
    </div>
  );
}

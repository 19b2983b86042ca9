import type { SharedKind } from '@basitax/api/catalogues';
import { useQuery } from '@tanstack/react-query';
import { formatDistanceToNow } from 'date-fns';
import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { api } from '../api/client.ts';
import { lacksRole, usePerson } from '../api/person.ts';
import { Button, Notice } from '../ui/controls.tsx';
import { FileRun } from './file-run.tsx';

/** Shared kinds: their versions, who uses which, and a way to bring all uses to the newest. */
export function SharedTable(): ReactNode {
  const shared = useQuery({ queryKey: ['shared-kinds'], queryFn: api.sharedKinds });
  if (shared.isPending) return <Notice title="Loading …" />;
  if (shared.isError)
    return (
      <Notice title={shared.error.message} alert>
        <Button onClick={() => void shared.refetch()}>Try again</Button>
      </Notice>
    );
  const names = [...new Set(shared.data.map((one) => one.name))];
  if (names.length === 0)
    return (
      <Notice title="No shared kinds yet.">
        Select a nested graph in a file and publish it. It is then listed here, and every file can use it.
      </Notice>
    );
  return (
    <section aria-label="Shared kinds" className="flex flex-col gap-4">
      {names.map((name) => (
        <SharedRow key={name} versions={shared.data.filter((one) => one.name === name)} />
      ))}
    </section>
  );
}

function SharedRow({ versions }: { versions: readonly SharedKind[] }): ReactNode {
  const [newest] = versions as [SharedKind];
  const person = usePerson().data;
  const [isUpdating, setUpdating] = useState(false);
  const ids = versions.map((one) => one.kind.id);
  const uses = useQuery({ queryKey: ['kind-uses', ids], queryFn: () => api.kindUses(ids) });
  const behind = (uses.data ?? []).filter((file) => Object.keys(file.counts).some((kind) => kind !== newest.kind.id));
  return (
    <article aria-label={newest.kind.title} className="rounded border border-line bg-panel p-3">
      <header className="flex items-center gap-2">
        <h2 className="font-bold">{newest.kind.title}</h2>
        <code className="font-mono text-xs text-soft">{newest.name}</code>
        <span className="ml-auto text-xs text-soft">
          {newest.kind.ports
            .map((port) => `${port.direction === 'in' ? '→' : ''}${port.name}${port.direction === 'out' ? '→' : ''}`)
            .join('  ')}
        </span>
      </header>
      <ul className="my-2 text-sm">
        {versions.map((one) => (
          <li key={one.version} className="grid grid-cols-[5rem_1fr_auto] gap-2 border-t border-line py-1">
            <span>Version {one.version}</span>
            <span className="truncate">{one.message}</span>
            <span className="text-xs text-soft">
              {one.author}, {formatDistanceToNow(new Date(one.createdAt), { addSuffix: true })}, from{' '}
              <Link className="underline" to={`/files/${one.fileId}`}>
                its file
              </Link>
            </span>
          </li>
        ))}
      </ul>
      <div className="flex items-center gap-3 text-sm">
        <span>
          {uses.isPending
            ? 'Looking for uses …'
            : uses.isError
              ? uses.error.message
              : uses.data.length === 0
                ? 'No file uses it.'
                : `Used in ${uses.data.map((file) => file.title).join(', ')}${behind.length > 0 ? `; ${behind.length} behind the newest` : ''}.`}
        </span>
        <Button
          className="ml-auto"
          dim={lacksRole(person, 'editor') ?? (behind.length === 0 ? 'Every use has the newest version.' : undefined)}
          onClick={() => setUpdating(true)}
        >
          Update the uses …
        </Button>
      </div>
      {isUpdating && (
        <FileRun
          title={`Update “${newest.kind.title}” to version ${newest.version}`}
          operation="update-shared"
          options={{ name: newest.name }}
          message={`Updated the shared kind ${newest.name} to version ${newest.version}`}
          files={behind.map(({ file, title }) => ({ file, title }))}
          onClose={() => {
            setUpdating(false);
            void uses.refetch();
          }}
        />
      )}
    </article>
  );
}

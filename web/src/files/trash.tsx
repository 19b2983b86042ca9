import type { Person } from '@basitax/api/people';
import type { Trashed } from '@basitax/api/shelf';
import { plural } from '@basitax/core/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { formatDistanceToNow } from 'date-fns';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { lacksRole } from '../api/person.ts';
import { teamApi } from '../api/team.ts';
import { Button, Dialog, Notice } from '../ui/controls.tsx';
import { RowMenu } from '../ui/menus.tsx';

/** What was thrown away: to be restored by editors, or removed for ever by leads. */
export function TrashList({ person }: { person: Person | null | undefined }): ReactNode {
  const trash = useQuery({ queryKey: ['trash'], queryFn: teamApi.trash, staleTime: 0 });
  const queries = useQueryClient();
  const [asked, setAsked] = useState<Trashed>();
  const refresh = async (): Promise<void> => {
    await Promise.all(['trash', 'files', 'projects'].map((key) => queries.invalidateQueries({ queryKey: [key] })));
  };
  const act = async (what: () => Promise<unknown>, said: string): Promise<void> => {
    try {
      await what();
      toast.success(said);
    } catch (error) {
      toast.error('That was not done', { description: (error as Error).message });
    }
    await refresh();
  };
  if (trash.isPending) return <Notice title="Looking into the trash …" />;
  if (trash.isError)
    return (
      <Notice title={trash.error.message} alert>
        <Button onClick={() => void trash.refetch()}>Try again</Button>
      </Notice>
    );
  if (trash.data.length === 0)
    return <Notice title="The trash is empty.">Deleted files stay here until a lead removes them for good.</Notice>;
  return (
    <>
      <ul aria-label="In the trash" className="flex max-w-4xl flex-col">
        {trash.data.map((file) => (
          <RowMenu
            key={file.id}
            heading={file.title}
            groups={[
              [
                {
                  id: 'restore',
                  title: 'Restore',
                  dim: lacksRole(person, 'editor'),
                  run: () => void act(() => teamApi.takeBack(file.id), `“${file.title}” is back where it was.`),
                },
                {
                  id: 'remove',
                  title: 'Remove for good …',
                  dim: lacksRole(person, 'lead'),
                  run: () => setAsked(file),
                },
              ],
            ]}
          >
            <li className="flex items-center gap-4 border-b border-line py-2 text-sm">
              <span className="min-w-0 flex-1">
                <b className="block truncate">{file.title}</b>
                <span className="text-xs text-soft">
                  {plural(file.head.measures.nodes, 'node')}, {plural(file.head.number, 'revision')} · {file.trashedBy},{' '}
                  {formatDistanceToNow(new Date(file.trashedAt), { addSuffix: true })}
                </span>
              </span>
              <Button
                dim={lacksRole(person, 'editor')}
                aria-label={`Restore ${file.title}`}
                onClick={() => void act(() => teamApi.takeBack(file.id), `“${file.title}” is back where it was.`)}
              >
                Restore
              </Button>
              <Button
                dim={lacksRole(person, 'lead')}
                aria-label={`Remove ${file.title} for good`}
                onClick={() => setAsked(file)}
              >
                Remove for good …
              </Button>
            </li>
          </RowMenu>
        ))}
      </ul>
      {asked && (
        <Dialog
          open
          onClose={() => setAsked(undefined)}
          title={`Remove “${asked.title}” for good?`}
          about={`All ${plural(asked.head.number, 'revision')} go. Only a backup can bring them back.`}
        >
          <div className="flex justify-end gap-2">
            <Button onClick={() => setAsked(undefined)}>Keep it</Button>
            <Button
              look="primary"
              onClick={() => {
                setAsked(undefined);
                void act(() => teamApi.removeForEver(asked.id), `“${asked.title}” is gone.`);
              }}
            >
              Remove for good
            </Button>
          </div>
        </Dialog>
      )}
    </>
  );
}

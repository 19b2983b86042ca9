import type { BatchRun } from '@basitax/api/batches';
import { plural } from '@basitax/core/words';
import { useQuery } from '@tanstack/react-query';
import { format } from 'date-fns';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { api } from '../api/client.ts';
import { Notice } from '../ui/controls.tsx';

/** How the files of a run differ from the run that it repeats. */
export function BeforeView({ run, onChoose }: { run: BatchRun; onChoose: (file: string) => void }): ReactNode {
  const compared = useQuery({
    queryKey: ['batch-before', run.id, run.phase, JSON.stringify(run.counts)],
    queryFn: () => api.batchBefore(run.id),
  });
  if (compared.isPending) return <Notice title="Comparing the runs …" />;
  if (compared.isError) return <Notice title={compared.error.message} alert />;
  const { run: before, same, files } = compared.data;
  if (!before) return <Notice title="The previous run has been removed." />;
  return (
    <section aria-label="Since the previous run" className="min-h-0 flex-1 overflow-auto">
      <p className="border-b border-line px-4 py-2 text-sm">
        Since{' '}
        <Link className="underline" to={`/batches/${before.id}`}>
          “{before.title}” of {format(new Date(before.createdAt), 'd MMMM, HH:mm')}
        </Link>
        :{' '}
        {files.length === 0 ? 'no file has a different result' : `${plural(files.length, 'file')} came out differently`}
        , {plural(same, 'file')} as before.
      </p>
      {files.length > 0 && (
        <table className="w-full text-left text-sm">
          <thead className="text-xs text-soft">
            <tr>
              {['File', 'What is different'].map((title) => (
                <th key={title} scope="col" className="px-4 py-1 font-normal">
                  {title}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {files.map(({ file, title, said, is }) => (
              <tr key={file} className="border-t border-line">
                <td className="px-4 py-1.5 font-bold">
                  {is ? (
                    <button type="button" className="text-left hover:underline" onClick={() => onChoose(file)}>
                      {title}
                    </button>
                  ) : (
                    title
                  )}
                </td>
                <td className="px-4">{said.join('; ')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

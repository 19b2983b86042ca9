import type { Catalogue } from '@basitax/core/document/catalogue';
import { plural } from '@basitax/core/words';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../api/client.ts';
import { Button, Dialog, Notice } from '../ui/controls.tsx';
import { FileRun } from './file-run.tsx';

/**
 * What a changed catalogue changes, and which files that touches, before it is stored; afterwards a way to read files
 * with it.
 */
export function ReportDialog({
  base,
  draft,
  onClose,
}: {
  base: Catalogue;
  draft: Catalogue;
  onClose: () => void;
}): ReactNode {
  const report = useQuery({
    queryKey: ['catalogue-report', draft],
    queryFn: () => api.catalogueReport(draft),
    gcTime: 0,
  });
  const queries = useQueryClient();
  const [stored, setStored] = useState<{ id: string; version: number }>();
  const store = useMutation({
    mutationFn: () => api.changeCatalogue(draft, base.version),
    onSuccess: (made) => {
      setStored(made);
      toast.success(`Version ${made.version} is stored.`);
    },
    onError: (error) => toast.error('The catalogue was not stored', { description: error.message, duration: 8000 }),
  });
  const close = (): void => {
    onClose();
    if (stored) void queries.invalidateQueries({ queryKey: ['catalogues'] });
  };
  const files = report.data?.files ?? [];
  if (stored && files.length > 0)
    return (
      <FileRun
        title={`Read files with version ${stored.version}`}
        operation="read-with"
        options={stored}
        message={`Read with version ${stored.version} of the catalogue`}
        files={files.map(({ file, title }) => ({ file, title }))}
        onClose={close}
      />
    );
  return (
    <Dialog
      open
      onClose={close}
      size="wide"
      title={stored ? `Version ${stored.version} is stored` : 'What the change affects'}
      about="Files stay with the version that they are pinned to, until they are read with the new one."
    >
      {report.isPending ? (
        <Notice title="Comparing …" />
      ) : report.isError ? (
        <Notice title={report.error.message} alert />
      ) : (
        <div className="flex min-h-0 flex-col gap-3 overflow-auto text-sm">
          <ul aria-label="Changes" className="flex flex-col">
            {report.data.changes.map((change) => (
              <li key={change.sentence} className="grid grid-cols-[6rem_1fr] gap-2 border-t border-line py-1">
                <span className={change.breaking ? 'font-bold text-warn' : 'text-soft'}>
                  {change.breaking ? 'may break' : 'harmless'}
                </span>
                {change.sentence}
              </li>
            ))}
            {report.data.changes.length === 0 && <li className="text-soft">Nothing is changed.</li>}
          </ul>
          <h3 className="font-bold">{plural(files.length, 'file uses', 'files use')} what is changed</h3>
          <ul aria-label="Files touched">
            {files.map((file) => (
              <li key={file.file} className="grid grid-cols-[14rem_1fr] gap-2 border-t border-line py-1">
                <span className="truncate">{file.title}</span>
                <span className="text-soft">
                  {Object.entries(file.counts)
                    .map(([kind, count]) => `${count} × ${base.kinds.find((one) => one.id === kind)?.title ?? kind}`)
                    .join(', ')}
                </span>
              </li>
            ))}
          </ul>
        </div>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={close}>{stored ? 'Close' : 'Keep editing'}</Button>
        {!stored && (
          <Button
            look="primary"
            dim={
              store.isPending
                ? 'It is being stored.'
                : report.data && report.data.changes.length > 0
                  ? undefined
                  : 'Nothing is changed.'
            }
            onClick={() => store.mutate()}
          >
            Store as version {base.version + 1}
          </Button>
        )}
      </div>
    </Dialog>
  );
}

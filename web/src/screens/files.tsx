import { formats } from '@basitax/core/formats/formats';
import { plural } from '@basitax/core/operation';
import { type FileInfo, mayAct } from '@basitax/server/api';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { formatDistanceToNow } from 'date-fns';
import { FileUp } from 'lucide-react';
import { type DragEvent, type ReactNode, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api } from '../api/client.ts';
import { usePerson } from '../app.tsx';
import { useTheme } from '../theme.ts';
import { Button, Dialog, FileButton, Notice } from '../ui/controls.tsx';
import { TopLine } from '../ui/top-line.tsx';

const endings = formats.flatMap((format) => format.extensions);

export function FilesScreen(): ReactNode {
  const files = useQuery({ queryKey: ['files'], queryFn: api.files });
  const person = usePerson().data;
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [over, setOver] = useState(false);
  const mayUpload = person ? mayAct(person.role, 'editor') : false;
  const upload = useMutation({ mutationFn: api.upload, onSuccess: () => void queries.invalidateQueries({ queryKey: ['files'] }) });
  const dragOver = (event: DragEvent): void => {
    event.preventDefault();
    setOver(mayUpload);
  };
  const drop = (event: DragEvent): void => {
    event.preventDefault();
    setOver(false);
    const file = event.dataTransfer.files[0];
    if (file && mayUpload) upload.mutate(file);
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping a file anywhere is a second way; the button is the first
    <div className="flex h-full flex-col" onDragOver={dragOver} onDragLeave={(event) => event.currentTarget === event.target && setOver(false)} onDrop={drop}>
      <TopLine
        actions={
          <FileButton
            accept={endings.join(',')}
            label="Choose a graph file"
            onFile={(file) => upload.mutate(file)}
            look="primary"
            title={`Reads ${endings.join(', ')}; a file dropped here does the same`}
            dim={mayUpload ? undefined : 'It takes the role editor'}
          >
            <FileUp size={16} />
            {upload.isPending ? 'Reading …' : 'Upload a graph'}
          </FileButton>
        }
      >
        <img src="/icon.svg" alt="" className="size-7" />
        <h1 className="font-bold">Basitax</h1>
        <span className="text-soft">Team files</span>
        <Link to="/catalogue" className="rounded-sm px-1.5 py-1 underline decoration-line underline-offset-2 hover:bg-accent-wash">
          Catalogue
        </Link>
        <Link to="/map" className="rounded-sm px-1.5 py-1 underline decoration-line underline-offset-2 hover:bg-accent-wash">
          Map
        </Link>
        <Link to="/batches" className="rounded-sm px-1.5 py-1 underline decoration-line underline-offset-2 hover:bg-accent-wash">
          Batch runs
        </Link>
      </TopLine>
      <main className={`flex-1 overflow-auto p-5 ${over ? 'bg-accent-wash' : ''}`}>
        {files.isPending ? (
          <Notice title="Loading the files …" />
        ) : files.isError ? (
          <Notice title={files.error.message} alert>
            <Button onClick={() => void files.refetch()}>Try again</Button>
          </Notice>
        ) : files.data.length === 0 ? (
          <Notice title="The team has no files yet.">{mayUpload ? `Upload one, or drop it here: ${endings.join(', ')}.` : 'An editor can upload one.'}</Notice>
        ) : (
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(268px,1fr))] gap-4">
            {files.data.map((file) => (
              <FileCard key={file.id} file={file} />
            ))}
          </ul>
        )}
      </main>
      <Dialog open={upload.isError} onClose={() => upload.reset()} title="The file was not read" about={upload.error?.message ?? ''}>
        <p className="text-sm">Nothing was stored.</p>
        <Button look="primary" onClick={() => upload.reset()}>
          Close
        </Button>
      </Dialog>
      <Dialog
        open={upload.isSuccess}
        onClose={() => upload.reset()}
        title={`“${upload.data?.file.title ?? ''}” is in`}
        about={upload.data?.findings.length ? 'What was found while reading it:' : 'It was read without a finding.'}
        size="wide"
      >
        {upload.data && upload.data.findings.length > 0 && (
          <ul className="list-disc overflow-auto pl-5 text-sm">
            {upload.data.findings.map((item, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: the list never changes
              <li key={i}>{item.message}</li>
            ))}
          </ul>
        )}
        <Button look="primary" onClick={() => navigate(`/files/${upload.data?.file.id}`)}>
          Open it
        </Button>
      </Dialog>
    </div>
  );
}

function FileCard({ file }: { file: FileInfo }): ReactNode {
  const theme = useTheme((state) => state.theme);
  const { measures } = file.head;
  return (
    <li>
      <Link
        to={`/files/${file.id}`}
        className="group flex flex-col overflow-hidden rounded border border-line bg-panel hover:border-accent"
        aria-label={`${file.title}, ${measures.nodes} nodes`}
      >
        <img src={api.thumbnailAddress(file.id, file.head.number, theme)} alt="" loading="lazy" className="aspect-video w-full border-b border-line bg-ground" />
        <div className="flex flex-col gap-1 p-3">
          <span className="truncate font-bold group-hover:underline">{file.title}</span>
          <span className="text-xs text-soft">
            {plural(measures.nodes, 'node')} · {plural(measures.wires, 'wire')} · {plural(measures.frames, 'frame')}
          </span>
          <span className="text-xs text-soft">
            {plural(measures.crossings, 'crossing')} · {plural(measures.overlaps, 'overlap')}
          </span>
          <span className="truncate text-xs text-soft">
            Revision {file.head.number}, {file.head.author}, {formatDistanceToNow(new Date(file.head.createdAt), { addSuffix: true })}
          </span>
        </div>
      </Link>
    </li>
  );
}

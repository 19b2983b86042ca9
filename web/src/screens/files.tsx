import type { FileInfo } from '@basitax/api/files';
import type { Project } from '@basitax/api/projects';
import { mayAct } from '@basitax/api/roles';
import { readEndings } from '@basitax/core/formats/endings';
import { plural } from '@basitax/core/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { FileUp } from 'lucide-react';
import { type DragEvent, type ReactNode, useDeferredValue, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { api, untilMeasured } from '../api/client.ts';
import { usePerson } from '../api/person.ts';
import { teamApi } from '../api/team.ts';
import { useWanted } from '../files/address.ts';
import { type Act, acts, FileCard } from '../files/file-card.tsx';
import { DuplicateDialog, MoveDialog, TagDialog, TrashDialog } from '../files/file-dialogs.tsx';
import { importMany } from '../files/import-many.ts';
import { ImportReport } from '../files/import-report.tsx';
import { listed, type Sort, sorts } from '../files/listing.ts';
import { ProjectDialog } from '../files/project-dialog.tsx';
import { FilesSide } from '../files/side.tsx';
import { TrashList } from '../files/trash.tsx';
import { Button, FileButton, Notice, Select, TextInput } from '../ui/controls.tsx';
import { TopLine } from '../ui/top-line.tsx';

const endings = readEndings;
const links = [
  ['/catalogue', 'Catalogue'],
  ['/rules', 'House rules'],
  ['/health', 'Health'],
  ['/map', 'Map'],
  ['/batches', 'Batch runs'],
] as const;

const none: readonly FileInfo[] = [];

/** The files of the team: where they lie, how they stand, and what can be done with many of them. */
export default function FilesScreen(): ReactNode {
  const files = useQuery({
    queryKey: ['files'],
    queryFn: api.files,
    // what was saved just now is measured after it
    refetchInterval: ({ state }) => untilMeasured(state.data?.map((file) => file.head)),
  });
  const projects = useQuery({ queryKey: ['projects'], queryFn: teamApi.projects });
  const person = usePerson().data;
  const queries = useQueryClient();
  const { wanted, want } = useWanted();
  const [over, setOver] = useState(false);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [acting, setActing] = useState<{ act: Act; files: readonly FileInfo[] }>();
  const [setting, setSetting] = useState<Project | 'new'>();
  const mayEdit = person ? mayAct(person.role, 'editor') : false;
  const dim = mayEdit ? undefined : 'It takes the role editor';
  const text = useDeferredValue(wanted.text);
  const { project, folder, sort } = wanted;
  const tagKey = wanted.tags.join();
  const all = files.data ?? none;
  const shown = useMemo(
    () => listed(all, { project, folder, text, sort, tags: tagKey === '' ? [] : tagKey.split(',') }),
    [all, project, folder, text, sort, tagKey],
  );
  const chosen = shown.filter((file) => selected.has(file.id));
  const refresh = async (): Promise<void> => {
    await Promise.all(['files', 'projects', 'trash'].map((key) => queries.invalidateQueries({ queryKey: [key] })));
  };
  const take = (some: readonly File[]): void =>
    void importMany(some, { project: project ?? 'team', folder }).then(refresh);
  const dragOver = (event: DragEvent): void => {
    event.preventDefault();
    setOver(mayEdit);
  };
  const drop = (event: DragEvent): void => {
    event.preventDefault();
    setOver(false);
    const some = [...event.dataTransfer.files];
    if (some.length > 0 && mayEdit) take(some);
  };
  const titles = useMemo(() => new Map((projects.data ?? []).map((one) => [one.id, one.title])), [projects.data]);
  const whereOf = (file: FileInfo): string | undefined => {
    const parts = [
      ...(project === undefined ? [titles.get(file.project) ?? ''] : []),
      ...(file.folder !== folder ? [file.folder] : []),
    ].filter(Boolean);
    return parts.length === 0 ? undefined : parts.join(' / ');
  };
  const close = (done: boolean): void => {
    setActing(undefined);
    if (!done) return;
    setSelected(new Set());
    void refresh();
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping files anywhere is a second way; the button is the first
    <div
      className="flex h-full flex-col"
      onDragOver={dragOver}
      onDragLeave={(event) => event.currentTarget === event.target && setOver(false)}
      onDrop={drop}
    >
      <TopLine
        actions={
          <FileButton
            accept={endings.join(',')}
            label="Choose graph files"
            onFiles={take}
            look="primary"
            title={`Reads ${endings.join(', ')}, as many at once as you like; files dropped here do the same. They go into the folder that is shown.`}
            dim={dim}
          >
            <FileUp size={16} />
            Import graphs
          </FileButton>
        }
      >
        <img src="/icon.svg" alt="" className="size-7" />
        <h1 className="font-bold">Basitax</h1>
        <span className="mr-1 text-soft">Team files</span>
        {links.map(([to, title]) => (
          <Link
            key={to}
            to={to}
            className="rounded-sm px-1.5 py-1 underline decoration-line underline-offset-2 hover:bg-accent-wash"
          >
            {title}
          </Link>
        ))}
      </TopLine>
      <div className="flex min-h-0 flex-1">
        <FilesSide files={all} projects={projects.data ?? []} person={person} onProject={setSetting} />
        <main className={`flex min-w-0 flex-1 flex-col ${over ? 'bg-accent-wash' : ''}`}>
          {!wanted.trash && (
            <div className="flex shrink-0 items-center gap-2 border-b border-line px-4 py-2 text-sm">
              <TextInput
                type="search"
                aria-label="Find files"
                placeholder="Find by title, folder, tag, author, message"
                className="w-80"
                value={wanted.text}
                onChange={(event) => want(() => ({ text: event.target.value }))}
              />
              <span className="flex items-center gap-1.5 text-soft">
                By
                <Select
                  aria-label="Order"
                  value={sort}
                  onChange={(event) => want(() => ({ sort: event.target.value as Sort }))}
                >
                  {Object.entries(sorts).map(([value, title]) => (
                    <option key={value} value={value}>
                      {title}
                    </option>
                  ))}
                </Select>
              </span>
              {chosen.length > 0 ? (
                <span
                  className="ml-auto flex items-center gap-1.5"
                  role="toolbar"
                  aria-label="What can be done with the selected files"
                >
                  <b className="mr-1 whitespace-nowrap">{plural(chosen.length, 'file')} selected</b>
                  {(Object.keys(acts) as Act[]).map((act) => (
                    <Button key={act} dim={dim} onClick={() => setActing({ act, files: chosen })}>
                      {acts[act].title}
                    </Button>
                  ))}
                  <Button look="quiet" onClick={() => setSelected(new Set())}>
                    Let go
                  </Button>
                </span>
              ) : (
                <span className="ml-auto flex items-center gap-2 text-soft" role="status">
                  {files.data &&
                    (shown.length === all.length
                      ? plural(all.length, 'file')
                      : `${shown.length.toLocaleString('en')} of ${plural(all.length, 'file')}`)}
                  {shown.length > 0 && (
                    <Button look="quiet" onClick={() => setSelected(new Set(shown.map((file) => file.id)))}>
                      Select all
                    </Button>
                  )}
                </span>
              )}
            </div>
          )}
          <div className="min-h-0 flex-1 overflow-auto p-4">
            {wanted.trash ? (
              <TrashList person={person} />
            ) : files.isPending ? (
              <Notice title="Loading the files …" />
            ) : files.isError ? (
              <Notice title={files.error.message} alert>
                <Button onClick={() => void files.refetch()}>Try again</Button>
              </Notice>
            ) : all.length === 0 ? (
              <Notice title="The team has no files yet.">
                {mayEdit ? `Import some, or drop them here: ${endings.join(', ')}.` : 'An editor can import some.'}
              </Notice>
            ) : shown.length === 0 ? (
              <Notice title="No file fits.">
                <Button onClick={() => want(() => ({ text: '', tags: [], project: undefined, folder: '' }))}>
                  Show all files
                </Button>
              </Notice>
            ) : (
              <ul aria-label="Files" className="grid grid-cols-[repeat(auto-fill,minmax(236px,1fr))] gap-3">
                {shown.map((file) => (
                  <FileCard
                    key={file.id}
                    file={file}
                    where={whereOf(file)}
                    selected={selected.has(file.id)}
                    onSelect={(on) =>
                      setSelected(new Set(on ? [...selected, file.id] : [...selected].filter((one) => one !== file.id)))
                    }
                    onAct={(act) => setActing({ act, files: [file] })}
                    dim={dim}
                  />
                ))}
              </ul>
            )}
          </div>
        </main>
      </div>
      <ImportReport />
      {setting && (
        <ProjectDialog
          project={setting}
          onClose={(changed) => {
            setSetting(undefined);
            if (changed) void refresh();
          }}
        />
      )}
      {acting?.act === 'duplicate' && <DuplicateDialog files={acting.files} onClose={close} />}
      {acting?.act === 'move' && (
        <MoveDialog files={acting.files} all={all} projects={projects.data ?? []} onClose={close} />
      )}
      {acting?.act === 'tag' && <TagDialog files={acting.files} all={all} onClose={close} />}
      {acting?.act === 'trash' && <TrashDialog files={acting.files} onClose={close} />}
    </div>
  );
}

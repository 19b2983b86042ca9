import type { FileInfo } from '@basitax/api/files';
import type { Project } from '@basitax/api/projects';
import { type UseQueryResult, useQuery, useQueryClient } from '@tanstack/react-query';
import { FileUp, FolderUp } from 'lucide-react';
import { lazy, type ReactNode, Suspense, useDeferredValue, useMemo, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, untilMeasured } from '../api/client.ts';
import { lacksRole, usePerson } from '../api/person.ts';
import { teamApi } from '../api/team.ts';
import { aimAt } from '../batch/aim.ts';
import { ActDialog, type Acting } from '../files/act-dialogs.tsx';
import { useWanted } from '../files/address.ts';
import { FileCard } from '../files/file-card.tsx';
import { FilesBar } from '../files/files-bar.tsx';
import { type Handed, importEndings } from '../files/gather.ts';
import { importMany } from '../files/import-many.ts';
import { ImportReport } from '../files/import-report.tsx';
import { listed } from '../files/listing.ts';
import { ProjectDialog } from '../files/project-dialog.tsx';
import { FilesSide } from '../files/side.tsx';
import { useAsking } from '../files/table-asking.ts';
import { TablesDialog } from '../files/tables-dialog.tsx';
import { TrashList } from '../files/trash.tsx';
import { useDrop } from '../files/use-drop.ts';
import { useSearch } from '../files/use-search.ts';
import { Button, FileButton, Notice } from '../ui/controls.tsx';
import { TopLine } from '../ui/top-line.tsx';

const links = [
  ['/catalogue', 'Catalogue'],
  ['/rules', 'House rules'],
  ['/health', 'Health'],
  ['/map', 'Map'],
  ['/batches', 'Batch runs'],
] as const;

const TablePlanDialog = lazy(() => import('../files/table-plan-dialog.tsx'));

const none: readonly FileInfo[] = [];
const noProjects: readonly Project[] = [];

const refreshed = ['files', 'projects', 'trash'];

/** All files and projects, those that are looked for, and how to ask for them anew. */
function useFiles() {
  const files = useQuery({
    queryKey: ['files'],
    queryFn: api.files,
    // what was saved just now is measured after it
    refetchInterval: ({ state }) => untilMeasured(state.data?.map((file) => file.head)),
  });
  const projects = useQuery({ queryKey: ['projects'], queryFn: teamApi.projects }).data ?? noProjects;
  const queries = useQueryClient();
  const { wanted } = useWanted();
  const text = useDeferredValue(wanted.text);
  const { project, folder, sort } = wanted;
  const tagKey = wanted.tags.join();
  const all = files.data ?? none;
  const search = useSearch(all, projects, text);
  const shown = useMemo(
    () => listed(all, { project, folder, sort, tags: tagKey === '' ? [] : tagKey.split(',') }, search.fits),
    [all, project, folder, search.fits, sort, tagKey],
  );
  const refresh = async (): Promise<void> => {
    await Promise.all(refreshed.map((key) => queries.invalidateQueries({ queryKey: [key] })));
  };
  return { files, projects, all, shown, search, refresh };
}

/** Where a file lies, as far as that is not what is shown anyway. */
function useWhere(projects: readonly Project[]): (file: FileInfo) => string | undefined {
  const { project, folder } = useWanted().wanted;
  const titles = useMemo(() => new Map(projects.map((one) => [one.id, one.title])), [projects]);
  return (file) => {
    const parts = [
      ...(project === undefined ? [titles.get(file.project) ?? ''] : []),
      ...(file.folder !== folder ? [file.folder] : []),
    ].filter(Boolean);
    return parts.length === 0 ? undefined : parts.join(' / ');
  };
}

/** The files of the team: where they lie, how they stand, and what can be done with many of them. */
export default function FilesScreen(): ReactNode {
  const isAsking = useAsking((state) => state.asked !== undefined);
  const { files, projects, all, shown, search, refresh } = useFiles();
  const navigate = useNavigate();
  const person = usePerson().data;
  const { wanted } = useWanted();
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [acting, setActing] = useState<Acting>();
  const [tabling, setTabling] = useState<readonly FileInfo[]>();
  const [setting, setSetting] = useState<Project | 'new'>();
  const dim = lacksRole(person, 'editor');
  const chosen = shown.filter((file) => selected.has(file.id));
  const whereOf = useWhere(projects);
  const take = (some: readonly Handed[]): void =>
    void importMany(some, { project: wanted.project ?? 'team', folder: wanted.folder }).then(refresh);
  const { over, handlers } = useDrop(dim === undefined, take);
  const close = (done: boolean): void => {
    setActing(undefined);
    if (!done) return;
    setSelected(new Set());
    void refresh();
  };
  return (
    <div className="flex h-full flex-col" {...handlers}>
      <FilesTop dim={dim} onFiles={take} />
      <div className="flex min-h-0 flex-1">
        <FilesSide files={all} projects={projects} person={person} onProject={setSetting} />
        <main className={`flex min-w-0 flex-1 flex-col ${over ? 'bg-accent-wash' : ''}`}>
          {!wanted.trash && (
            <FilesBar
              all={files.data?.length}
              shown={shown.length}
              chosen={chosen.length}
              search={search}
              onTable={() => setTabling(chosen.length > 0 ? chosen : shown)}
              onBatch={() => navigate('/batches', { state: aimAt(chosen.length > 0 ? chosen : shown) })}
              dim={dim}
              onAct={(act) => setActing({ act, files: chosen })}
              onSelect={(which) => setSelected(new Set(which === 'all' ? shown.map((file) => file.id) : []))}
            />
          )}
          <div className="min-h-0 flex-1 overflow-auto p-4">
            {wanted.trash ? (
              <TrashList person={person} />
            ) : shown.length === 0 ? (
              <NoFiles files={files} mayEdit={dim === undefined} />
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
      {isAsking && (
        <Suspense>
          <TablePlanDialog />
        </Suspense>
      )}
      {setting && (
        <ProjectDialog
          project={setting}
          onClose={(changed) => {
            setSetting(undefined);
            if (changed) void refresh();
          }}
        />
      )}
      {tabling && <TablesDialog files={tabling} onClose={() => setTabling(undefined)} />}
      {acting && <ActDialog acting={acting} all={all} projects={projects} onClose={close} />}
    </div>
  );
}

/** The line above all: where else to go, and where files come in. */
function FilesTop({
  dim,
  onFiles,
}: {
  dim: string | undefined;
  onFiles: (handed: readonly Handed[]) => void;
}): ReactNode {
  return (
    <TopLine
      actions={
        <>
          <FileButton
            accept=""
            folder
            label="Choose a folder of graphs"
            onFiles={(files) => onFiles(files.map((file) => ({ file, path: file.webkitRelativePath })))}
            title="Imports every graph in a folder and its subfolders. Files imported from there before get a new revision."
            dim={dim}
          >
            <FolderUp size={16} />
            Import a folder
          </FileButton>
          <FileButton
            accept={importEndings.join(',')}
            label="Choose graph files"
            onFiles={(files) => onFiles(files.map((file) => ({ file, path: '' })))}
            look="primary"
            title={`Reads ${importEndings.join(', ')}, any number at once. You can also drop files, folders and archives here. They go into the folder that is shown.`}
            dim={dim}
          >
            <FileUp size={16} />
            Import graphs
          </FileButton>
        </>
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
  );
}

/** What stands there where no file is shown, and why. */
function NoFiles({ files, mayEdit }: { files: UseQueryResult<FileInfo[]>; mayEdit: boolean }): ReactNode {
  const { want } = useWanted();
  if (files.isPending) return <Notice title="Loading the files …" />;
  if (files.isError)
    return (
      <Notice title={files.error.message} alert>
        <Button onClick={() => void files.refetch()}>Try again</Button>
      </Notice>
    );
  if (files.data.length === 0)
    return (
      <Notice title="The team has no files yet.">
        {mayEdit ? `Import some, or drop them here: ${importEndings.join(', ')}.` : 'An editor can import some.'}
      </Notice>
    );
  return (
    <Notice title="No file fits.">
      <Button onClick={() => want(() => ({ text: '', tags: [], project: undefined, folder: '' }))}>
        Show all files
      </Button>
    </Notice>
  );
}

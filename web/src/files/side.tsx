import type { FileInfo } from '@basitax/api/files';
import type { Person } from '@basitax/api/people';
import type { Project } from '@basitax/api/projects';
import { mayAct } from '@basitax/api/roles';
import { Folder as FolderIcon, Lock, Plus, Settings2, Trash2 } from 'lucide-react';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { Button } from '../ui/controls.tsx';
import { useWanted } from './address.ts';
import { foldersOf, tagsOf } from './listing.ts';

const row =
  'flex w-full items-center gap-1.5 rounded-sm px-2 py-1 text-left text-sm hover:bg-accent-wash aria-[current=true]:bg-accent-wash aria-[current=true]:font-bold';

/** Where files lie: projects with their folders, tags, the trash. */
export function FilesSide({
  files,
  projects,
  person,
  onProject,
}: {
  files: readonly FileInfo[];
  projects: readonly Project[];
  person: Person | null | undefined;
  onProject: (project: Project | 'new') => void;
}): ReactNode {
  const { wanted, want } = useWanted();
  const isLead = person ? mayAct(person.role, 'lead') : false;
  const place = (project: string | undefined, folder = ''): void => want(() => ({ project, folder, trash: false }));
  const isAt = (project: string | undefined, folder = ''): boolean =>
    !wanted.trash && wanted.project === project && wanted.folder === folder;
  const count = (number: number): ReactNode => (
    <span className="ml-auto pl-2 text-xs text-soft tabular-nums">{number.toLocaleString('en')}</span>
  );
  const toggle = (tag: string): void =>
    want(({ tags }) => ({
      tags: tags.includes(tag) ? tags.filter((one) => one !== tag) : [...tags, tag],
      trash: false,
    }));
  const tags = tagsOf(files);
  return (
    <nav
      aria-label="Where files lie"
      className="flex w-60 shrink-0 flex-col gap-4 overflow-auto border-r border-line bg-panel p-3"
    >
      <button type="button" className={row} aria-current={isAt(undefined)} onClick={() => place(undefined)}>
        All files {count(files.length)}
      </button>
      <section aria-label="Projects" className="flex flex-col gap-2">
        <h2 className="flex items-center justify-between px-2 text-xs text-soft">
          Projects
          {isLead && (
            <Button
              look="quiet"
              square
              className="h-6 w-6"
              aria-label="Make a project"
              title="Make a project"
              onClick={() => onProject('new')}
            >
              <Plus size={14} />
            </Button>
          )}
        </h2>
        <ul className="flex flex-col gap-1.5">
          {projects.map((project) => (
            <li key={project.id}>
              <span className="group flex items-center">
                <button
                  type="button"
                  className={`${row} min-w-0 flex-1`}
                  aria-current={isAt(project.id)}
                  title={project.about}
                  onClick={() => place(project.id)}
                >
                  <span className="truncate">{project.title}</span>
                  {!project.open && <Lock size={12} className="shrink-0 text-soft" aria-label="for its members" />}
                  {count(project.files)}
                </button>
                {isLead && (
                  <Button
                    look="quiet"
                    square
                    className="h-6 w-6 shrink-0 text-soft"
                    aria-label={`Set up ${project.title}`}
                    title={`Set up ${project.title}`}
                    onClick={() => onProject(project)}
                  >
                    <Settings2 size={13} />
                  </Button>
                )}
              </span>
              <ul>
                {foldersOf(files, project.id).map((folder) => (
                  <li key={folder.path} style={{ paddingLeft: `${folder.depth * 14}px` }}>
                    <button
                      type="button"
                      className={row}
                      aria-current={isAt(project.id, folder.path)}
                      onClick={() => place(project.id, folder.path)}
                    >
                      <FolderIcon size={13} className="shrink-0 text-soft" aria-hidden="true" />
                      <span className="truncate">{folder.name}</span>
                      {count(folder.count)}
                    </button>
                  </li>
                ))}
              </ul>
            </li>
          ))}
        </ul>
      </section>
      {tags.length > 0 && (
        <section aria-label="Tags" className="flex flex-col gap-1.5">
          <h2 className="px-2 text-xs text-soft">Tags</h2>
          <div className="flex flex-wrap gap-1 px-2">
            {tags.map(({ tag, count: number }) => (
              <button
                key={tag}
                type="button"
                aria-pressed={wanted.tags.includes(tag)}
                className="rounded-sm border border-line px-1.5 py-0.5 text-xs hover:bg-accent-wash aria-pressed:border-accent aria-pressed:bg-accent-wash aria-pressed:font-bold"
                onClick={() => toggle(tag)}
              >
                {tag} <span className="text-soft">{number}</span>
              </button>
            ))}
          </div>
        </section>
      )}
      <div className="mt-auto flex flex-col">
        <button
          type="button"
          className={row}
          aria-current={wanted.trash}
          onClick={() => want(() => ({ project: undefined, folder: '', tags: [], trash: true }))}
        >
          <Trash2 size={13} className="text-soft" aria-hidden="true" />
          Trash
        </button>
        <Link to="/team" className={row}>
          {isLead ? 'Team and record' : 'Your sessions'}
        </Link>
      </div>
    </nav>
  );
}

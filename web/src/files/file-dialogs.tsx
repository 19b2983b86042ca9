import type { FileInfo } from '@basitax/api/files';
import type { Project } from '@basitax/api/projects';
import { must } from '@basitax/core/must';
import { plural } from '@basitax/core/words';
import { type ReactNode, useId, useState } from 'react';
import { teamApi } from '../api/team.ts';
import { Problem } from '../ui/attempt.tsx';
import { Button, Dialog, Field, Select, TextInput } from '../ui/controls.tsx';
import { foldersOf, tagsOf } from './listing.ts';

/** Does something with files one after the other, and says at which one it ended. */
async function forEach(files: readonly FileInfo[], act: (file: FileInfo) => Promise<unknown>): Promise<void> {
  for (const file of files) {
    try {
      await act(file);
    } catch (error) {
      throw new Error(`“${file.title}”: ${(error as Error).message}`);
    }
  }
}

const those = (files: readonly FileInfo[]): string =>
  files.length === 1 ? `“${must(files[0]).title}”` : plural(files.length, 'file');

/** A dialog that does one thing and closes, or says why it could not. */
function ActDialog({
  title,
  about,
  button,
  dim,
  act,
  onClose,
  children,
}: {
  title: string;
  about: string;
  button: string;
  dim?: string | undefined;
  act: () => Promise<void>;
  onClose: (done: boolean) => void;
  children?: ReactNode;
}): ReactNode {
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string>();
  const submit = async (): Promise<void> => {
    setBusy(true);
    setProblem(undefined);
    try {
      await act();
      onClose(true);
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Dialog open onClose={() => onClose(false)} title={title} about={about}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (dim === undefined && !busy) void submit();
        }}
      >
        {children}
        <Problem text={problem} />
        <div className="flex justify-end gap-2">
          <Button onClick={() => onClose(false)}>Cancel</Button>
          <Button type="submit" look="primary" dim={dim ?? (busy ? 'Working …' : undefined)}>
            {button}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

interface OfFiles {
  readonly files: readonly FileInfo[];
  readonly onClose: (done: boolean) => void;
}

export function DuplicateDialog({ files, onClose }: OfFiles): ReactNode {
  const file = must(files[0]);
  const [title, setTitle] = useState(`${file.title}, copy`);
  const isOne = files.length === 1;
  return (
    <ActDialog
      title={`Duplicate ${those(files)}`}
      about={
        isOne
          ? 'A new file in the same folder, with the content that this one has now.'
          : 'Each becomes a new file in the same folder, titled “…, copy”.'
      }
      button="Duplicate"
      dim={isOne && title.trim() === '' ? 'Title it.' : undefined}
      act={() => forEach(files, (one) => teamApi.duplicate(one.id, isOne ? title.trim() : `${one.title}, copy`))}
      onClose={onClose}
    >
      {isOne && (
        <Field label="Title of the copy">
          <TextInput autoFocus value={title} maxLength={200} onChange={(event) => setTitle(event.target.value)} />
        </Field>
      )}
    </ActDialog>
  );
}

export function MoveDialog({
  files,
  onClose,
  all,
  projects,
}: OfFiles & { all: readonly FileInfo[]; projects: readonly Project[] }): ReactNode {
  const [project, setProject] = useState(must(files[0]).project);
  const [folder, setFolder] = useState(must(files[0]).folder);
  const list = useId();
  return (
    <ActDialog
      title={`Move ${those(files)}`}
      about="Revisions, tags and links are kept. The new project decides who can see the file."
      button="Move"
      act={() => forEach(files, (file) => teamApi.move(file.id, { project, folder: folder.trim() }))}
      onClose={onClose}
    >
      <Field label="Project">
        <Select value={project} onChange={(event) => setProject(event.target.value)}>
          {projects.map((one) => (
            <option key={one.id} value={one.id}>
              {one.title}
            </option>
          ))}
        </Select>
      </Field>
      <Field label="Folder" hint="names with / between; empty for the project itself">
        <TextInput value={folder} maxLength={300} list={list} onChange={(event) => setFolder(event.target.value)} />
      </Field>
      <datalist id={list}>
        {foldersOf(all, project).map((one) => (
          <option key={one.path} value={one.path} />
        ))}
      </datalist>
    </ActDialog>
  );
}

const tagsIn = (text: string): string[] =>
  text
    .split(',')
    .map((tag) => tag.trim())
    .filter(Boolean);

export function TagDialog({ files, onClose, all }: OfFiles & { all: readonly FileInfo[] }): ReactNode {
  const shared = must(files[0]).tags.filter((tag) => files.every((file) => file.tags.includes(tag)));
  const [text, setText] = useState(shared.join(', '));
  const wanted = tagsIn(text);
  // what only some of them have stays with those
  const tagged = (file: FileInfo): string[] => [...file.tags.filter((tag) => !shared.includes(tag)), ...wanted];
  const others = tagsOf(all).filter(({ tag }) => !wanted.includes(tag));
  return (
    <ActDialog
      title={`Tags of ${those(files)}`}
      about={
        files.length === 1
          ? 'Separated by commas.'
          : 'Tags that all selected files have, separated by commas. Tags that only some have are kept.'
      }
      button="Set tags"
      act={() => forEach(files, (file) => teamApi.tag(file.id, tagged(file)))}
      onClose={onClose}
    >
      <Field label="Tags">
        <TextInput autoFocus value={text} maxLength={500} onChange={(event) => setText(event.target.value)} />
      </Field>
      {others.length > 0 && (
        <p className="flex flex-wrap items-center gap-1 text-xs text-soft">
          In use:
          {others.map(({ tag }) => (
            <button
              key={tag}
              type="button"
              className="rounded-sm border border-line px-1.5 py-0.5 text-ink hover:bg-accent-wash"
              onClick={() => setText([...wanted, tag].join(', '))}
            >
              {tag}
            </button>
          ))}
        </p>
      )}
    </ActDialog>
  );
}

export function TrashDialog({ files, onClose }: OfFiles): ReactNode {
  return (
    <ActDialog
      title={`Put ${those(files)} into the trash?`}
      about="The file cannot be edited while it is in the trash. Any editor can restore it with all its revisions; only a lead can remove it for good."
      button="Put into the trash"
      act={() => forEach(files, (file) => teamApi.throwAway(file.id))}
      onClose={onClose}
    />
  );
}

import type { Project } from '@basitax/api/projects';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { teamApi } from '../api/team.ts';
import { Problem } from '../ui/attempt.tsx';
import { Button, Check, Dialog, Field, TextInput } from '../ui/controls.tsx';

/** Makes a project, or sets one up: what it is called, and who sees it. */
export function ProjectDialog({
  project,
  onClose,
}: {
  project: Project | 'new';
  onClose: (changed: boolean) => void;
}): ReactNode {
  const known = project === 'new' ? undefined : project;
  const [title, setTitle] = useState(known?.title ?? '');
  const [about, setAbout] = useState(known?.about ?? '');
  const [open, setOpen] = useState(known?.open ?? true);
  const [members, setMembers] = useState<readonly string[]>(known?.members ?? []);
  const [problem, setProblem] = useState<string>();
  const people = useQuery({ queryKey: ['people'], queryFn: teamApi.people });
  const act = async (what: () => Promise<unknown>): Promise<void> => {
    setProblem(undefined);
    try {
      await what();
      onClose(true);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const words = { title: title.trim(), about: about.trim(), open, members: [...members] };
  return (
    <Dialog
      open
      onClose={() => onClose(false)}
      title={known ? `Set up “${known.title}”` : 'Make a project'}
      about="The files of a project can be seen by the whole team, or only by its members and leads."
    >
      <form
        className="flex min-h-0 flex-col gap-3 overflow-auto"
        onSubmit={(event) => {
          event.preventDefault();
          if (title.trim() !== '')
            void act(() => (known ? teamApi.changeProject(known.id, words) : teamApi.makeProject(words)));
        }}
      >
        <Field label="Name">
          <TextInput autoFocus value={title} maxLength={200} onChange={(event) => setTitle(event.target.value)} />
        </Field>
        <Field label="What it is about">
          <TextInput value={about} maxLength={1000} onChange={(event) => setAbout(event.target.value)} />
        </Field>
        <Check label="Open to the whole team" checked={open} onChange={setOpen} />
        {!open && (
          <fieldset className="flex flex-col gap-1 rounded border border-line p-3">
            <legend className="px-1 text-xs text-soft">Members; leads see every project</legend>
            {people.isError && <p className="text-xs text-warn">{people.error.message}</p>}
            {people.data
              ?.filter((person) => person.role !== 'lead')
              .map((person) => (
                <Check
                  key={person.id}
                  label={
                    <>
                      {person.name} <span className="text-xs text-soft">{person.role}</span>
                    </>
                  }
                  checked={members.includes(person.id)}
                  onChange={(on) =>
                    setMembers(on ? [...members, person.id] : members.filter((one) => one !== person.id))
                  }
                />
              ))}
          </fieldset>
        )}
        {known && (
          <Link className="text-sm underline decoration-line underline-offset-2" to={`/rules?project=${known.id}`}>
            House rules of this project
          </Link>
        )}
        <Problem text={problem} />
        <div className="flex gap-2">
          {known && (
            <Button
              className="mr-auto"
              dim={known.files > 0 ? 'It contains files: move them first.' : undefined}
              onClick={() => void act(() => teamApi.removeProject(known.id))}
            >
              Remove
            </Button>
          )}
          <Button className={known ? '' : 'ml-auto'} onClick={() => onClose(false)}>
            Cancel
          </Button>
          <Button type="submit" look="primary" dim={title.trim() === '' ? 'Give it a name.' : undefined}>
            {known ? 'Set up' : 'Make'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

import { mayAct, type Role, roles } from '@basitax/api/roles';
import { must } from '@basitax/core/must';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../../api/client.ts';
import { usePerson } from '../../api/person.ts';
import { Problem, useAttempt } from '../../ui/attempt.tsx';
import { Button, Dialog, Field, TextInput } from '../../ui/controls.tsx';
import { setScript, useScript } from './script-state.ts';

/** Keeps the script in the library: as the next version of the one that it was taken from, or as a new one. */
export function SaveScriptDialog({ onClose }: { onClose: () => void }): ReactNode {
  const { item, source } = useScript();
  const person = must(usePerson().data);
  // an older version that was taken is kept on top of the newest
  const library = useQuery({ queryKey: ['library', 'script'], queryFn: () => api.library('script') });
  const newest = library.data?.find((one) => one.id === item?.id)?.version ?? item?.version ?? 0;
  const mayChange = item !== undefined && mayAct(person.role, item.changeRole);
  const [asNew, setAsNew] = useState(!mayChange);
  const [title, setTitle] = useState(item?.title ?? '');
  const [about, setAbout] = useState(item?.about ?? '');
  const [runRole, setRunRole] = useState<Role>(item?.runRole ?? 'viewer');
  const [changeRole, setChangeRole] = useState<Role>(mayChange ? item.changeRole : 'editor');
  const [message, setMessage] = useState('');
  const { problem, attempt } = useAttempt();
  const queries = useQueryClient();
  const keep = (): Promise<void> =>
    attempt(async () => {
      const wanted = { title, about, runRole, changeRole, content: source, message };
      const kept =
        asNew || !item
          ? await api.makeLibraryItem({ type: 'script', ...wanted })
          : await api.changeLibraryItem(item.id, newest, wanted);
      setScript({ item: kept, taken: source, options: kept.options });
      await queries.invalidateQueries({ queryKey: ['library'] });
      await queries.invalidateQueries({ queryKey: ['library-versions', kept.id] });
      toast(`“${kept.title}” is in the library, version ${kept.version}.`);
      onClose();
    });
  return (
    <Dialog
      open
      onClose={onClose}
      title="Keep in the library"
      about="A version never changes. Who may run it finds it in the menu of scripts, with a form made from its options."
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void keep();
        }}
      >
        {mayChange && (
          <label className="flex items-center gap-2 text-sm">
            <input
              type="checkbox"
              className="size-4 accent-accent"
              checked={asNew}
              onChange={(event) => setAsNew(event.target.checked)}
            />
            As a new script, not as version {newest + 1} of “{item.title}”
          </label>
        )}
        <Field label="Title">
          <TextInput value={title} required maxLength={200} onChange={(event) => setTitle(event.target.value)} />
        </Field>
        <Field label="What it does" hint="one sentence">
          <TextInput value={about} maxLength={1000} onChange={(event) => setAbout(event.target.value)} />
        </Field>
        <div className="flex gap-4">
          <RoleField label="May run it" value={runRole} onChange={setRunRole} />
          <RoleField label="May change it" value={changeRole} onChange={setChangeRole} />
        </div>
        <Field label="What is new">
          <TextInput value={message} maxLength={500} onChange={(event) => setMessage(event.target.value)} />
        </Field>
        <Problem text={problem} />
        <Button type="submit" look="primary" dim={title.trim() === '' ? 'Title it.' : undefined}>
          {asNew || !item ? 'Keep as a new script' : `Keep as version ${newest + 1}`}
        </Button>
      </form>
    </Dialog>
  );
}

/** The least role of all. */
function RoleField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: Role;
  onChange: (role: Role) => void;
}): ReactNode {
  return (
    <Field label={label}>
      <select
        className="h-8 rounded-sm border border-line bg-ticket px-1.5 text-sm"
        value={value}
        onChange={(event) => onChange(event.target.value as Role)}
      >
        {roles.map((role) => (
          <option key={role} value={role}>
            {role === 'lead' ? 'leads' : `${role}s and above`}
          </option>
        ))}
      </select>
    </Field>
  );
}

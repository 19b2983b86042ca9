import type { OpenSession } from '@basitax/api/people';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { format, formatDistanceToNow } from 'date-fns';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { teamApi } from '../api/team.ts';
import { Button, Check, Dialog, Field, Notice, TextInput } from '../ui/controls.tsx';
import { browserName } from './browser-name.ts';

/** Open sessions, one's own or everybody's, each to be ended. */
export function Sessions({ isLead }: { isLead: boolean }): ReactNode {
  const [all, setAll] = useState(false);
  const [changing, setChanging] = useState(false);
  const sessions = useQuery({
    queryKey: ['sessions', all],
    queryFn: () => teamApi.sessions(all),
    staleTime: 0,
    placeholderData: (last) => last,
  });
  const queries = useQueryClient();
  const end = async (session: OpenSession): Promise<void> => {
    try {
      await teamApi.endSession(session.id);
      toast.success(`A session of ${session.person} has ended.`);
    } catch (error) {
      toast.error('It was not ended', { description: (error as Error).message });
    }
    await queries.invalidateQueries({ queryKey: [session.own ? 'person' : 'sessions'] });
  };
  return (
    <section aria-label="Sessions" className="flex flex-col gap-3">
      <div className="flex items-center gap-4">
        <h2 className="text-base font-bold">Sessions</h2>
        {isLead && <Check label="Of the whole team" checked={all} onChange={setAll} />}
        <Button className="ml-auto" onClick={() => setChanging(true)}>
          Change your password …
        </Button>
      </div>
      {sessions.isPending ? (
        <Notice title="Loading the sessions …" />
      ) : sessions.isError ? (
        <Notice title={sessions.error.message} alert />
      ) : (
        <ul aria-label="Open sessions" className="flex flex-col">
          {sessions.data.map((one) => (
            <li key={one.id} className="flex items-center gap-4 border-t border-line py-1.5 text-sm">
              <b className="w-40 truncate">{one.person}</b>
              <span className="min-w-0 flex-1 truncate" title={one.browser}>
                {browserName(one.browser)} <span className="text-soft">from {one.address || 'an unknown address'}</span>
              </span>
              <span className="text-soft" title={`Signed in ${format(new Date(one.createdAt), 'd MMM yyyy, HH:mm')}`}>
                {one.own ? 'this one' : `last active ${formatDistanceToNow(new Date(one.seenAt), { addSuffix: true })}`}
              </span>
              <Button
                className="h-7"
                aria-label={`End the session of ${one.person}, ${browserName(one.browser)}`}
                onClick={() => void end(one)}
              >
                {one.own ? 'Sign out here' : 'End'}
              </Button>
            </li>
          ))}
        </ul>
      )}
      {changing && <PasswordDialog onClose={() => setChanging(false)} />}
    </section>
  );
}

function PasswordDialog({ onClose }: { onClose: () => void }): ReactNode {
  const [old, setOld] = useState('');
  const [next, setNext] = useState('');
  const [problem, setProblem] = useState<string>();
  const queries = useQueryClient();
  const change = async (): Promise<void> => {
    try {
      await teamApi.changePassword(old, next);
      toast.success('Your password is changed. All your other sessions and your personal tokens have ended.');
      void queries.invalidateQueries({ queryKey: ['sessions'] });
      onClose();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title="Change your password"
      about="All your other sessions and your personal tokens end."
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (next.length >= 12) void change();
        }}
      >
        <Field label="The old one">
          <TextInput
            type="password"
            autoComplete="current-password"
            autoFocus
            value={old}
            onChange={(event) => setOld(event.target.value)}
          />
        </Field>
        <Field label="The new one" hint="twelve characters or more" problem={problem}>
          <TextInput
            type="password"
            autoComplete="new-password"
            value={next}
            onChange={(event) => setNext(event.target.value)}
          />
        </Field>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button
            type="submit"
            look="primary"
            dim={next.length < 12 ? 'It takes twelve characters or more.' : undefined}
          >
            Change
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

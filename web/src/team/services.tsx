import type { Member } from '@basitax/api/people';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Bot } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { api } from '../api/client.ts';
import { teamApi } from '../api/team.ts';
import { Problem, tellFailure, useAttempt } from '../ui/attempt.tsx';
import { Button, Dialog, Field, Select, TextInput } from '../ui/controls.tsx';
import { MakeToken, TokenList } from './make-token.tsx';

/** Accounts for programs: they have tokens, and nobody signs in with them. */
export function Services({
  services,
  onRemove,
  onChanged,
}: {
  services: readonly Member[];
  onRemove: (service: Member) => void;
  onChanged: () => void;
}): ReactNode {
  const [making, setMaking] = useState(false);
  const [shown, setShown] = useState<Member>();
  return (
    <section aria-label="Accounts for programs" className="flex flex-col gap-3 pt-4">
      <div className="flex items-center gap-3">
        <h2 className="text-base font-bold">Accounts for programs</h2>
        <Button onClick={() => setMaking(true)}>
          <Bot size={15} />
          Add an account
        </Button>
        <span className="text-sm text-soft">For pipelines: they sign in with tokens and have no password.</span>
      </div>
      {services.length === 0 ? (
        <p className="text-sm text-soft">No accounts for programs yet.</p>
      ) : (
        <ul className="flex flex-col">
          {services.map((one) => (
            <li key={one.id} className="flex items-center gap-4 border-b border-line py-1.5 text-sm">
              <span className="min-w-0 flex-1 truncate font-bold">{one.name}</span>
              <span>{one.role}</span>
              <Button className="h-7" onClick={() => setShown(one)}>
                Tokens …
              </Button>
              <Button className="h-7" aria-label={`Remove ${one.name}`} onClick={() => onRemove(one)}>
                Remove …
              </Button>
            </li>
          ))}
        </ul>
      )}
      {making && (
        <MakeDialog
          onClose={() => {
            setMaking(false);
            onChanged();
          }}
        />
      )}
      {shown && <TokensDialog service={shown} onClose={() => setShown(undefined)} />}
    </section>
  );
}

function MakeDialog({ onClose }: { onClose: () => void }): ReactNode {
  const [name, setName] = useState('');
  const [role, setRole] = useState<'viewer' | 'editor'>('editor');
  const { problem, attempt } = useAttempt();
  const make = (): Promise<void> =>
    attempt(async () => {
      await teamApi.makeService({ name, role });
      onClose();
    });
  return (
    <Dialog
      open
      onClose={onClose}
      title="Add an account for programs"
      about="Its revisions show its name and the name of the token."
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void make();
        }}
      >
        <Field label="Name">
          <TextInput value={name} maxLength={60} required onChange={(event) => setName(event.target.value)} />
        </Field>
        <Field label="Role">
          <Select value={role} onChange={(event) => setRole(event.target.value as 'viewer' | 'editor')}>
            <option value="viewer">viewer: looks, saves nothing</option>
            <option value="editor">editor: changes files, runs batches</option>
          </Select>
        </Field>
        <Problem text={problem} />
        <Button type="submit" look="primary" className="self-end" dim={name.trim() === '' ? 'Name it.' : undefined}>
          Add the account
        </Button>
      </form>
    </Dialog>
  );
}

function TokensDialog({ service, onClose }: { service: Member; onClose: () => void }): ReactNode {
  const queries = useQueryClient();
  const tokens = useQuery({ queryKey: ['tokens', service.id], queryFn: () => api.tokens(service.id) });
  const refresh = () => queries.invalidateQueries({ queryKey: ['tokens', service.id] });
  const remove = (id: string): void =>
    void api.removeToken(id).then(refresh).catch(tellFailure('The token could not be revoked'));
  return (
    <Dialog
      open
      onClose={onClose}
      size="wide"
      title={`Tokens of ${service.name}`}
      about="A program signs in with one of them."
    >
      <MakeToken service={service} onMade={refresh} />
      {tokens.data?.length === 0 && <p className="text-sm text-soft">No tokens yet.</p>}
      {tokens.data && tokens.data.length > 0 && <TokenList tokens={tokens.data} onRemove={remove} />}
    </Dialog>
  );
}

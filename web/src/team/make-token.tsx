import type { Member } from '@basitax/api/people';
import { mayAct, type Role, roles } from '@basitax/api/roles';
import type { Token } from '@basitax/api/tokens';
import { useQuery } from '@tanstack/react-query';
import { format, formatDistanceToNow } from 'date-fns';
import { Copy } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { api } from '../api/client.ts';
import { usePerson } from '../api/person.ts';
import { teamApi } from '../api/team.ts';
import { Problem, useAttempt } from '../ui/attempt.tsx';
import { Button, Check, Field, TextInput } from '../ui/controls.tsx';
import { copyText } from '../ui/copy.ts';

/** Tokens that there are, with what each may do. */
export function TokenList({
  tokens,
  onRemove,
}: {
  tokens: readonly Token[];
  onRemove: (id: string) => void;
}): ReactNode {
  const projects = useQuery({ queryKey: ['projects'], queryFn: teamApi.projects }).data;
  const titleOf = (id: string): string => projects?.find((one) => one.id === id)?.title ?? 'a project that is gone';
  return (
    <ul aria-label="Tokens" className="flex flex-col">
      {tokens.map((token) => (
        <li key={token.id} className="flex items-center gap-4 border-b border-line py-2 text-sm">
          <span className="min-w-0 flex-1">
            <span className="block truncate font-bold">{token.title}</span>
            {token.projects && (
              <span className="block truncate text-xs text-soft">Only {token.projects.map(titleOf).join(', ')}</span>
            )}
          </span>
          <span>{token.role}</span>
          <span className="text-soft">until {format(new Date(token.expiresAt), 'd MMM yyyy')}</span>
          <span className="text-soft">
            {token.usedAt ? `used ${formatDistanceToNow(new Date(token.usedAt), { addSuffix: true })}` : 'never used'}
          </span>
          <Button className="h-7" aria-label={`Revoke ${token.title}`} onClick={() => onRemove(token.id)}>
            Revoke
          </Button>
        </li>
      ))}
    </ul>
  );
}

/** Makes a token, one's own or that of an account for programs, and shows it once. */
export function MakeToken({ service, onMade }: { service?: Member; onMade: () => Promise<void> }): ReactNode {
  const me = usePerson().data;
  const person = service ?? me;
  const projects = useQuery({ queryKey: ['projects'], queryFn: teamApi.projects }).data ?? [];
  const [bound, setBound] = useState<readonly string[]>();
  const [title, setTitle] = useState('');
  const [role, setRole] = useState<Role>('viewer');
  const [days, setDays] = useState(90);
  const [made, setMade] = useState<string>();
  const { problem, attempt } = useAttempt();
  const make = (): Promise<void> =>
    attempt(async () => {
      const { token } = await api.makeToken({
        ...{ title, role, days },
        ...(bound && { projects: [...bound] }),
        ...(service && { service: service.id }),
      });
      setMade(token);
      setTitle('');
      await onMade();
    });
  return (
    <form
      className="flex flex-col gap-3 rounded border border-line bg-panel p-4"
      onSubmit={(event) => {
        event.preventDefault();
        void make();
      }}
    >
      <div className="flex flex-wrap items-end gap-3">
        <Field label="What it is for">
          <TextInput
            className="w-64"
            maxLength={200}
            value={title}
            onChange={(event) => setTitle(event.target.value)}
          />
        </Field>
        <Field label="Role">
          <select
            className="h-8 rounded-sm border border-line bg-ticket px-1.5 text-sm"
            value={role}
            onChange={(event) => setRole(event.target.value as Role)}
          >
            {roles
              .filter((one) => person && mayAct(person.role, one))
              .map((one) => (
                <option key={one}>{one}</option>
              ))}
          </select>
        </Field>
        <Field label="Days">
          <TextInput
            type="number"
            className="w-20"
            min={1}
            max={730}
            value={days}
            onChange={(event) => setDays(Number(event.target.value))}
          />
        </Field>
        <Button
          type="submit"
          look="primary"
          dim={
            title.trim() === ''
              ? 'Say what it is for.'
              : bound?.length === 0
                ? 'Choose at least one project.'
                : undefined
          }
        >
          Make a token
        </Button>
      </div>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <Check
          label="For some projects only"
          checked={bound !== undefined}
          onChange={(on) => setBound(on ? [] : undefined)}
        />
        {bound &&
          projects.map(({ id, title: name }) => (
            <Check
              key={id}
              label={name}
              checked={bound.includes(id)}
              onChange={(on) => setBound(on ? [...bound, id] : bound.filter((one) => one !== id))}
            />
          ))}
      </div>
      <Problem text={problem} />
      {made && (
        <p role="status" className="flex items-center gap-2 text-sm">
          <span>Copy it now. It is shown only once:</span>
          <code className="min-w-0 flex-1 truncate font-mono text-xs">{made}</code>
          <Button
            square
            className="size-7"
            aria-label="Copy the token"
            onClick={() => copyText(made, 'The token is copied.')}
          >
            <Copy size={14} />
          </Button>
        </p>
      )}
    </form>
  );
}

import { mayAct, type Role, roles } from '@basitax/api/roles';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { format, formatDistanceToNow } from 'date-fns';
import { Copy } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../api/client.ts';
import { usePerson } from '../api/person.ts';
import { Button, Field, Notice, TextInput } from '../ui/controls.tsx';
import { BackLink, TopLine } from '../ui/top-line.tsx';

/** Personal tokens: what a pipeline signs in with. */
export default function TokensScreen(): ReactNode {
  const tokens = useQuery({ queryKey: ['tokens'], queryFn: api.tokens });
  const queries = useQueryClient();
  const remove = async (id: string): Promise<void> => {
    try {
      await api.removeToken(id);
      await queries.invalidateQueries({ queryKey: ['tokens'] });
    } catch (error) {
      toast.error('The token could not be taken back', {
        description: error instanceof Error ? error.message : String(error),
      });
    }
  };
  return (
    <div className="flex h-full flex-col">
      <TopLine>
        <BackLink to="/files">Files</BackLink>
        <h1 className="font-bold">Personal tokens</h1>
        <span className="text-soft">What a pipeline signs in with, in your name.</span>
      </TopLine>
      <main className="flex max-w-3xl flex-col gap-5 overflow-auto p-5">
        <MakeToken />
        {tokens.isPending ? (
          <Notice title="Loading the tokens …" />
        ) : tokens.isError ? (
          <Notice title={tokens.error.message} alert />
        ) : tokens.data.length === 0 ? (
          <p className="text-sm text-soft">You have made no token yet.</p>
        ) : (
          <ul aria-label="Tokens" className="flex flex-col">
            {tokens.data.map((token) => (
              <li key={token.id} className="flex items-center gap-4 border-b border-line py-2 text-sm">
                <span className="min-w-0 flex-1 truncate font-bold">{token.title}</span>
                <span>{token.role}</span>
                <span className="text-soft">until {format(new Date(token.expiresAt), 'd MMM yyyy')}</span>
                <span className="text-soft">
                  {token.usedAt
                    ? `used ${formatDistanceToNow(new Date(token.usedAt), { addSuffix: true })}`
                    : 'never used'}
                </span>
                <Button className="h-7" aria-label={`Take back ${token.title}`} onClick={() => void remove(token.id)}>
                  Take back
                </Button>
              </li>
            ))}
          </ul>
        )}
        <p className="text-sm text-soft">
          Sent as <code className="font-mono">Authorization: Bearer …</code>. What there is to ask for stands in{' '}
          <a className="underline" href="/api/openapi.json">
            the description of the API
          </a>
          , OpenAPI 3.1.
        </p>
      </main>
    </div>
  );
}

function MakeToken(): ReactNode {
  const person = usePerson().data;
  const queries = useQueryClient();
  const [title, setTitle] = useState('');
  const [role, setRole] = useState<Role>('viewer');
  const [days, setDays] = useState(90);
  const [made, setMade] = useState<string>();
  const [problem, setProblem] = useState<string>();
  const make = async (): Promise<void> => {
    try {
      const { token } = await api.makeToken({ title, role, days });
      setMade(token);
      setTitle('');
      setProblem(undefined);
      await queries.invalidateQueries({ queryKey: ['tokens'] });
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    }
  };
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
        <Button type="submit" look="primary" dim={title.trim() === '' ? 'Say what it is for.' : undefined}>
          Make a token
        </Button>
      </div>
      {problem && (
        <p role="alert" className="text-sm text-warn">
          {problem}
        </p>
      )}
      {made && (
        <p role="status" className="flex items-center gap-2 text-sm">
          <span>Copy it now, it is shown this once:</span>
          <code className="min-w-0 flex-1 truncate font-mono text-xs">{made}</code>
          <Button
            square
            className="size-7"
            aria-label="Copy the token"
            onClick={() => void navigator.clipboard.writeText(made)}
          >
            <Copy size={14} />
          </Button>
        </p>
      )}
    </form>
  );
}

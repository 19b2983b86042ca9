import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { api } from '../api/client.ts';
import { MakeToken, TokenList } from '../team/make-token.tsx';
import { tellFailure } from '../ui/attempt.tsx';
import { Notice } from '../ui/controls.tsx';
import { BackLink, TopLine } from '../ui/top-line.tsx';

/** Personal tokens: what a pipeline signs in with. */
export default function TokensScreen(): ReactNode {
  const tokens = useQuery({ queryKey: ['tokens'], queryFn: () => api.tokens() });
  const queries = useQueryClient();
  const remove = async (id: string): Promise<void> => {
    try {
      await api.removeToken(id);
      await queries.invalidateQueries({ queryKey: ['tokens'] });
    } catch (error) {
      tellFailure('The token could not be revoked')(error);
    }
  };
  return (
    <div className="flex h-full flex-col">
      <TopLine>
        <BackLink to="/files">Files</BackLink>
        <h1 className="font-bold">Personal tokens</h1>
        <span className="text-soft">A pipeline uses them to sign in with your name.</span>
      </TopLine>
      <main className="flex max-w-3xl flex-col gap-5 overflow-auto p-5">
        <MakeToken onMade={() => queries.invalidateQueries({ queryKey: ['tokens'] })} />
        {tokens.isPending ? (
          <Notice title="Loading the tokens …" />
        ) : tokens.isError ? (
          <Notice title={tokens.error.message} alert />
        ) : tokens.data.length === 0 ? (
          <p className="text-sm text-soft">No tokens yet.</p>
        ) : (
          <TokenList tokens={tokens.data} onRemove={(id) => void remove(id)} />
        )}
        <p className="text-sm text-soft">
          Send it as <code className="font-mono">Authorization: Bearer TOKEN</code>.{' '}
          <a className="underline" href="/api/openapi.json">
            The description of the API
          </a>{' '}
          (OpenAPI 3.1) lists every request.
        </p>
      </main>
    </div>
  );
}

import { useSearchParams } from 'react-router';
import { type Sort, sorts, type Wanted } from './listing.ts';

/** What is shown of the files stands in the address, so that it can be handed on, and is there again on the way back. */
export function useWanted(): { wanted: Wanted & { trash: boolean }; want: (change: Partial<Wanted & { trash: boolean }>) => void } {
  const [params, setParams] = useSearchParams();
  const sort = params.get('sort') ?? '';
  const wanted = {
    project: params.get('project') ?? undefined,
    folder: params.get('folder') ?? '',
    tags: params.getAll('tag'),
    text: params.get('find') ?? '',
    sort: sort in sorts ? (sort as Sort) : 'title',
    trash: params.get('trash') === 'yes',
  } as const;
  const want = (change: Partial<Wanted & { trash: boolean }>): void => {
    const next = { ...wanted, ...change };
    const query = new URLSearchParams();
    if (next.project !== undefined) query.set('project', next.project);
    if (next.folder !== '') query.set('folder', next.folder);
    for (const tag of next.tags) query.append('tag', tag);
    if (next.text !== '') query.set('find', next.text);
    if (next.sort !== 'title') query.set('sort', next.sort);
    if (next.trash) query.set('trash', 'yes');
    // each letter typed is no place to go back to
    setParams(query, { replace: change.text !== undefined });
  };
  return { wanted, want };
}

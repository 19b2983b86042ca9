import { useSearchParams } from 'react-router';
import { type Sort, sorts, type Wanted } from './listing.ts';

type Shown = Wanted & { readonly trash: boolean };

function shownIn(params: URLSearchParams): Shown {
  const sort = params.get('sort') ?? '';
  return {
    project: params.get('project') ?? undefined,
    folder: params.get('folder') ?? '',
    tags: params.getAll('tag'),
    text: params.get('find') ?? '',
    sort: sort in sorts ? (sort as Sort) : 'title',
    trash: params.get('trash') === 'yes',
  };
}

/**
 * What is shown of the files stands in the address, so that it can be handed on, and is there again on the way back.
 */
export function useWanted(): { wanted: Shown; want: (change: (now: Shown) => Partial<Shown>) => void } {
  const [params, setParams] = useSearchParams();
  const want = (change: (now: Shown) => Partial<Shown>): void => {
    // the address itself: what is drawn may be a press behind it
    const now = shownIn(new URLSearchParams(window.location.search));
    const changed = change(now);
    const next = { ...now, ...changed };
    const query = new URLSearchParams();
    if (next.project !== undefined) query.set('project', next.project);
    if (next.folder !== '') query.set('folder', next.folder);
    for (const tag of next.tags) query.append('tag', tag);
    if (next.text !== '') query.set('find', next.text);
    if (next.sort !== 'title') query.set('sort', next.sort);
    if (next.trash) query.set('trash', 'yes');
    // each letter typed is no place to go back to
    setParams(query, { replace: changed.text !== undefined });
  };
  return { wanted: shownIn(params), want };
}

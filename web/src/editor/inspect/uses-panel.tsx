import type { Kinds } from '@basitax/core/document/kinds';
import { seenFrom } from '@basitax/core/inspect/reach';
import type { UseKind } from '@basitax/core/inspect/use-kinds';
import { nodesUsing, type UseQuery } from '@basitax/core/inspect/uses';
import { plural } from '@basitax/core/words';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useDeferredValue, useEffect, useMemo } from 'react';
import { api } from '../../api/client.ts';
import { batchOf } from '../../batch/aim.ts';
import { Check, TextInput } from '../../ui/controls.tsx';
import { SidePanel } from '../panels/side.tsx';
import { type Editing, useEditing } from '../store.ts';
import { Part, SelectAll, Things, Waiting } from './parts.tsx';
import { ask, lookedUpFor, useQuestions } from './questions.ts';

const whats: readonly (readonly [UseKind, string])[] = [
  ['kind', 'Kind'],
  ['shared', 'Shared kind'],
  ['value', 'Value of a parameter'],
  ['asset', 'Asset'],
  ['beacon', 'Beacon'],
];

const hints: Readonly<Record<UseKind, string>> = {
  kind: 'title, part of it, or id',
  shared: 'title, part of it, or name',
  value: 'parameter: title, part of it, or id',
  asset: 'path or part of it',
  beacon: 'name or part of it',
};

/** What an id is called, where that is not the id itself. */
function titleOfUse(kinds: Kinds, { what, name }: UseQuery): string | undefined {
  if (name === undefined) return undefined;
  if (what === 'kind') return kinds.kind(name) ? kinds.title(name) : undefined;
  if (what === 'shared') return kinds.newestShared(name)?.title;
  return undefined;
}

/**
 * Where a kind, a value, an asset, a beacon or a shared kind is used: in this file as it stands, and in the newest
 * revisions of all.
 */
export function UsesPanel(): ReactNode {
  const state = useEditing();
  const use = useQuestions((one) => one.use);
  const asked = useDeferredValue(use);
  const isWhole = (asked.name ?? '') !== '' || (asked.value ?? '') !== '';
  const search = {
    what: asked.what,
    match: asked.match,
    ...(asked.name ? { name: asked.name } : {}),
    ...(asked.value ? { value: asked.value } : {}),
  };
  const everywhere = useQuery({
    queryKey: ['uses', search],
    queryFn: () => api.uses(search),
    enabled: isWhole,
    staleTime: 5000,
  });
  const names = useQuery({
    queryKey: ['use-names', asked.what, asked.name ?? ''],
    queryFn: () => api.namesOfUses(asked.what, asked.name ?? ''),
    staleTime: 20_000,
  });
  const values = useQuery({
    queryKey: ['use-values', asked.name ?? '', asked.value ?? ''],
    queryFn: () => api.namesOfUses('value', asked.value ?? '', asked.name),
    enabled: asked.what === 'value' && Boolean(asked.name),
    staleTime: 20_000,
  });
  // what is typed is looked for as people know it, and no longer what is selected
  const set = (change: Partial<typeof use>): void => ask({ use: { ...use, match: 'part', ...change }, follows: false });
  const follows = useQuestions((one) => one.follows);
  const { selection, doc, kinds } = state;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another selection asks, not another version of the file
  useEffect(() => {
    const selected = follows ? lookedUpFor({ doc, kinds, selection }) : undefined;
    if (selected) ask({ use: { ...selected, match: 'exact' } });
  }, [follows, selection]);
  const title = use.match === 'exact' ? titleOfUse(kinds, use) : undefined;
  return (
    <SidePanel
      id="uses"
      title="Where used"
      about="In this file as it stands, and in the newest revision of every file of the team."
    >
      <div className="grid grid-cols-[auto_1fr] items-center gap-2">
        <label htmlFor="use-what" className="text-soft">
          What
        </label>
        <select
          id="use-what"
          className="h-8 rounded-sm border border-edge bg-ticket px-1.5"
          value={use.what}
          onChange={(event) => ask({ use: { what: event.target.value as UseKind, match: 'part' }, follows: false })}
        >
          {whats.map(([id, title]) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </select>
        <label htmlFor="use-name" className="text-soft">
          {use.what === 'value' ? 'Parameter' : 'Which'}
        </label>
        <TextInput
          id="use-name"
          list="use-names"
          placeholder={hints[use.what]}
          value={use.name ?? ''}
          onChange={(event) => set({ name: event.target.value || undefined })}
        />
        <datalist id="use-names">
          {names.data?.map((one) => (
            <option key={one} value={one} />
          ))}
        </datalist>
        {use.what === 'value' && (
          <>
            <label htmlFor="use-value" className="text-soft">
              Value
            </label>
            <TextInput
              id="use-value"
              list="use-values"
              placeholder="any"
              value={use.value ?? ''}
              onChange={(event) => set({ value: event.target.value || undefined })}
            />
            <datalist id="use-values">
              {values.data?.map((one) => (
                <option key={one} value={one} />
              ))}
            </datalist>
          </>
        )}
      </div>
      {title !== undefined && <p className="text-xs text-soft">It is “{title}”.</p>}
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        <Check label="Follow the selection" checked={follows} onChange={(on) => ask({ follows: on })} />
        <Check
          label="Exactly this"
          checked={use.match === 'exact'}
          onChange={(on) => set({ match: on ? 'exact' : 'part' })}
        />
      </div>
      {!isWhole ? (
        <p className="text-soft">Select a node, or type what you look for.</p>
      ) : (
        <>
          <Here state={state} />
          <Part
            title="In all files"
            aside={
              everywhere.data &&
              `${everywhere.data.total.toLocaleString('en')} in ${plural(everywhere.data.files.length, 'file')}`
            }
          >
            {!everywhere.data ? (
              <Waiting problem={everywhere.error?.message} what="Looking" />
            ) : everywhere.data.files.length === 0 ? (
              <p className="text-soft">No file uses it.</p>
            ) : (
              <>
                <ul aria-label="Files that use it">
                  {everywhere.data.files.map((file) => (
                    <li key={file.file} className="flex items-baseline gap-2 border-b border-line py-0.5">
                      <a
                        className="min-w-0 flex-1 truncate hover:underline"
                        href={`/files/${file.file}`}
                        target="_blank"
                        rel="noreferrer"
                        title={`Open ${file.title} in another tab`}
                      >
                        {file.title}
                      </a>
                      <span className="shrink-0 font-mono text-xs tabular-nums">{file.count.toLocaleString('en')}</span>
                    </li>
                  ))}
                </ul>
                <a
                  className="self-start text-xs underline"
                  href={batchOf(everywhere.data.files.map((file) => file.file))}
                  target="_blank"
                  rel="noreferrer"
                  title="Opens in another tab"
                >
                  Batch run over these …
                </a>
                {everywhere.data.lines.length > 1 && (
                  <ul aria-label="What was found" className="text-xs text-soft">
                    {everywhere.data.lines.map((line) => (
                      <li key={`${line.name} ${line.value}`} className="flex gap-2">
                        <span className="min-w-0 flex-1 truncate">
                          {[line.name, line.value].filter(Boolean).join(' = ')}
                        </span>
                        <span className="font-mono tabular-nums">{line.count.toLocaleString('en')}</span>
                      </li>
                    ))}
                  </ul>
                )}
              </>
            )}
          </Part>
        </>
      )}
    </SidePanel>
  );
}

function Here({ state }: { state: Editing }): ReactNode {
  const { doc, kinds, graph } = state;
  const use = useQuestions((one) => one.use);
  const asked = useDeferredValue(use);
  const ids = useMemo(() => nodesUsing(doc, kinds, asked), [doc, kinds, asked]);
  return (
    <Part
      title="In this file, as it stands"
      aside={ids.length > 0 ? <SelectAll ids={seenFrom(doc, graph, ids)} /> : '0'}
    >
      {ids.length === 0 ? (
        <p className="text-soft">Nothing in this file uses it.</p>
      ) : (
        <p className="text-soft">{plural(ids.length, 'node')}.</p>
      )}
      <Things doc={doc} kinds={kinds} here={graph} ids={ids} label="Nodes of this file that use it" first={8} />
    </Part>
  );
}

import { seenFrom } from '@basitax/core/inspect/reach';
import type { UseKind } from '@basitax/core/inspect/use-kinds';
import { nodesUsing } from '@basitax/core/inspect/uses';
import { plural } from '@basitax/core/words';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useDeferredValue, useMemo } from 'react';
import { api } from '../../api/client.ts';
import { Check, TextInput } from '../../ui/controls.tsx';
import { SidePanel } from '../panels/side.tsx';
import { type Editing, useEditing } from '../store.ts';
import { Part, SelectAll, Things, Waiting } from './parts.tsx';
import { ask, useQuestions } from './questions.ts';

const whats: readonly (readonly [UseKind, string])[] = [
  ['kind', 'Kind'],
  ['shared', 'Shared kind'],
  ['value', 'Value of a parameter'],
  ['asset', 'Asset'],
  ['beacon', 'Beacon'],
];

const hints: Readonly<Record<UseKind, string>> = {
  kind: 'id of the kind',
  shared: 'its name',
  value: 'parameter',
  asset: 'path',
  beacon: 'name',
};

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
  const set = (change: Partial<typeof use>): void => ask({ use: { ...use, ...change } });
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
          onChange={(event) => ask({ use: { what: event.target.value as UseKind, match: use.match } })}
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
      <Check
        label="What begins so counts too"
        checked={use.match === 'starts'}
        onChange={(on) => set({ match: on ? 'starts' : 'exact' })}
      />
      {!isWhole ? (
        <p className="text-soft">Type what is sought, or select a node and press q w.</p>
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

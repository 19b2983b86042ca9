import type { Shortcuts } from '@basitax/api/settings';
import { useQueryClient } from '@tanstack/react-query';
import { Plus, RotateCcw, X } from 'lucide-react';
import { type KeyboardEvent, type ReactNode, useMemo, useRef, useState } from 'react';
import { api } from '../../api/client.ts';
import { tellFailure } from '../../ui/attempt.tsx';
import { Button, Dialog, SearchInput } from '../../ui/controls.tsx';
import { areas, type Command } from '../command.ts';
import { commandById, commands, usualKeys } from '../commands.ts';
import { bindingsOf, clashes, isUniversal, keyName, type Sequence, spell } from './bindings.ts';
import { useOwnShortcuts } from './keys-store.ts';
import { universalKeys } from './universal.ts';

const sameKeys = (a: readonly Sequence[], b: readonly Sequence[]): boolean =>
  a.length === b.length && a.every((key, i) => key === b[i]);

/** Changes are kept on the server at once, for this person. */
function useShortcuts() {
  const query = useOwnShortcuts();
  const queries = useQueryClient();
  const own: Shortcuts = query.data ?? { on: true, keys: {} };
  const change = async (next: Shortcuts): Promise<void> => {
    queries.setQueryData(['setting', 'shortcuts'], next);
    try {
      await api.saveSetting('shortcuts', next);
    } catch (error) {
      queries.setQueryData(['setting', 'shortcuts'], own);
      tellFailure('The shortcuts were not saved.')(error);
    }
  };
  const bind = (id: string, keys: readonly Sequence[]): Promise<void> => {
    const { [id]: _, ...rest } = own.keys;
    return change({ ...own, keys: sameKeys(keys, usualKeys.get(id) ?? []) ? rest : { ...rest, [id]: [...keys] } });
  };
  return { query, own, change, bind };
}

export function ShortcutsDialog({ onClose }: { onClose: () => void }): ReactNode {
  return (
    <Dialog
      open
      onClose={onClose}
      size="wide"
      title="Shortcuts"
      about="Only yours, on every computer where you sign in. They work while the graph has the focus, not while you type."
    >
      <ShortcutsTable />
    </Dialog>
  );
}

/** Every act with its keys, to be bound anew by pressing them. */
export function ShortcutsTable(): ReactNode {
  const { query, own, change, bind } = useShortcuts();
  const [text, setText] = useState('');
  const [asking, setAsking] = useState<string>();
  const bindings = useMemo(() => bindingsOf(usualKeys, own.keys), [own.keys]);
  const clashing = useMemo(() => clashes(bindings), [bindings]);
  const fits = (command: Command): boolean =>
    `${command.title} ${command.area.title} ${(bindings.get(command.id) ?? []).map(spell).join(' ')}`
      .toLowerCase()
      .includes(text.trim().toLowerCase());
  if (query.isError) return <p role="alert">{query.error.message}</p>;
  return (
    <div className="flex min-h-0 flex-col gap-3">
      <div className="flex flex-wrap items-center gap-3">
        <label className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="size-4 accent-accent"
            checked={own.on}
            onChange={(event) => void change({ ...own, on: event.target.checked })}
          />
          Shortcuts of one and two keys are on
        </label>
        <SearchInput
          label="Filter"
          placeholder="Filter by act or key"
          className="ml-auto w-52"
          value={text}
          onText={setText}
        />
        <Button
          dim={Object.keys(own.keys).length === 0 ? 'All keys have their defaults.' : undefined}
          onClick={() => void change({ ...own, keys: {} })}
        >
          <RotateCcw size={14} />
          Restore all defaults
        </Button>
      </div>
      {clashing.length > 0 && (
        <div role="alert" className="rounded-sm border border-warn px-3 py-2 text-sm text-warn">
          {clashing.map(({ sequence, acts }) => (
            <p key={sequence}>
              <kbd className="font-bold">{spell(sequence)}</kbd> is asked for by{' '}
              {acts.map((id) => `“${commandById(id)?.title}”`).join(' and ')}: only the first of them gets it.
            </p>
          ))}
        </div>
      )}
      <div className={`min-h-0 overflow-auto ${own.on ? '' : 'opacity-60'}`}>
        <table className="w-full text-sm">
          <thead className="sr-only">
            <tr>
              <th>Act</th>
              <th>Keys</th>
              <th>Everywhere</th>
            </tr>
          </thead>
          {areas.map((area) => {
            const rows = commands.filter((command) => command.area === area && fits(command));
            return (
              rows.length > 0 && (
                <tbody key={area.id}>
                  <tr>
                    <th colSpan={3} scope="rowgroup" className="sticky top-0 bg-panel pt-3 pb-1 text-left">
                      {area.title}{' '}
                      <kbd className="ml-1 rounded-sm border border-line px-1 text-xs font-normal text-soft">
                        {spell(area.key)}
                      </kbd>
                    </th>
                  </tr>
                  {rows.map((command) => (
                    <tr key={command.id} className="border-t border-line">
                      <td className="py-1 pr-3">{command.title}</td>
                      <td className="py-1">
                        <Keys
                          command={command}
                          keys={bindings.get(command.id) ?? []}
                          isOwn={Object.hasOwn(own.keys, command.id)}
                          clashing={clashing.flatMap((clash) =>
                            clash.acts.includes(command.id) ? clash.sequence : [],
                          )}
                          asking={asking === command.id}
                          onAsk={(on) => setAsking(on ? command.id : undefined)}
                          onChange={(keys) => void bind(command.id, keys)}
                        />
                      </td>
                      <td className="py-1 text-right text-xs whitespace-nowrap text-soft">
                        {universalKeys[command.id]}
                      </td>
                    </tr>
                  ))}
                </tbody>
              )
            );
          })}
        </table>
      </div>
    </div>
  );
}

function Keys({
  command,
  keys,
  isOwn,
  clashing,
  asking,
  onAsk,
  onChange,
}: {
  command: Command;
  keys: readonly Sequence[];
  isOwn: boolean;
  clashing: readonly Sequence[];
  asking: boolean;
  onAsk: (on: boolean) => void;
  onChange: (keys: readonly Sequence[]) => void;
}): ReactNode {
  return (
    <span className="flex flex-wrap items-center gap-1.5">
      {keys.map((key) => (
        <span
          key={key}
          className={`flex items-center gap-0.5 rounded-sm border bg-ticket pl-1.5 ${clashing.some((other) => key === other || key.startsWith(`${other} `)) ? 'border-warn text-warn' : 'border-line'}`}
        >
          <kbd className="font-mono text-xs">{spell(key)}</kbd>
          <button
            type="button"
            className="grid size-5 place-items-center"
            aria-label={`Take ${spell(key)} off ${command.title}`}
            onClick={() => onChange(keys.filter((other) => other !== key))}
          >
            <X size={12} />
          </button>
        </span>
      ))}
      {asking ? (
        <Asking
          onDone={(sequence) => {
            onAsk(false);
            if (sequence !== undefined && !keys.includes(sequence)) onChange([...keys, sequence]);
          }}
        />
      ) : (
        <Button
          look="quiet"
          square
          className="h-6 w-6"
          aria-label={`Another key for ${command.title}`}
          dim={keys.length >= 5 ? 'Five are enough.' : undefined}
          onClick={() => onAsk(true)}
        >
          <Plus size={14} />
        </Button>
      )}
      {isOwn && (
        <Button
          look="quiet"
          square
          className="h-6 w-6"
          aria-label={`Usual keys for ${command.title}`}
          title="Restore the default keys"
          onClick={() => onChange(command.keys)}
        >
          <RotateCcw size={13} />
        </Button>
      )}
    </span>
  );
}

/** Takes one key, and a second one where it comes; Enter ends with one, Escape drops it. */
function Asking({ onDone }: { onDone: (sequence: Sequence | undefined) => void }): ReactNode {
  const [first, setFirst] = useState<string>();
  const [problem, setProblem] = useState<string>();
  const done = useRef(false);
  const end = (sequence: Sequence | undefined): void => {
    if (done.current) return;
    done.current = true;
    onDone(sequence);
  };
  const press = (event: KeyboardEvent): void => {
    if (event.nativeEvent.isComposing || event.key === 'Tab') return;
    event.preventDefault();
    event.stopPropagation();
    if (event.key === 'Escape') end(undefined);
    else if (event.key === 'Enter') end(first);
    else {
      const key = keyName(event);
      if (key === undefined) return;
      if (isUniversal(key)) setProblem(`${key} means the same everywhere; choose another key.`);
      else if (first === undefined) setFirst(key);
      else end(`${first} ${key}`);
    }
  };
  return (
    <span className="flex items-center gap-2">
      <input
        // biome-ignore lint/a11y/noAutofocus: it was opened to press a key in
        autoFocus
        readOnly
        aria-label="Press one or two keys"
        className="h-6 w-44 rounded-sm border border-accent bg-ticket px-1.5 text-xs"
        value={first === undefined ? 'Press a key …' : `${spell(first)}, then another, or Enter`}
        onKeyDown={press}
        onBlur={() => end(undefined)}
      />
      {problem && (
        <span role="alert" className="text-xs text-warn">
          {problem}
        </span>
      )}
    </span>
  );
}

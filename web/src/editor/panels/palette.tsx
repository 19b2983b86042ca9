import { ranked, type Sought } from '@basitax/core/search';
import { Command } from 'cmdk';
import { type ReactNode, useMemo, useState } from 'react';
import { groupLook, ListDialog } from '../../ui/controls.tsx';
import { type Command as Act, areas } from '../command.ts';
import { commands } from '../commands.ts';
import { closeToCanvas } from '../dialogs.ts';
import { noteUsed, useLayout } from '../layout.ts';
import { keyOf, useKeys } from '../shortcuts/keys-store.ts';
import { useEditing } from '../store.ts';
import { synonyms } from '../synonyms.ts';

const itemLook =
  'flex items-baseline gap-2 rounded-sm px-2 py-1.5 text-sm cursor-pointer data-[selected=true]:bg-accent-wash data-[disabled=true]:text-soft data-[disabled=true]:cursor-default';

interface Row extends Sought {
  readonly act: Act;
  readonly reason: string | undefined;
}

/** What was used lately is a little ahead of what fits as well; what cannot be done now comes behind all that can. */
const bonusOf =
  (used: readonly string[]) =>
  ({ act, reason }: Row): number => {
    const at = used.indexOf(act.id);
    return (at === -1 ? 0 : 0.12 - at * 0.01) - (reason === undefined ? 0 : 3);
  };

/** What cannot be done now comes behind what can. */
const possibleFirst = (rows: readonly Row[]): Row[] =>
  [...rows].sort((a, b) => Number(a.reason !== undefined) - Number(b.reason !== undefined));
const isIdle = (rows: readonly Row[]): boolean => rows.every((row) => row.reason !== undefined);

/** Everything there is to do: by area, and by any word that people of the trade use for it. */
export function Palette({ onClose }: { onClose: () => void }): ReactNode {
  const state = useEditing();
  const used = useLayout((layout) => layout.used);
  const [typed, setTyped] = useState('');
  const rows = useMemo(
    () =>
      commands.map(
        (act): Row => ({
          act,
          title: act.title,
          words: [act.id, act.area.title, synonyms[act.id] ?? ''],
          about: act.about,
          reason: act.dim(state),
        }),
      ),
    [state],
  );
  const found = typed.trim() === '' ? undefined : ranked(typed, rows, bonusOf(used)).slice(0, 60);
  const recent = possibleFirst(used.flatMap((id) => rows.filter((row) => row.act.id === id)).slice(0, 6));
  const groups: readonly { readonly title: string; readonly rows: readonly Row[] }[] = found
    ? [{ title: `${found.length === 60 ? 'The first 60' : found.length} found`, rows: found }]
    : [
        ...(isIdle(recent) ? [] : [{ title: 'Used lately', rows: recent }]),
        ...areas
          .map((area) => ({ title: area.title, rows: possibleFirst(rows.filter((row) => row.act.area === area)) }))
          .sort((a, b) => Number(isIdle(a.rows)) - Number(isIdle(b.rows))),
      ];
  return (
    <ListDialog title="All commands" onClose={onClose} size="max-w-2xl">
      <Command label="All commands" loop shouldFilter={false}>
        <Command.Input
          autoFocus
          value={typed}
          onValueChange={setTyped}
          placeholder="What do you want to do?"
          className="h-11 w-full border-b border-line bg-transparent px-3 outline-none"
        />
        <Command.List className="max-h-[60vh] overflow-auto p-1.5">
          {found?.length === 0 && (
            <p className="p-4 text-center text-sm text-soft" role="status">
              No command fits “{typed.trim()}”. Try another word for it.
            </p>
          )}
          {groups
            .filter((group) => group.rows.length > 0)
            .map((group) => (
              <Command.Group key={group.title} heading={group.title} className={groupLook}>
                {group.rows.map((row) => (
                  <Item key={row.act.id} row={row} group={group.title} />
                ))}
              </Command.Group>
            ))}
        </Command.List>
      </Command>
    </ListDialog>
  );
}

function Item({ row: { act, reason }, group }: { row: Row; group: string }): ReactNode {
  const keys = useKeys();
  return (
    <Command.Item
      value={`${group} ${act.id}`}
      disabled={reason !== undefined}
      onSelect={() => {
        closeToCanvas();
        noteUsed(act.id);
        // after the dialog has given the focus back
        setTimeout(act.run, 0);
      }}
      className={itemLook}
    >
      <span className="whitespace-nowrap">{act.title}</span>
      <span className="min-w-0 flex-1 truncate text-xs text-soft">{reason ?? act.about}</span>
      <kbd className="text-xs whitespace-nowrap text-soft">{keyOf(act.id, keys)}</kbd>
    </Command.Item>
  );
}

import { caption, indexOf } from '@basitax/core/document/doc';
import type { Id } from '@basitax/core/document/ids';
import type { PortRef } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import type { Report } from '@basitax/core/operation';
import { bridges } from '@basitax/core/wiring/convert';
import { Command } from 'cmdk';
import { type ReactNode, useMemo } from 'react';
import { Button, Dialog, ListDialog } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { closeToCanvas } from '../dialogs.ts';
import { candidatesFor, type InHand, letGo, putToPort } from '../hand.ts';
import { undo, whereIs } from '../history.ts';
import { enterGraph, useEditing, useEditor } from '../store.ts';

const rowLook =
  'grid cursor-pointer grid-cols-[minmax(8rem,1fr)_7rem_minmax(9rem,1.4fr)] items-baseline gap-x-3 rounded-sm px-2 py-1.5 text-sm data-[selected=true]:bg-accent-wash';

/**
 * The ports of a node that take the wire in hand, the best first: hidden ones, and components that are not opened yet,
 * too.
 */
export function PortsDialog({
  node: id,
  inHand,
  onClose,
}: {
  node: Id;
  inHand: InHand;
  onClose: () => void;
}): ReactNode {
  const { doc, kinds } = useEditing();
  const node = must(doc.nodes.get(id));
  const found = candidatesFor(inHand).candidates.of(node);
  const close = (): void => {
    letGo();
    onClose();
  };
  return (
    <ListDialog title={`Ports of ${caption(node)} that fit`} onClose={close} size="max-w-xl">
      <Command label="Ports that fit" loop>
        <Command.Input
          autoFocus
          placeholder={`Which port of ${caption(node)}?`}
          className="h-11 w-full border-b border-line bg-transparent px-3 outline-none"
        />
        <Command.List className="max-h-[56vh] overflow-auto p-1.5">
          <Command.Empty className="p-4 text-center text-sm text-soft">No port that fits has that name.</Command.Empty>
          {found.map(({ port, isPart, isTaken }) => {
            const wire = isTaken ? indexOf(doc).wireInto(id, port.id) : undefined;
            const said = [
              isPart && 'opens the component',
              wire && `takes the place of “${caption(must(doc.nodes.get(wire.from.node)))}”`,
            ]
              .filter(Boolean)
              .join(', ');
            return (
              <Command.Item
                key={port.id}
                value={port.id}
                keywords={[port.name]}
                onSelect={() => {
                  closeToCanvas();
                  setTimeout(() => void putToPort(inHand, { node: id, port: port.id }), 0);
                }}
                className={rowLook}
              >
                <span className="truncate font-bold">{port.name}</span>
                <span className="truncate text-soft">{kinds.type(port.type).title}</span>
                <span className="truncate text-xs text-soft">{said || 'open'}</span>
              </Command.Item>
            );
          })}
        </Command.List>
      </Command>
    </ListDialog>
  );
}

/** One of several, by name. */
export function ChoiceDialog({
  title,
  choices,
  chosen,
}: {
  title: string;
  choices: readonly { label: string; hint?: string }[];
  chosen: (index: number | undefined) => void;
}): ReactNode {
  const take = (index: number | undefined): void => {
    closeToCanvas();
    chosen(index);
  };
  return (
    <ListDialog title={title} onClose={() => take(undefined)} size="max-w-xl">
      <Command label={title} loop>
        <Command.Input
          autoFocus
          placeholder={title}
          className="h-11 w-full border-b border-line bg-transparent px-3 outline-none"
        />
        <Command.List className="max-h-[56vh] overflow-auto p-1.5">
          <Command.Empty className="p-4 text-center text-sm text-soft">Nothing has that name.</Command.Empty>
          {choices.map(({ label, hint }, i) => (
            <Command.Item
              key={label}
              value={label}
              onSelect={() => take(i)}
              className="flex cursor-pointer items-baseline gap-3 rounded-sm px-2 py-1.5 text-sm data-[selected=true]:bg-accent-wash"
            >
              <span className="min-w-0 flex-1 truncate">{label}</span>
              {hint && <span className="text-xs text-soft">{hint}</span>}
            </Command.Item>
          ))}
        </Command.List>
      </Command>
    </ListDialog>
  );
}

/** Two ports that do not fit: why, and what would make them. */
export function BridgeDialog({
  from,
  to,
  why,
  onClose,
}: {
  from: PortRef;
  to: PortRef;
  why: string;
  onClose: () => void;
}): ReactNode {
  const { doc, kinds } = useEditing();
  const ways = useMemo(() => bridges(doc, kinds, from, to), [doc, kinds, from, to]);
  return (
    <Dialog open onClose={onClose} title="That does not fit as it is" about={why}>
      <ul className="flex flex-col gap-1.5" aria-label="Ways to make it fit">
        {ways.map((way, i) => (
          <li key={way.id}>
            <Button
              autoFocus={i === 0}
              className="w-full justify-start"
              onClick={() => {
                closeToCanvas();
                setTimeout(() => void perform('connect-converted', { from, to, way: way.id }, []), 0);
              }}
            >
              {way.title}
            </Button>
          </li>
        ))}
      </ul>
    </Dialog>
  );
}

/** Everything that an act had to say, each with the way there, and an undo. */
export function ReportDialog({
  report,
  title,
  act,
  onClose,
}: {
  report: Report;
  title: string;
  act: number | undefined;
  onClose: () => void;
}): ReactNode {
  const isLast = useEditor((state) => act !== undefined && whereIs(act, state) === 'last');
  const { doc } = useEditing();
  const go = (id: Id): void => {
    const node = doc.nodes.get(id);
    closeToCanvas();
    if (node) setTimeout(() => enterGraph(node.graph, [id]), 0);
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title={title}
      about={`${report.findings.length} things to know. Choose one to go there.`}
      size="wide"
    >
      <ul className="min-h-0 flex-1 overflow-auto text-sm">
        {report.findings.map((item, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the list does not change while it is shown
          <li key={i}>
            <button
              type="button"
              className="w-full rounded-sm px-2 py-1 text-left hover:bg-accent-wash"
              onClick={() => go(item.place.at(-1) ?? '')}
            >
              {item.message}
            </button>
          </li>
        ))}
      </ul>
      <span className="flex justify-end gap-2">
        {act !== undefined && (
          <Button
            dim={isLast ? undefined : 'Other acts came after it: undo those first.'}
            onClick={() => {
              closeToCanvas();
              undo();
            }}
          >
            Undo
          </Button>
        )}
        <Button look="primary" onClick={onClose}>
          Close
        </Button>
      </span>
    </Dialog>
  );
}

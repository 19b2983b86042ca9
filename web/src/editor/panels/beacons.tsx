import { builtin } from '@basitax/core/document/builtin';
import { caption, graphPath, indexOf } from '@basitax/core/document/doc';
import type { GraphNode } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { endPlace, endState, nodeBehind } from '@basitax/core/remote/ends';
import { tapsOf } from '@basitax/core/wiring/carriers';
import { effectiveWiring } from '@basitax/core/wiring/effective';
import { carriedType } from '@basitax/core/wiring/types';
import { plural } from '@basitax/core/words';
import { Command } from 'cmdk';
import { CircleAlert, LocateFixed, X } from 'lucide-react';
import { type ReactNode, useMemo, useState } from 'react';
import { Button, Dialog } from '../../ui/controls.tsx';
import { perform, pointerPlace, windowMiddle } from '../actions.ts';
import { draggedBeacon } from '../canvas/beacon-drop.ts';
import { useCanvasColors } from '../canvas/colors.ts';
import { closeToCanvas, focusCanvas } from '../dialogs.ts';
import { toggleLeft } from '../layout.ts';
import { mayEdit } from '../may-edit.ts';
import { openMenuOf } from '../menu/menu.ts';
import { type Editing, enterGraph, useEditing } from '../store.ts';

interface BeaconRow {
  readonly node: GraphNode;
  readonly title: string;
  readonly source: string;
  readonly place: string;
  readonly type: string;
  readonly hue: number;
  readonly state: string;
  readonly isWhole: boolean;
  /** 0 in this graph, then further out, then elsewhere. */
  readonly distance: number;
}

const many = (count: number, one: string): string => (count === 0 ? `no ${one}` : plural(count, one));

/** The beacons of the file, or its feeds: those of this graph first, then those further out, by name. */
function rowsOf({ doc, kinds, graph }: Editing, kind: string): BeaconRow[] {
  const wiring = effectiveWiring(doc, kinds);
  const path = graphPath(doc, graph).reverse();
  const rows = indexOf(doc)
    .nodesOfKind(kind)
    .map((node): BeaconRow => {
      const isFeed = kind === builtin.feed;
      const state = must(endState(doc, wiring, node));
      const behind = nodeBehind(doc, wiring, node);
      const types = isFeed ? kinds.feedTypes(node) : [carriedType(doc, kinds, { node: node.id, port: 'out' })];
      const at = path.indexOf(node.graph);
      const count = isFeed
        ? many(wiring.suppliedBy(node.id).length, 'input')
        : many(tapsOf(doc, node.id).length, 'tap');
      return {
        node,
        title: isFeed ? caption(node) : node.name,
        source: behind ? `from ${caption(behind)}` : 'no source',
        place: endPlace(doc, node),
        type: types.map((type) => kinds.type(type).title).join(', '),
        hue: kinds.type(types[0] ?? 'any').hue,
        state: state === 'open' ? 'open' : count,
        isWhole: state === 'heard',
        distance: at < 0 ? path.length : at,
      };
    });
  return rows.sort((a, b) => a.distance - b.distance || (a.title.toLowerCase() < b.title.toLowerCase() ? -1 : 1));
}

const matches = (row: BeaconRow, text: string): boolean =>
  `${row.title} ${row.node.label ?? ''} ${row.source} ${row.place} ${row.type}`
    .toLowerCase()
    .includes(text.toLowerCase());

function useRows(kind: string): BeaconRow[] {
  const state = useEditing();
  // biome-ignore lint/correctness/useExhaustiveDependencies: nothing else of the state counts
  return useMemo(() => rowsOf(state, kind), [state.doc, state.kinds, state.graph, kind]);
}

/** A flag in the hue of what is carried, hollow where nobody hears. */
function Flag({ row }: { row: BeaconRow }): ReactNode {
  const colors = useCanvasColors();
  const hue = colors.hues[row.hue] ?? colors.edge;
  return (
    <svg width="18" height="12" viewBox="0 0 18 12" className="shrink-0" aria-hidden="true">
      <polygon points="1,1 12,1 17,6 12,11 1,11" fill={row.isWhole ? hue : 'none'} stroke={hue} strokeWidth="1.5" />
    </svg>
  );
}

const RowText = ({ row }: { row: BeaconRow }): ReactNode => (
  <span className="flex min-w-0 flex-1 flex-col">
    <span className="flex items-baseline gap-2">
      <span className="min-w-0 truncate font-bold">{row.title}</span>
      <span className={`ml-auto shrink-0 text-xs ${row.isWhole ? 'text-soft' : 'text-warn'}`}>{row.state}</span>
    </span>
    <span className="truncate text-xs text-soft">
      {row.type} {row.source}
    </span>
    <span className="truncate text-xs text-soft">{row.place}</span>
  </span>
);

/**
 * Puts a tap where one is: into the selected node where that takes it, else at the pointer or in the middle of the
 * window.
 */
function tapHere(beacon: GraphNode, atPointer: boolean): Promise<void> {
  const { x, y } = (atPointer ? pointerPlace() : undefined) ?? windowMiddle();
  return perform('tap', { beacon: beacon.id, x: Math.round(x), y: Math.round(y) });
}

const goTo = (node: GraphNode): void => {
  enterGraph(node.graph, [node.id]);
  focusCanvas();
};

const itemLook = 'flex cursor-pointer items-center gap-2 rounded-sm px-2 py-1 data-[selected=true]:bg-accent-wash';
const searchLook = 'h-8 w-full rounded-sm border border-edge bg-ticket px-2';

/** The file’s beacons and feeds as a list of reusable things: click, Enter or drag taps one where one is. */
export function BeaconsPanel(): ReactNode {
  const state = useEditing();
  const beacons = useRows(builtin.beacon);
  const feeds = useRows(builtin.feed);
  const [text, setText] = useState('');
  const findings = useMemo(() => effectiveWiring(state.doc, state.kinds).linkFindings, [state.doc, state.kinds]);
  const isLocked = !mayEdit(state);
  const found = beacons.filter((row) => matches(row, text));
  const fed = feeds.filter((row) => matches(row, text));
  return (
    <aside aria-label="Beacons" className="flex w-72 shrink-0 flex-col border-r border-line bg-panel text-sm">
      <header className="flex items-center gap-2 px-3 pt-2.5">
        <h2 className="font-bold">Beacons</h2>
        <span className="text-xs text-soft">{beacons.length.toLocaleString('en')} in this file</span>
        <Button
          look="quiet"
          square
          className="ml-auto"
          aria-label="Hide the beacons"
          onClick={() => toggleLeft('beacons')}
        >
          <X size={15} />
        </Button>
      </header>
      <Command shouldFilter={false} label="Beacons" loop className="flex min-h-0 flex-1 flex-col">
        <div className="px-3 py-2">
          <Command.Input
            value={text}
            onValueChange={setText}
            placeholder="Name, source, place or type"
            className={searchLook}
          />
          <p className="mt-1.5 text-xs text-soft">Click or drag one onto the graph to tap it there.</p>
        </div>
        <Command.List className="min-h-0 flex-1 overflow-auto px-1.5 pb-2">
          {found.map((row) => (
            <Command.Item
              key={row.node.id}
              value={row.node.id}
              draggable={!isLocked}
              onDragStart={(event) => {
                event.dataTransfer.setData(draggedBeacon, row.node.id);
                event.dataTransfer.effectAllowed = 'copy';
              }}
              onSelect={() => void tapHere(row.node, false)}
              onContextMenu={(event) => openMenuOf([row.node.id], event)}
              className={itemLook}
            >
              <Flag row={row} />
              <RowText row={row} />
              <GoButton node={row.node} />
            </Command.Item>
          ))}
          {found.length === 0 && (
            <p className="px-2 py-3 text-soft">
              {beacons.length > 0
                ? 'No beacon matches.'
                : 'No beacon yet. Select wires or nodes, and turn them into remote links: L, L.'}
            </p>
          )}
          {fed.length > 0 && <h3 className="px-2 pt-3 pb-1 font-bold">Standing feeds</h3>}
          {fed.map((row) => (
            <Command.Item
              key={row.node.id}
              value={row.node.id}
              onSelect={() => goTo(row.node)}
              onContextMenu={(event) => openMenuOf([row.node.id], event)}
              className={itemLook}
            >
              <Flag row={row} />
              <RowText row={row} />
            </Command.Item>
          ))}
        </Command.List>
      </Command>
      {findings.length > 0 && (
        <section
          aria-label="Findings on remote links"
          className="max-h-48 overflow-auto border-t border-line px-3 py-2"
        >
          <h3 className="mb-1 font-bold">To be looked at</h3>
          <ul className="flex flex-col gap-1.5">
            {findings.slice(0, 60).map((item) => (
              <li key={`${item.rule} ${item.place.join(' ')}`} className="flex gap-1.5 text-xs">
                <CircleAlert
                  size={13}
                  className={`mt-0.5 shrink-0 ${item.severity === 'warning' ? 'text-warn' : 'text-soft'}`}
                  aria-hidden="true"
                />
                <button
                  type="button"
                  className="text-left hover:underline"
                  onClick={() => goTo(must(state.doc.nodes.get(must(item.place.at(-1)))))}
                >
                  {item.message}
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </aside>
  );
}

const GoButton = ({ node }: { node: GraphNode }): ReactNode => (
  <Button
    look="quiet"
    square
    className="shrink-0"
    aria-label={`Go to ${node.name}`}
    title="Go there"
    onClick={(event) => {
      event.stopPropagation();
      goTo(node);
    }}
  >
    <LocateFixed size={14} />
  </Button>
);

/** Chooses a beacon: for a tap here, or for the selected taps to listen to. */
export function BeaconDialog({ use, onClose }: { use: 'tap' | 'retune'; onClose: () => void }): ReactNode {
  const rows = useRows(builtin.beacon);
  const [text, setText] = useState('');
  const found = rows.filter((row) => matches(row, text)).slice(0, 200);
  return (
    <Dialog
      open
      onClose={onClose}
      title={use === 'tap' ? 'Tap a beacon' : 'Listen to another beacon'}
      about={
        use === 'tap'
          ? 'The tap feeds the first open input of the selected node that accepts it; otherwise it is added without a wire.'
          : 'The nodes that the taps feed must accept its type.'
      }
    >
      <Command shouldFilter={false} label="Beacons" loop>
        <Command.Input
          autoFocus
          value={text}
          onValueChange={setText}
          placeholder="Which beacon? Name, source, place or type"
          className={searchLook}
        />
        <Command.List className="mt-2 max-h-[45vh] overflow-auto">
          {found.map((row) => (
            <Command.Item
              key={row.node.id}
              value={row.node.id}
              onSelect={() => {
                closeToCanvas();
                void (use === 'tap' ? tapHere(row.node, true) : perform('retune', { beacon: row.node.id }));
              }}
              className={itemLook}
            >
              <Flag row={row} />
              <RowText row={row} />
            </Command.Item>
          ))}
          {found.length === 0 && <p className="p-3 text-center text-soft">No beacon matches.</p>}
        </Command.List>
      </Command>
    </Dialog>
  );
}

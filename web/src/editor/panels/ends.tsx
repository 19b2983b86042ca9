import { builtin } from '@basitax/core/document/builtin';
import { caption, type Doc } from '@basitax/core/document/doc';
import type { Id } from '@basitax/core/document/ids';
import type { Kinds } from '@basitax/core/document/kinds';
import type { GraphNode } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { endPlace, endState, endUse, nodeBehind, otherEnds } from '@basitax/core/remote/ends';
import { beaconOf } from '@basitax/core/wiring/carriers';
import { effectiveWiring } from '@basitax/core/wiring/effective';
import { feedScope } from '@basitax/core/wiring/feeds';
import { Command } from 'cmdk';
import { type ReactNode, useMemo, useState } from 'react';
import { Button, Dialog } from '../../ui/controls.tsx';
import { perform, setParameter } from '../actions.ts';
import { linkWords } from '../canvas/paint/links.ts';
import { closeToCanvas, openDialog } from '../dialogs.ts';
import { type Editing, enterGraph, useEditing } from '../store.ts';
import { scopesOf } from './choosers.tsx';
import { ParameterField } from './parameter-field.tsx';

const go = (node: GraphNode): void => enterGraph(node.graph, [node.id]);

/** The other ends in the order of where they are, a tap’s beacon first. */
function sortedEnds(doc: Doc, kinds: Kinds, node: GraphNode): { end: GraphNode; title: string; place: string }[] {
  const rows = otherEnds(doc, effectiveWiring(doc, kinds), node).map((end) => ({ end, ...wordsOf(doc, end) }));
  const rank = (row: (typeof rows)[number]): string =>
    `${row.end.kind === builtin.beacon ? 0 : 1} ${row.place} ${row.title}`;
  return rows.sort((a, b) => (rank(a) < rank(b) ? -1 : 1));
}

/** What tells one end from another: beacons and nodes by name, taps by what they feed; then where it is. */
function wordsOf(doc: Doc, node: GraphNode): { title: string; place: string } {
  const title =
    node.kind === builtin.tap
      ? endUse(doc, node)
      : node.kind === builtin.beacon
        ? `beacon ${node.name}`
        : caption(node);
  return { title, place: endPlace(doc, node) };
}

/** The other ends of a link or feed, told apart by use and place; Enter goes there. */
export function EndsDialog({ id, onClose }: { id: Id; onClose: () => void }): ReactNode {
  const { doc, kinds } = useEditing();
  const [text, setText] = useState('');
  const node = doc.nodes.get(id);
  if (!node) return null;
  const ends = sortedEnds(doc, kinds, node);
  const found = ends
    .filter((row) => `${row.title} ${row.place} ${row.end.name}`.toLowerCase().includes(text.toLowerCase()))
    .slice(0, 300);
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Other ends of ${node.beacon?.name ?? node.name}`}
      about={`${ends.length.toLocaleString('en')} in all. Choose where to go; Back (G, B) leads back here.`}
    >
      <Command shouldFilter={false} label="Other ends" loop>
        <Command.Input
          autoFocus
          value={text}
          onValueChange={setText}
          placeholder="What it feeds, frame or graph"
          className="h-9 w-full rounded-sm border border-edge bg-ticket px-2"
        />
        <Command.List className="mt-2 max-h-[45vh] overflow-auto">
          {found.map(({ end, title, place }) => (
            <Command.Item
              key={end.id}
              value={end.id}
              onSelect={() => {
                closeToCanvas();
                go(end);
              }}
              className="cursor-pointer rounded-sm px-2 py-1.5 data-[selected=true]:bg-accent-wash"
            >
              <span className="block truncate">{title}</span>
              <span className="block truncate text-xs text-soft">{place}</span>
            </Command.Item>
          ))}
          {found.length === 0 && <p className="p-3 text-center text-soft">No other end matches.</p>}
        </Command.List>
      </Command>
    </Dialog>
  );
}

const mostListed = 5;

function Ends({ node, ends }: { node: GraphNode; ends: ReturnType<typeof sortedEnds> }): ReactNode {
  return (
    <ul className="flex flex-col gap-1">
      {ends.slice(0, mostListed).map(({ end, title, place }) => (
        <li key={end.id}>
          <button type="button" className="w-full text-left hover:bg-accent-wash" onClick={() => go(end)}>
            <span className="block truncate underline decoration-line underline-offset-2">{title}</span>
            <span className="block truncate text-xs text-soft">{place}</span>
          </button>
        </li>
      ))}
      {ends.length > mostListed && (
        <li>
          <Button className="w-full" onClick={() => openDialog({ ends: node.id })}>
            All {ends.length.toLocaleString('en')} …
          </Button>
        </li>
      )}
    </ul>
  );
}

/** How an end stands, who is at the other ends, and the parameters of what is behind. */
export function LinkSection({ node, state, locked }: { node: GraphNode; state: Editing; locked: boolean }): ReactNode {
  const { doc, kinds } = state;
  const wiring = effectiveWiring(doc, kinds);
  const stands = endState(doc, wiring, node);
  if (!stands) return null;
  const ends = sortedEnds(doc, kinds, node);
  const behind = nodeBehind(doc, wiring, node);
  const words = linkWords(node.kind, stands);
  const isGood = stands === 'heard' || stands === 'fed';
  const why = locked ? 'Nothing can be changed now.' : undefined;
  const counted =
    node.kind === builtin.beacon
      ? `Heard by ${ends.length}`
      : node.kind === builtin.tap
        ? ends.length > 1
          ? `Its beacon, and ${ends.length - 1} more taps`
          : 'Its beacon'
        : `Supplies ${ends.length} nodes`;
  return (
    <section className="flex flex-col gap-2" aria-label="Remote link">
      <p
        className={`font-bold ${isGood ? 'text-good' : 'text-warn'}`}
      >{`${must(words[0]).toUpperCase()}${words.slice(1)}`}</p>
      {node.kind === builtin.tap && (
        <p className="text-soft">
          Listens for <b className="text-ink">{node.beacon?.name}</b>
          {beaconOf(doc, node)?.id !== node.beacon?.id && stands !== 'lost' && ', heard by its name'}
        </p>
      )}
      {node.kind === builtin.feed && <FeedTypes node={node} state={state} locked={locked} />}
      <div className="grid grid-cols-2 gap-1.5">
        {node.kind === builtin.tap && (
          <Button className="px-1 text-xs" dim={why} onClick={() => openDialog({ beacons: 'retune' })}>
            Other beacon …
          </Button>
        )}
        {node.kind !== builtin.feed && (
          <Button
            className="px-1 text-xs"
            dim={why ?? (ends.length === 0 ? 'There is no other end.' : undefined)}
            onClick={() => void perform('to-wires', {}, [node.id])}
          >
            Draw as wires
          </Button>
        )}
      </div>
      {ends.length > 0 && (
        <>
          <h3 className="font-bold">{counted}</h3>
          <Ends node={node} ends={ends} />
        </>
      )}
      {behind && (
        <section
          className="flex flex-col gap-2.5 border-t border-line pt-2"
          aria-label={`Behind it: ${caption(behind)}`}
        >
          <h3 className="font-bold">Behind it</h3>
          <button
            type="button"
            className="truncate text-left underline decoration-line underline-offset-2"
            onClick={() => go(behind)}
          >
            {caption(behind)} <span className="text-soft">{kinds.title(behind.kind)}</span>
          </button>
          {kinds.parameters(behind.kind).map((spec) => (
            <ParameterField
              key={`${behind.id} ${spec.id}`}
              nodes={[behind]}
              spec={spec}
              kinds={kinds}
              locked={locked || behind.locked === true}
            />
          ))}
        </section>
      )}
    </section>
  );
}

/** The data types that a feed is for, and what it covers. */
function FeedTypes({ node, state, locked }: { node: GraphNode; state: Editing; locked: boolean }): ReactNode {
  const { doc, kinds } = state;
  const types = kinds.feedTypes(node);
  const scope = feedScope(doc, node);
  const scopes = useMemo(() => scopesOf(doc, kinds, node), [doc, kinds, node]);
  const feedable = new Set(
    kinds
      .feedableKinds()
      .flatMap((id) => must(kinds.kind(id)).ports.flatMap((port) => (port.feedable ? [port.type] : []))),
  );
  const turn = (type: string): void => {
    const next = types.includes(type) ? types.filter((one) => one !== type) : [...types, type];
    void setParameter([node.id], 'types', next.join(', '));
  };
  const offered = kinds.catalogue.types.filter((type) => feedable.has(type.id) || types.includes(type.id));
  return (
    <fieldset className="flex min-w-0 flex-col gap-1">
      <legend className="text-soft">Supplies open inputs of</legend>
      <div className="flex flex-wrap gap-x-3 gap-y-1">
        {offered.map((type) => (
          <label key={type.id} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="size-4 accent-accent"
              checked={types.includes(type.id)}
              disabled={locked}
              onChange={() => turn(type.id)}
            />
            {type.title}
          </label>
        ))}
      </div>
      <label className="flex min-w-0 items-center gap-2">
        <span className="text-soft">in</span>
        <select
          aria-label="What it supplies"
          className="h-8 min-w-0 flex-1 rounded-sm border border-edge bg-ticket px-1.5"
          value={scope}
          disabled={locked}
          onChange={(event) => void perform('feed-scope', { scope: event.target.value }, [node.id])}
        >
          {scopes.map(({ id, title }) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </select>
      </label>
    </fieldset>
  );
}

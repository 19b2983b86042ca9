import { builtin } from '@basitax/core/document/builtin';
import { caption, indexOf } from '@basitax/core/document/doc';
import type { GraphNode } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { Candidates } from '@basitax/core/wiring/candidates';
import { effectiveWiring } from '@basitax/core/wiring/effective';
import { carriedType } from '@basitax/core/wiring/types';
import { useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { BookmarkPlus } from 'lucide-react';
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { api } from '../../api/client.ts';
import { Button, Dialog, Field } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { commandById } from '../commands.ts';
import { turnKept, useKept } from '../kept.ts';
import { mayEdit, whyNoEdit } from '../may-edit.ts';
import { type Editing, enterGraph, useEditing } from '../store.ts';
import { AttributeSection } from './attributes.tsx';
import { ColorField } from './color-field.tsx';
import { DetailSection } from './detail.tsx';
import { Draft } from './draft.tsx';
import { LinkSection } from './ends.tsx';
import { FramePanel, NotePanel } from './frame-panel.tsx';
import { KeptPanels } from './kept-panels.tsx';
import { NestedSection, SharedSection } from './nested-section.tsx';
import { Parameters } from './parameters.tsx';

/** What is selected, to be read and changed. */
export function Inspector(): ReactNode {
  const state = useEditing();
  const nodes = state.selection.flatMap((id) => state.doc.nodes.get(id) ?? []);
  const panel = useRef<HTMLElement>(null);
  const first = state.selection[0];
  // another one is read from its beginning
  // biome-ignore lint/correctness/useExhaustiveDependencies: it begins anew with each other selection
  useEffect(() => {
    // in braces: newer browsers give a promise back, which is no way to clean up
    panel.current?.scrollTo(0, 0);
  }, [first, state.selection.length]);
  return (
    <aside
      ref={panel}
      aria-label="Inspector"
      className="w-72 shrink-0 overflow-auto border-l border-line bg-panel p-3 text-sm"
    >
      {nodes.length === 1 ? (
        <NodePanel key={must(nodes[0]).id} node={must(nodes[0])} state={state} />
      ) : state.selection.length > 0 ? (
        <SelectionPanel nodes={nodes} state={state} />
      ) : (
        <GraphPanel state={state} />
      )}
      <KeptPanels state={state} locked={!mayEdit(state)} />
    </aside>
  );
}

function Facts({ rows }: { rows: readonly (readonly [string, ReactNode])[] }): ReactNode {
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
      {rows.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-soft">{name}</dt>
          <dd className="min-w-0 text-right break-words">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

function GraphPanel({ state }: { state: Editing }): ReactNode {
  const index = indexOf(state.doc);
  const graph = state.doc.graphs.get(state.graph);
  const nodes = index.nodesIn(state.graph);
  const byCategory = useMemo(() => {
    const counts = new Map<string, number>();
    for (const node of nodes)
      counts.set(state.kinds.category(node.kind).title, (counts.get(state.kinds.category(node.kind).title) ?? 0) + 1);
    return [...counts].sort((a, b) => b[1] - a[1]);
  }, [nodes, state.kinds]);
  return (
    <div className="flex flex-col gap-4">
      <h2 className="font-bold">{graph?.name}</h2>
      <Facts
        rows={[
          ['Nodes', nodes.length.toLocaleString('en')],
          ['Wires', index.wiresIn(state.graph).length.toLocaleString('en')],
          ['Frames', index.framesIn(state.graph).length],
          ['Flow', graph?.flow ?? 'right'],
        ]}
      />
      <CatalogueRow state={state} />
      {byCategory.length > 0 && (
        <div>
          <h3 className="mb-1 font-bold">Categories</h3>
          <Facts rows={byCategory.map(([title, count]) => [title, count.toLocaleString('en')] as const)} />
        </div>
      )}
      {nodes.length > 0 && <DetailSection nodes={nodes} all locked={!mayEdit(state)} />}
      {graph && <AttributeSection of="graph" id={undefined} record={graph} state={state} />}
      <p className="text-xs text-soft">
        Select a node to see its parameters. Drag on the ground to move the window, with Shift to select a box, with
        Shift and Alt to draw a lasso.
      </p>
    </div>
  );
}

/** The version of the catalogue that the file is read with, and the way to a newer one. */
function CatalogueRow({ state }: { state: Editing }): ReactNode {
  const { id, version } = state.doc.head.catalogue;
  const list = useQuery({ queryKey: ['catalogues'], queryFn: api.catalogues, retry: false });
  const team = list.data?.team;
  if (id === 'none') return null;
  const newer = team?.id === id && team.version > version ? team.version : undefined;
  return (
    <div className="flex flex-col gap-1.5">
      <Facts rows={[['Catalogue', `${state.catalogue.title}, version ${version}`]]} />
      {newer !== undefined && (
        <Button
          dim={whyNoEdit(state)}
          title="Nodes keep their ports; other defaults may change what is computed"
          onClick={() => void perform('read-with', { id, version: newer }, [])}
        >
          Read with version {newer}
        </Button>
      )}
    </div>
  );
}

/** What can be done with a wire, in short words. */
const wireActs: Readonly<Record<string, string>> = {
  'in-hand': 'Take in hand',
  'switch-wires': 'Off or on',
  reroute: 'Reroute point',
  'cut-wires': 'Cut',
};

function SelectionPanel({ nodes, state }: { nodes: readonly GraphNode[]; state: Editing }): ReactNode {
  const others = state.selection.length - nodes.length;
  const locked = !mayEdit(state);
  const frame = state.selection.length === 1 ? state.doc.frames.get(must(state.selection[0])) : undefined;
  const wire = state.selection.length === 1 ? state.doc.wires.get(must(state.selection[0])) : undefined;
  const note = state.selection.length === 1 ? state.doc.notes.get(must(state.selection[0])) : undefined;
  const framed = frame ?? note;
  if (framed)
    return (
      <div key={framed.id} className="flex flex-col gap-4">
        {frame && <FramePanel item={frame} state={state} locked={locked} />}
        {note && <NotePanel item={note} state={state} locked={locked} />}
        <AttributeSection of={frame ? 'frame' : 'note'} id={framed.id} record={framed} state={state} />
      </div>
    );
  if (wire) {
    const end = (ref: typeof wire.from): string => `${caption(must(state.doc.nodes.get(ref.node)))}, ${ref.port}`;
    return (
      <div className="flex flex-col gap-3">
        <h2 className="font-bold">Wire</h2>
        <Facts
          rows={[
            ['From', end(wire.from)],
            ['To', end(wire.to)],
            ['Carries', state.kinds.type(carriedType(state.doc, state.kinds, wire.from)).title],
            ['State', wire.off ? 'switched off' : 'on'],
          ]}
        />
        <div className="grid grid-cols-2 gap-1.5">
          {['in-hand', 'switch-wires', 'reroute', 'cut-wires'].map((id) => {
            const command = must(commandById(id));
            return (
              <Button
                key={id}
                className="px-1 text-xs"
                dim={command.dim(state)}
                title={command.about}
                onClick={command.run}
              >
                {wireActs[id]}
              </Button>
            );
          })}
        </div>
        <AttributeSection of="wire" id={wire.id} record={wire} state={state} />
      </div>
    );
  }
  const kinds = new Map<string, number>();
  for (const node of nodes) kinds.set(state.kinds.title(node.kind), (kinds.get(state.kinds.title(node.kind)) ?? 0) + 1);
  return (
    <div className="flex flex-col gap-3">
      <h2 className="font-bold">
        {nodes.length.toLocaleString('en')} nodes{others > 0 && ` and ${others} other things`}
      </h2>
      <Facts rows={[...kinds].sort((a, b) => b[1] - a[1]).map(([title, count]) => [title, count] as const)} />
      {nodes.length > 0 && (
        <Parameters
          key={nodes
            .map((node) => node.id)
            .join(' ')
            .slice(0, 4000)}
          nodes={nodes}
          kinds={state.kinds}
          locked={locked}
        />
      )}
      {state.selection.length > 0 && (
        <ColorField
          label="Own colour"
          value={sharedColor(state)}
          none="By the scheme"
          locked={locked}
          onTake={(color) => void perform('color', { color })}
        />
      )}
      {nodes.length > 0 && <DetailSection nodes={nodes} locked={locked} />}
      {nodes.length > 0 && nodes.length <= 12 && (
        <div>
          <h3 className="mb-1 font-bold">In order of selection</h3>
          <ol className="list-decimal pl-5 text-soft">
            {nodes.map((node) => (
              <li key={node.id}>{caption(node)}</li>
            ))}
          </ol>
        </div>
      )}
    </div>
  );
}

/** The own colour that all of the selection have. */
function sharedColor({ doc, selection }: Editing): string | undefined {
  const colors = selection.map((id) => (doc.nodes.get(id) ?? doc.frames.get(id) ?? doc.notes.get(id))?.color);
  return colors.every((color) => color === colors[0]) ? colors[0] : undefined;
}

function NodePanel({ node, state }: { node: GraphNode; state: Editing }): ReactNode {
  const { kinds } = state;
  const locked = !mayEdit(state);
  const isKept = useKept((one) => one.kept.includes(node.id));
  return (
    <div className="flex flex-col gap-4">
      <div className="flex items-start gap-1">
        <div className="min-w-0 flex-1">
          <h2 className="font-bold break-words">{caption(node)}</h2>
          <p className="text-soft">
            {kinds.title(node.kind)}
            {node.bypassed && ', bypassed'}
            {node.pinned && ', pinned'}
            {node.locked && ', locked'}
          </p>
        </div>
        <Button
          look="quiet"
          square
          className="size-7"
          aria-pressed={isKept}
          aria-label="Keep this panel open"
          title="Keep its parameters here while you select other nodes"
          onClick={() => turnKept(node.id)}
        >
          <BookmarkPlus size={15} className={isKept ? 'text-accent' : ''} />
        </Button>
      </div>
      <Field label="Name">
        <Draft value={node.name} locked={locked} onTake={(name) => perform('rename', { name }, [node.id])} />
      </Field>
      <Field label="Label">
        <Draft value={node.label ?? ''} locked={locked} onTake={(label) => perform('label', { label }, [node.id])} />
      </Field>
      {node.inner !== undefined && <NestedSection node={node} locked={locked} />}
      <SharedSection node={node} state={state} locked={locked} />
      <LinkSection node={node} state={state} locked={locked} />
      {node.kind !== builtin.feed && <Parameters nodes={[node]} kinds={kinds} locked={locked} />}
      <Wiring node={node} state={state} locked={locked} />
      <ColorField
        label="Own colour"
        value={node.color}
        none="By the scheme"
        locked={locked}
        onTake={(color) => void perform('color', { color }, [node.id])}
      />
      <DetailSection nodes={[node]} locked={locked} />
      <AttributeSection of="node" id={node.id} record={node} state={state} />
    </div>
  );
}

/** Where each input comes from, and a way to wire it without the mouse. */
function Wiring({ node, state, locked }: { node: GraphNode; state: Editing; locked: boolean }): ReactNode {
  const [input, setInput] = useState<string>();
  const index = indexOf(state.doc);
  const inputs = node.ports.filter((port) => port.direction === 'in');
  const outputs = node.ports.filter((port) => port.direction === 'out');
  const go = (id: string): void => enterGraph(node.graph, [id]);
  const link = 'truncate text-left underline decoration-line underline-offset-2 hover:decoration-ink';
  return (
    <section className="flex flex-col gap-1.5" aria-label="Wires">
      <h3 className="font-bold">Wires</h3>
      {inputs.map((port) => {
        const wire = index.wireInto(node.id, port.id);
        const source = wire && state.doc.nodes.get(wire.from.node);
        return (
          <div key={port.id} className="grid grid-cols-[5.5rem_1fr_auto] items-center gap-1.5">
            <span className="truncate text-soft" title={`${port.name}, ${state.kinds.type(port.type).title}`}>
              {port.name}
            </span>
            {source ? (
              <button type="button" className={link} onClick={() => go(source.id)}>
                {caption(source)}
              </button>
            ) : (
              <FedBy node={node} port={port.id} state={state} look={link} />
            )}
            <Button
              look="quiet"
              className="h-6 px-1.5 text-xs"
              aria-label={`Wire ${port.name}`}
              dim={locked ? 'Nothing can be changed now.' : undefined}
              onClick={() => setInput(port.id)}
            >
              wire
            </Button>
          </div>
        );
      })}
      {outputs.map((port) => (
        <div key={port.id} className="grid grid-cols-[5.5rem_1fr] gap-1.5">
          <span className="truncate text-soft">{port.name} →</span>
          <span className="flex min-w-0 flex-col">
            {index
              .wiresOutOf(node.id, port.id)
              .slice(0, 6)
              .map((wire) => (
                <button key={wire.id} type="button" className={link} onClick={() => go(wire.to.node)}>
                  {caption(must(state.doc.nodes.get(wire.to.node)))}
                </button>
              ))}
            {index.wiresOutOf(node.id, port.id).length > 6 && (
              <span className="text-soft">and {index.wiresOutOf(node.id, port.id).length - 6} more</span>
            )}
            {index.wiresOutOf(node.id, port.id).length === 0 && <span className="text-soft">goes nowhere</span>}
          </span>
        </div>
      ))}
      {input !== undefined && (
        <SourceDialog node={node} input={input} state={state} onClose={() => setInput(undefined)} />
      )}
    </section>
  );
}

/** What supplies an input without a wire: a standing feed, or nothing. */
function FedBy({
  node,
  port,
  state,
  look,
}: {
  node: GraphNode;
  port: string;
  state: Editing;
  look: string;
}): ReactNode {
  const feed = state.doc.nodes.get(effectiveWiring(state.doc, state.kinds).feedOf(node.id, port) ?? '');
  if (!feed) return <span className="text-soft">open</span>;
  return (
    <button
      type="button"
      className={look}
      title="Supplied by a standing feed"
      onClick={() => enterGraph(feed.graph, [feed.id])}
    >
      feed {caption(feed)}
    </button>
  );
}

/** The outputs of this graph that fit an input, by name. */
function SourceDialog({
  node,
  input,
  state,
  onClose,
}: {
  node: GraphNode;
  input: string;
  state: Editing;
  onClose: () => void;
}): ReactNode {
  const [text, setText] = useState('');
  const fitting = useMemo(() => {
    const port = must(node.ports.find((own) => own.direction === 'in' && own.id === input));
    return indexOf(state.doc)
      .nodesIn(state.graph)
      .filter((other) => other.id !== node.id)
      .flatMap((other) =>
        other.ports
          .filter((own) => own.direction === 'out' && state.kinds.accepts(port.type, own.type))
          .map((own) => ({ other, port: own, text: `${caption(other)} ${other.name} ${own.name}`.toLowerCase() })),
      );
  }, [node, input, state.doc, state.graph, state.kinds]);
  // the loops that a wire would close are sought once for all rows
  const candidates = useMemo(
    () => new Candidates(state.doc, state.kinds, { fixed: { node: node.id, port: input }, direction: 'in' }),
    [state.doc, state.kinds, node.id, input],
  );
  const found = fitting.filter((item) => item.text.includes(text.toLowerCase())).slice(0, 60);
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Wire “${input}” of ${caption(node)}`}
      about={`${fitting.length.toLocaleString('en')} outputs fit. Choose where it comes from.`}
    >
      <Command shouldFilter={false} label="Outputs that fit" loop>
        <Command.Input
          autoFocus
          value={text}
          onValueChange={setText}
          placeholder="Part of a name"
          className="h-9 w-full rounded-sm border border-edge bg-ticket px-2"
        />
        <Command.List className="mt-2 max-h-[40vh] overflow-auto">
          {found.map(({ other, port }) => {
            const reason = candidates.refusal(other, port)?.message;
            return (
              <Command.Item
                key={`${other.id} ${port.id}`}
                value={`${other.id} ${port.id}`}
                disabled={reason !== undefined}
                onSelect={() => {
                  onClose();
                  void perform('connect', {
                    from: { node: other.id, port: port.id },
                    to: { node: node.id, port: input },
                    replace: true,
                  });
                }}
                className="cursor-pointer rounded-sm px-2 py-1.5 data-[disabled=true]:opacity-45 data-[selected=true]:bg-accent-wash"
              >
                {caption(other)}, {port.name}{' '}
                <span className="text-xs text-soft">{reason ?? state.kinds.title(other.kind)}</span>
              </Command.Item>
            );
          })}
          {found.length === 0 && <p className="p-3 text-center text-soft">No output has that name.</p>}
        </Command.List>
      </Command>
    </Dialog>
  );
}

import { caption, type Doc, graphPath } from '@basitax/core/document/doc';
import { titleOf } from '@basitax/core/document/geometry';
import type { Kinds } from '@basitax/core/document/kinds';
import type { GraphNode } from '@basitax/core/document/schema';
import { Finder, type Found, neighboursOf } from '@basitax/core/query/find';
import { Command } from 'cmdk';
import { Frame, Network, Square } from 'lucide-react';
import { type ReactNode, useDeferredValue, useEffect, useMemo, useState } from 'react';
import { ListDialog } from '../../ui/controls.tsx';
import { closeToCanvas } from '../dialogs.ts';
import { enterGraph, useEditing } from '../store.ts';

const finders = new WeakMap<Kinds, Finder>();

/** The index of the file, brought up to date a slice at a time, so that nothing is held up. */
function useFinder(doc: Doc, kinds: Kinds): { finder: Finder; ready: boolean; fraction: number } {
  const own = useMemo(() => {
    const known = finders.get(kinds) ?? new Finder(kinds);
    finders.set(kinds, known);
    return known;
  }, [kinds]);
  const [done, setDone] = useState<{ doc: Doc | undefined; fraction: number }>({ doc: undefined, fraction: 0 });
  useEffect(() => {
    const work = own.follow(doc);
    let timer: ReturnType<typeof setTimeout> | undefined;
    const slice = (): void => {
      const until = performance.now() + 12;
      for (let next = work.next(); ; next = work.next()) {
        if (next.done) {
          setDone({ doc, fraction: 1 });
          return;
        }
        if (performance.now() > until) {
          setDone({ doc: undefined, fraction: next.value });
          timer = setTimeout(slice, 0);
          return;
        }
      }
    };
    slice();
    return () => clearTimeout(timer);
  }, [doc, own]);
  return { finder: own, ready: done.doc === doc, fraction: done.fraction };
}

const most = 60;

/** Part of a name, label, kind, frame title or value: the best first, from the whole file; Enter goes there. */
export function FindDialog({ onClose }: { onClose: () => void }): ReactNode {
  const { doc, kinds, graph } = useEditing();
  const [text, setText] = useState('');
  const index = useFinder(doc, kinds);
  const asked = useDeferredValue(text);
  const found = useMemo(() => {
    if (!index.ready) return undefined;
    const started = performance.now();
    const hits = index.finder.find(asked, most);
    performance.measure('find', { start: started, end: performance.now() });
    return hits;
  }, [index.ready, index.finder, asked]);
  // the first hit is chosen until another is pointed at
  const [pointed, setPointed] = useState('');
  const chosen = found?.some((hit) => hit.id === pointed) ? pointed : (found?.[0]?.id ?? '');
  const go = (hit: Found): void => {
    closeToCanvas();
    enterGraph(hit.graph, [hit.id]);
  };
  return (
    <ListDialog title="Find and go" onClose={onClose} size="max-w-3xl">
      <Command label="Find and go" shouldFilter={false} loop value={chosen} onValueChange={setPointed}>
        <Command.Input
          autoFocus
          value={text}
          onValueChange={(next) => {
            setText(next);
            setPointed('');
          }}
          onKeyDown={(event) => {
            // who types and presses Enter at once means what was typed, not what is still listed
            if (event.key !== 'Enter' || event.nativeEvent.isComposing || (index.ready && asked === text)) return;
            event.preventDefault();
            const first = index.ready ? index.finder.find(text, 1)[0] : undefined;
            if (first) go(first);
          }}
          placeholder="Part of a name, label, kind, frame title or value"
          className="h-11 w-full border-b border-line bg-transparent px-3 outline-none"
        />
        <Command.List className="max-h-[64vh] overflow-auto p-1.5">
          {!index.ready && (
            <p className="p-4 text-center text-sm text-soft">
              Reading the file, {Math.round(index.fraction * 100)} % …
            </p>
          )}
          {found?.length === 0 && (
            <p className="p-4 text-center text-sm text-soft">
              {asked.trim() === '' ? emptyText(doc) : 'No name matches.'}
            </p>
          )}
          {found?.map((hit) => (
            <Command.Item
              key={hit.id}
              value={hit.id}
              onSelect={() => go(hit)}
              className="grid cursor-pointer grid-cols-[1rem_minmax(9rem,1fr)_8rem_minmax(10rem,1.5fr)] items-baseline gap-x-3 rounded-sm px-2 py-1.5 text-sm data-[selected=true]:bg-accent-wash"
            >
              <Hit hit={hit} doc={doc} kinds={kinds} here={graph} />
            </Command.Item>
          ))}
          {found?.length === most && (
            <p className="px-2 py-1.5 text-xs text-soft">The {most} best are listed; type more to narrow them down.</p>
          )}
        </Command.List>
      </Command>
    </ListDialog>
  );
}

function emptyText(doc: Doc): string {
  const count = doc.nodes.size + doc.frames.size;
  return count === 0
    ? 'There is nothing in this file yet.'
    : `Looks through ${count.toLocaleString('en')} nodes and frames, those in nested graphs too.`;
}

/** What tells a hit from a hundred others of its name: kind, where it lies, what it is wired to. */
function Hit({ hit, doc, kinds, here }: { hit: Found; doc: Doc; kinds: Kinds; here: string }): ReactNode {
  const path = graphPath(doc, hit.graph)
    .slice(1)
    .map((id) => doc.graphs.get(id)?.name ?? id)
    .join(' / ');
  const inGraph = hit.graph === here ? '' : path || 'outermost graph';
  if (hit.type === 'frame') {
    const frame = doc.frames.get(hit.id);
    return (
      <>
        <Frame size={14} className="self-center text-soft" aria-label="Frame" />
        <span className="truncate font-bold">{titleOf(frame)}</span>
        <span className="truncate text-soft">Frame</span>
        <span className="truncate text-xs text-soft">{inGraph && `in ${inGraph}`}</span>
      </>
    );
  }
  const node = doc.nodes.get(hit.id);
  if (!node) return null;
  const Icon = node.inner === undefined ? Square : Network;
  const frame = node.frame === undefined ? undefined : doc.frames.get(node.frame);
  return (
    <>
      <Icon
        size={14}
        className="self-center text-soft"
        aria-label={node.inner === undefined ? 'Node' : 'Nested graph'}
      />
      <span className="min-w-0 truncate">
        <span className="font-bold">{caption(node)}</span>
        {node.label && <span className="ml-1.5 text-xs text-soft">{node.name}</span>}
      </span>
      <span className="truncate text-soft">{kinds.title(node.kind)}</span>
      <span className="min-w-0 truncate text-xs text-soft">
        {[inGraph && `in ${inGraph}`, frame && (frame.title || 'untitled frame'), wiredTo(doc, node)]
          .filter(Boolean)
          .join(' · ')}
      </span>
    </>
  );
}

function wiredTo(doc: Doc, node: GraphNode): string {
  const { before, after, more } = neighboursOf(doc, node.id, 1);
  const side = (nodes: readonly GraphNode[]): string => nodes.map(caption).join(', ');
  if (before.length + after.length === 0) return 'wired to nothing';
  return `${side(before)}${before.length > 0 ? ' → ' : ''}●${after.length > 0 ? ' → ' : ''}${side(after)}${more > 0 ? ` +${more}` : ''}`;
}

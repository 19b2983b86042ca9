import type { Id } from '@basitax/core/document/ids';
import { Outline, type OutlineRow } from '@basitax/core/inspect/outline';
import { must } from '@basitax/core/must';
import { useVirtualizer } from '@tanstack/react-virtual';
import { X } from 'lucide-react';
import { type KeyboardEvent, type ReactNode, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { Button } from '../../ui/controls.tsx';
import { setLayout } from '../layout.ts';
import { openMenuOf } from '../menu/menu.ts';
import { enterGraph, select, useEditing, useEditor } from '../store.ts';
import { Row, rowHeight } from './outline-row.tsx';

const { getState } = useEditor;

/** The rows that are open, the one that the keys are at, and what opens and closes others. */
function useTree() {
  const { doc: current, kinds, selection } = useEditing();
  // a large tree is made anew behind what is typed and dragged
  const doc = useDeferredValue(current);
  const outline = useMemo(() => new Outline(doc, kinds), [doc, kinds]);
  const [open, setOpen] = useState<ReadonlySet<Id>>(() => new Set([doc.head.root]));
  const [levels, setLevels] = useState(1);
  const rows = useMemo(() => outline.rows(open), [outline, open]);
  const [at, setAt] = useState(0);
  const list = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => list.current,
    estimateSize: () => rowHeight,
    overscan: 12,
  });
  const turn = (row: OutlineRow, wanted = !row.open): void => {
    if (!row.opens) return;
    const next = new Set(open);
    if (wanted) next.add(row.id);
    else next.delete(row.id);
    setOpen(next);
  };
  const openTo = (depth: number): void => {
    setLevels(depth);
    setOpen(outline.openable(depth));
  };
  const move = (to: number): void => {
    const next = Math.max(0, Math.min(rows.length - 1, to));
    setAt(next);
    virtual.scrollToIndex(next);
  };
  const showSelected = (): void => {
    const wanted = selection.filter((id) => doc.nodes.has(id) || doc.frames.has(id));
    setOpen(new Set([...open, ...wanted.flatMap((id) => outline.pathTo(id))]));
  };
  // once rows of the selection are open, the first of them comes into sight
  const first = selection[0];
  useEffect(() => {
    const index = first === undefined ? -1 : rows.findIndex((row) => row.id === first);
    const [at, box] = [index * rowHeight, list.current];
    if (index >= 0 && box && (at < box.scrollTop || at + rowHeight > box.scrollTop + box.clientHeight))
      virtual.scrollToIndex(index, { align: 'center' });
  }, [first, rows, virtual]);
  return { doc, outline, rows, at, setAt, levels, list, virtual, turn, openTo, move, showSelected };
}

type Tree = ReturnType<typeof useTree>;

/** What a key does at a row, as in any tree (WAI-ARIA Authoring Practices, tree view). */
function keyAct(
  { rows, at, move, turn, openTo }: Tree,
  event: KeyboardEvent<HTMLElement>,
  row: OutlineRow,
): (() => void) | undefined {
  switch (event.key) {
    case 'ArrowDown':
      return () => move(at + 1);
    case 'ArrowUp':
      return () => move(at - 1);
    case 'Home':
      return () => move(0);
    case 'End':
      return () => move(rows.length - 1);
    case 'ArrowRight':
      return () => (row.opens && !row.open ? turn(row, true) : move(at + 1));
    case 'ArrowLeft':
      return () =>
        row.open ? turn(row, false) : move(rows.findLastIndex((other, i) => i < at && other.depth < row.depth));
    case 'Enter':
      return () => go(row);
    case ' ':
      return () => choose(row, event);
    case '*':
      return () => openTo(row.depth + 2);
    default:
      return undefined;
  }
}

/** The tree of nested graphs, frames and nodes of the whole file. */
export function OutlinePanel(): ReactNode {
  const { selection, graph } = useEditing();
  const tree = useTree();
  const { doc, outline, rows, at, setAt, list, virtual, turn } = tree;
  const selected = useMemo(() => new Set(selection), [selection]);
  const key = (event: KeyboardEvent<HTMLElement>): void => {
    const row = rows[at];
    if (!row || event.ctrlKey || event.metaKey || event.altKey) return;
    const act = keyAct(tree, event, row);
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };
  return (
    <aside aria-label="Outline" className="flex w-72 shrink-0 flex-col border-r border-line bg-panel text-sm">
      <Header tree={tree} hasSelection={selection.length > 0} />
      <div
        ref={list}
        role="tree"
        aria-label="Nested graphs, frames and nodes"
        aria-multiselectable="true"
        aria-activedescendant={rows[at] && `outline-${rows[at].id}`}
        tabIndex={0}
        className="min-h-0 flex-1 overflow-auto focus-visible:outline-offset-[-2px]"
        onKeyDown={key}
        onContextMenu={(event) => {
          // the menu key is for the row that the keyboard is on
          const row = rows[at];
          const line = row && document.getElementById(`outline-${row.id}`);
          if (event.target === event.currentTarget && line && row.type !== 'graph') openMenuOf([row.id], event, line);
        }}
      >
        <div className="relative w-full" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const row = must(rows[item.index]);
            return (
              <Row
                key={row.id}
                row={row}
                top={item.start}
                marks={outline.marks(row)}
                selected={selected.has(row.id)}
                active={item.index === at}
                here={row.graph === graph}
                doc={doc}
                onTurn={() => turn(row)}
                onPress={(event) => {
                  setAt(item.index);
                  choose(row, event);
                }}
                onGo={() => go(row)}
              />
            );
          })}
        </div>
      </div>
    </aside>
  );
}

function Header({
  tree: { levels, openTo, showSelected },
  hasSelection,
}: {
  tree: Tree;
  hasSelection: boolean;
}): ReactNode {
  return (
    <header className="flex items-center border-b border-line py-1.5 pr-1 pl-2">
      <h2 className="mr-auto font-bold">Outline</h2>
      <Button
        look="quiet"
        className="h-6 px-1.5 text-xs"
        title="Opens one more level"
        onClick={() => openTo(levels + 1)}
      >
        +1 level
      </Button>
      <Button
        look="quiet"
        className="h-6 px-1.5 text-xs"
        title="Opens everything"
        onClick={() => openTo(Number.POSITIVE_INFINITY)}
      >
        All
      </Button>
      <Button
        look="quiet"
        className="h-6 px-1.5 text-xs"
        title="Closes all but the first level"
        onClick={() => openTo(1)}
      >
        None
      </Button>
      <Button
        look="quiet"
        className="h-6 px-1.5 text-xs"
        title="Opens the way to what is selected"
        dim={hasSelection ? undefined : 'Nothing is selected.'}
        onClick={showSelected}
      >
        Selected
      </Button>
      <Button
        look="quiet"
        square
        className="h-6 w-6"
        aria-label="Close the outline"
        onClick={() => setLayout({ left: undefined })}
      >
        <X size={14} />
      </Button>
    </header>
  );
}

/** Where a row leads: into the graph that it lies in, with it selected. */
function go(row: OutlineRow): void {
  if (row.type === 'graph') enterGraph(row.graph);
  else enterGraph(row.graph, [row.id]);
}

/** Selects a row's node or frame; in another graph, that graph is shown. */
function choose(row: OutlineRow, event: { ctrlKey: boolean; metaKey: boolean; shiftKey: boolean }): void {
  if (row.type === 'graph') return;
  const { selection, graph } = getState();
  if (row.graph !== graph) enterGraph(row.graph, [row.id]);
  else if (event.ctrlKey || event.metaKey)
    select(selection.includes(row.id) ? selection.filter((id) => id !== row.id) : [...selection, row.id]);
  else if (event.shiftKey) select(selection.includes(row.id) ? selection : [...selection, row.id]);
  else select([row.id]);
}

import type { Doc } from '@basitax/core/document/doc';
import type { Id } from '@basitax/core/document/ids';
import { Outline, type OutlineMark, type OutlineRow, outlineMarks } from '@basitax/core/inspect/outline';
import { must } from '@basitax/core/must';
import { useVirtualizer } from '@tanstack/react-virtual';
import {
  ChevronDown,
  ChevronRight,
  CircleSlash,
  EyeOff,
  Frame,
  Layers2,
  type LucideIcon,
  Minimize2,
  Network,
  Pin,
  Square,
  SquareDashed,
  Unplug,
  X,
} from 'lucide-react';
import {
  type DragEvent,
  type KeyboardEvent,
  type MouseEvent,
  type ReactNode,
  useDeferredValue,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import { Button } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { setLayout } from '../layout.ts';
import { enterGraph, select, showGraph, useEditing, useEditor } from '../store.ts';

const { getState } = useEditor;
const rowHeight = 26;

const markIcons: Record<OutlineMark, LucideIcon> = {
  bypassed: CircleSlash,
  pinned: Pin,
  closed: Minimize2,
  hidden: EyeOff,
  unwired: Unplug,
  stacked: Layers2,
  empty: SquareDashed,
};

/** The tree of nested graphs, frames and nodes of the whole file. */
export function OutlinePanel(): ReactNode {
  const { doc: current, kinds, selection, graph } = useEditing();
  // a large tree is made anew behind what is typed and dragged
  const doc = useDeferredValue(current);
  const outline = useMemo(() => new Outline(doc, kinds), [doc, kinds]);
  const [open, setOpen] = useState<ReadonlySet<Id>>(() => new Set([doc.head.root]));
  const [levels, setLevels] = useState(1);
  const rows = useMemo(() => outline.rows(open), [outline, open]);
  const selected = useMemo(() => new Set(selection), [selection]);
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

  const key = (event: KeyboardEvent<HTMLElement>): void => {
    const row = rows[at];
    if (!row || event.ctrlKey || event.metaKey || event.altKey) return;
    const act = keyAct(event, row);
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };
  const keyAct = (event: KeyboardEvent<HTMLElement>, row: OutlineRow): (() => void) | undefined => {
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
  };
  return (
    <aside aria-label="Outline" className="flex w-72 shrink-0 flex-col border-r border-line bg-panel text-sm">
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
          dim={selection.length === 0 ? 'Nothing is selected.' : undefined}
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
      <div
        ref={list}
        role="tree"
        aria-label="Nested graphs, frames and nodes"
        aria-multiselectable="true"
        aria-activedescendant={rows[at] && `outline-${rows[at].id}`}
        tabIndex={0}
        className="min-h-0 flex-1 overflow-auto focus-visible:outline-offset-[-2px]"
        onKeyDown={key}
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

const dragged = 'application/x-basitax-nodes';

/** Nodes that are dropped on a frame become its members; on a graph or a nested node, they move there. */
async function drop(ids: readonly Id[], row: OutlineRow, doc: Doc): Promise<void> {
  const target = row.type === 'graph' ? row.graph : row.type === 'frame' ? row.graph : doc.nodes.get(row.id)?.inner;
  const frame = row.type === 'frame' ? row.id : '';
  const nodes = ids.flatMap((id) => doc.nodes.get(id) ?? []);
  const from = nodes[0]?.graph;
  if (target === undefined || from === undefined) return;
  if (from === target) await perform('to-frame', { frame }, ids);
  else {
    showGraph(from, ids);
    await perform('to-graph', { graph: target, frame }, ids);
  }
}

function Row({
  row,
  top,
  marks,
  selected,
  active,
  here,
  doc,
  onTurn,
  onPress,
  onGo,
}: {
  row: OutlineRow;
  top: number;
  marks: readonly OutlineMark[];
  selected: boolean;
  active: boolean;
  here: boolean;
  doc: Doc;
  onTurn: () => void;
  onPress: (event: MouseEvent) => void;
  onGo: () => void;
}): ReactNode {
  const [over, setOver] = useState(false);
  const takes = row.type !== 'node' || doc.nodes.get(row.id)?.inner !== undefined;
  const Icon =
    row.type === 'frame'
      ? Frame
      : row.type === 'graph' || doc.nodes.get(row.id)?.inner !== undefined
        ? Network
        : Square;
  const accept = (event: DragEvent): boolean => takes && event.dataTransfer.types.includes(dragged);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the tree handles the keys for all of its rows
    <div
      id={`outline-${row.id}`}
      role="treeitem"
      aria-label={[
        row.title,
        row.kind,
        ...marks.map((mark) => outlineMarks[mark]),
        row.opens && row.count.toLocaleString('en'),
      ]
        .filter(Boolean)
        .join(', ')}
      tabIndex={-1}
      aria-level={row.depth + 1}
      aria-posinset={row.place}
      aria-setsize={row.of}
      aria-selected={selected}
      {...(row.opens && { 'aria-expanded': row.open })}
      className={`absolute inset-x-0 flex cursor-pointer items-center gap-1 pr-2 whitespace-nowrap hover:bg-accent-wash aria-selected:bg-accent-wash aria-selected:font-bold ${active ? 'outline-1 -outline-offset-1 outline-edge' : ''} ${over ? 'bg-accent-wash outline-2 -outline-offset-2 outline-accent' : ''} ${here ? '' : 'text-soft'}`}
      style={{ top, height: rowHeight, paddingLeft: 4 + row.depth * 14 }}
      draggable={row.type === 'node'}
      onClick={onPress}
      onDoubleClick={onGo}
      onDragStart={(event) => {
        const { selection } = getState();
        const ids = selection.includes(row.id) ? selection : [row.id];
        event.dataTransfer.setData(dragged, JSON.stringify(ids));
        event.dataTransfer.effectAllowed = 'move';
      }}
      onDragOver={(event) => {
        if (!accept(event)) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        setOver(false);
        if (!accept(event)) return;
        event.preventDefault();
        void drop(JSON.parse(event.dataTransfer.getData(dragged)) as Id[], row, doc);
      }}
    >
      {row.opens ? (
        <button
          type="button"
          tabIndex={-1}
          aria-label={row.open ? 'Close' : 'Open'}
          className="grid size-4 shrink-0 place-items-center"
          onClick={(event) => {
            event.stopPropagation();
            onTurn();
          }}
          onDoubleClick={(event) => event.stopPropagation()}
        >
          {row.open ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
        </button>
      ) : (
        <span className="w-4 shrink-0" />
      )}
      <Icon size={13} className="shrink-0 text-soft" aria-hidden="true" />
      <span className="min-w-0 truncate" title={row.title}>
        {row.title}
      </span>
      {row.kind && <span className="min-w-0 flex-1 truncate text-xs font-normal text-soft">{row.kind}</span>}
      {marks.map((mark) => {
        const MarkIcon = markIcons[mark];
        return (
          <span
            key={mark}
            title={outlineMarks[mark]}
            className={`shrink-0 ${mark === 'stacked' || mark === 'unwired' || mark === 'empty' ? 'text-warn' : 'text-soft'}`}
          >
            <MarkIcon size={12} aria-label={outlineMarks[mark]} />
          </span>
        );
      })}
      {(row.opens || row.type !== 'node') && (
        <span className="ml-auto shrink-0 pl-1 text-xs font-normal text-soft tabular-nums">
          {row.count.toLocaleString('en')}
        </span>
      )}
    </div>
  );
}

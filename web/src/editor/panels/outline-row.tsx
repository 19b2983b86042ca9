import type { Doc } from '@basitax/core/document/doc';
import type { Id } from '@basitax/core/document/ids';
import { type OutlineMark, type OutlineRow, outlineMarks } from '@basitax/core/inspect/outline';
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
} from 'lucide-react';
import { type DragEvent, type MouseEvent, type ReactNode, useState } from 'react';
import { perform } from '../actions.ts';
import { openMenuOf } from '../menu/menu.ts';
import { showGraph, useEditor } from '../store.ts';

const { getState } = useEditor;

/** Pixels. */
export const rowHeight = 26;

const markIcons: Record<OutlineMark, LucideIcon> = {
  bypassed: CircleSlash,
  pinned: Pin,
  closed: Minimize2,
  hidden: EyeOff,
  unwired: Unplug,
  stacked: Layers2,
  empty: SquareDashed,
};

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

/** One line of the outline: a graph, a frame or a node, which may be dragged onto another line. */
export function Row({
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
      onContextMenu={(event) => row.type !== 'graph' && openMenuOf([row.id], event)}
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

import { caption, type Doc, indexOf } from '../document/doc.ts';
import { titleOf } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Frame, GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';

/** One line of the outline. */
export interface OutlineRow {
  readonly id: Id;
  readonly type: 'graph' | 'frame' | 'node';
  readonly depth: number;
  readonly title: string;
  /** Kinds for nodes; empty for frames and graphs. */
  readonly kind: string;
  /** The graph that it lies in; for a graph itself, that graph. */
  readonly graph: Id;
  /** How many nodes are in it, however deep. */
  readonly count: number;
  readonly opens: boolean;
  readonly open: boolean;
  /** Where it stands among those of its level, from 1, and how many these are. */
  readonly place: number;
  readonly of: number;
}

export const outlineMarks = {
  bypassed: 'bypassed',
  pinned: 'pinned',
  closed: 'closed',
  hidden: 'ports hidden',
  unwired: 'wired to nothing',
  stacked: 'lies exactly on another node',
  empty: 'empty frame',
} as const;
export type OutlineMark = keyof typeof outlineMarks;

type Item = { readonly type: 'frame'; readonly frame: Frame } | { readonly type: 'node'; readonly node: GraphNode };

const byTitle = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);
/** Numbers in names sort by their value. */
const natural = (text: string): string => text.toLowerCase().replace(/\d+/g, (digits) => digits.padStart(8, '0'));

/** The tree of a document, read level by level as it is opened; made for one version. */
export class Outline {
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  private readonly counts = new Map<Id, number>();
  private readonly members = new Map<Id, Item[]>();
  private readonly stacked: ReadonlySet<Id>;

  constructor(doc: Doc, kinds: Kinds) {
    this.doc = doc;
    this.kinds = kinds;
    this.stacked = stackedNodes(doc);
  }

  /**
   * The rows that show while these frames, graphs and nested nodes are open: frames first, then nodes, each by name.
   * O(rows log rows).
   */
  rows(open: ReadonlySet<Id>): OutlineRow[] {
    const rows: OutlineRow[] = [];
    const { root } = this.doc.head;
    const graph = must(this.doc.graphs.get(root));
    const isOpen = open.has(root);
    rows.push({
      id: root,
      type: 'graph',
      depth: 0,
      title: this.doc.head.title || graph.name,
      kind: '',
      graph: root,
      count: this.countIn(root),
      opens: true,
      open: isOpen,
      place: 1,
      of: 1,
    });
    if (isOpen) this.level(this.itemsOf(root), 1, open, rows);
    return rows;
  }

  /** Everything that can be opened, down to a depth; all where it is absent. */
  openable(most = Number.POSITIVE_INFINITY): Set<Id> {
    const open = new Set<Id>();
    const walk = (id: Id, items: readonly Item[], depth: number): void => {
      if (depth >= most) return;
      open.add(id);
      for (const item of items) {
        if (item.type === 'frame') walk(item.frame.id, this.membersOf(item.frame), depth + 1);
        else if (item.node.inner !== undefined) walk(item.node.id, this.itemsOf(item.node.inner), depth + 1);
      }
    };
    walk(this.doc.head.root, this.itemsOf(this.doc.head.root), 0);
    return open;
  }

  /** What has to be open for a node or frame to show. */
  pathTo(id: Id): Id[] {
    const path: Id[] = [];
    let at: GraphNode | Frame | undefined = this.doc.nodes.get(id) ?? this.doc.frames.get(id);
    while (at) {
      const frame: Id | undefined = 'kind' in at ? at.frame : at.parent;
      if (frame !== undefined && !path.includes(frame)) {
        path.push(frame);
        at = this.doc.frames.get(frame);
        continue;
      }
      const host: GraphNode | undefined = indexOf(this.doc).hostOf(at.graph);
      if (!host || path.includes(host.id)) break;
      path.push(host.id);
      at = host;
    }
    return [...path, this.doc.head.root];
  }

  private level(items: readonly Item[], depth: number, open: ReadonlySet<Id>, rows: OutlineRow[]): void {
    items.forEach((item, i) => {
      const place = { place: i + 1, of: items.length, depth };
      if (item.type === 'frame') {
        const { frame } = item;
        const inside = this.membersOf(frame);
        const isOpen = open.has(frame.id) && inside.length > 0;
        const count = this.countOf(inside);
        rows.push({
          id: frame.id,
          type: 'frame',
          title: titleOf(frame),
          kind: '',
          graph: frame.graph,
          count,
          opens: inside.length > 0,
          open: isOpen,
          ...place,
        });
        if (isOpen) this.level(inside, depth + 1, open, rows);
        return;
      }
      const { node } = item;
      const inner = node.inner === undefined ? [] : this.itemsOf(node.inner);
      const isOpen = open.has(node.id) && inner.length > 0;
      const count = node.inner === undefined ? 0 : this.countIn(node.inner);
      rows.push({
        id: node.id,
        type: 'node',
        title: caption(node),
        kind: this.kinds.title(node.kind),
        graph: node.graph,
        count,
        opens: inner.length > 0,
        open: isOpen,
        ...place,
      });
      if (isOpen) this.level(inner, depth + 1, open, rows);
    });
  }

  /** What is to be said of a row beside its name; asked for the rows that show. */
  marks(row: OutlineRow): OutlineMark[] {
    const node = this.doc.nodes.get(row.id);
    if (!node) return row.type === 'frame' && row.count === 0 ? ['empty'] : [];
    const marks: OutlineMark[] = [];
    if (node.bypassed) marks.push('bypassed');
    if (node.pinned) marks.push('pinned');
    if (node.closed) marks.push('closed');
    else if (node.show) marks.push('hidden');
    if (node.ports.length > 0 && indexOf(this.doc).wiresOf(node.id).length === 0) marks.push('unwired');
    if (this.stacked.has(node.id)) marks.push('stacked');
    return marks;
  }

  private itemsOf(graph: Id): Item[] {
    const index = indexOf(this.doc);
    return this.sorted(
      index.framesIn(graph).filter((frame) => frame.parent === undefined || !this.doc.frames.has(frame.parent)),
      index.nodesIn(graph).filter((node) => node.frame === undefined || !this.doc.frames.has(node.frame)),
    );
  }

  private membersOf(frame: Frame): Item[] {
    let members = this.members.get(frame.id);
    if (!members) {
      members = this.sorted(indexOf(this.doc).framesWithin(frame.id), indexOf(this.doc).membersOf(frame.id));
      this.members.set(frame.id, members);
    }
    return members;
  }

  private sorted(frames: readonly Frame[], nodes: readonly GraphNode[]): Item[] {
    const order = <T extends { id: Id }>(rows: readonly T[], title: (row: T) => string): T[] =>
      rows
        .map((row) => ({ row, key: natural(title(row)) }))
        .sort((a, b) => byTitle(a.key, b.key) || compareIds(a.row.id, b.row.id))
        .map(({ row }) => row);
    return [
      ...order(frames, (frame) => frame.title).map((frame): Item => ({ type: 'frame', frame })),
      ...order(nodes, caption).map((node): Item => ({ type: 'node', node })),
    ];
  }

  private countIn(graph: Id): number {
    let count = this.counts.get(graph);
    if (count === undefined) {
      this.counts.set(graph, 0);
      count = indexOf(this.doc)
        .nodesIn(graph)
        .reduce((sum, node) => sum + 1 + (node.inner === undefined ? 0 : this.countIn(node.inner)), 0);
      this.counts.set(graph, count);
    }
    return count;
  }

  private countOf(items: readonly Item[]): number {
    return items.reduce(
      (sum, item) =>
        sum +
        (item.type === 'frame'
          ? this.countOf(this.membersOf(item.frame))
          : 1 + (item.node.inner === undefined ? 0 : this.countIn(item.node.inner))),
      0,
    );
  }
}

/** Nodes that lie exactly on another one of their graph. O(nodes). */
function stackedNodes(doc: Doc): Set<Id> {
  const first = new Map<string, Id>();
  const stacked = new Set<Id>();
  for (const node of doc.nodes.values()) {
    const place = `${node.graph} ${node.x} ${node.y}`;
    const other = first.get(place);
    if (other === undefined) first.set(place, node.id);
    else stacked.add(other).add(node.id);
  }
  return stacked;
}

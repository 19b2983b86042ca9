import { type Doc, indexOf } from '../document/doc.ts';
import { rectOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import { isExpression, isPlainValue, type Kinds } from '../document/kinds.ts';
import { type GraphNode, type Port, tableNames } from '../document/schema.ts';
import type { Edit } from '../edit/step.ts';
import { setsOf } from '../structure/sets.ts';
import type { Delta, KindRow, NodeRow, PortRow } from './bridge.ts';

type Writable<T> = { -readonly [K in keyof T]: T[K] };

/** Makes the rows that the model in the sandbox gets; remembers which kinds and lists of ports it has. */
export class Rows {
  private readonly kinds: Kinds;
  private readonly sentKinds = new Set<string>();
  private readonly portLists = new Map<string, number>();

  constructor(kinds: Kinds) {
    this.kinds = kinds;
  }

  /** Everything of a document. O(records). */
  all(doc: Doc): Delta {
    const ids = Object.fromEntries(tableNames.map((name) => [name, [...doc[name].keys()]])) as unknown as Record<
      (typeof tableNames)[number],
      Id[]
    >;
    return { ...this.of(doc, ids), sets: setsOf(doc) };
  }

  /** A kind as the model knows it. */
  kind(id: string): KindRow {
    const spec = this.kinds.kind(id);
    return {
      title: this.kinds.title(id),
      category: this.kinds.category(id).title,
      isEnd: spec?.end === true,
      ports: (spec?.ports ?? []).map(({ id: port, name, type, direction }) => ({ id: port, name, type, direction })),
      parameters: Object.fromEntries(
        this.kinds
          .parameters(id)
          .map(({ id: parameter, title, type, unit, min, max, step, choices, default: usual }) => [
            parameter,
            { title, type, unit, min, max, step, choices, default: usual },
          ]),
      ),
    };
  }

  /** What an edit touched, as it stands now, with the nodes at the ends of wires. O(steps). */
  touched(doc: Doc, edit: Edit): Delta {
    const ids: Record<(typeof tableNames)[number], Set<Id>> = {
      graphs: new Set(),
      frames: new Set(),
      nodes: new Set(),
      wires: new Set(),
      notes: new Set(),
    };
    const gone = new Set<Id>();
    let hasSets = false;
    for (const step of edit.steps) {
      if (step.table === 'head') {
        hasSets ||= step.type === 'set' && step.path[0] === 'sets';
        continue;
      }
      ids[step.table].add(step.id);
      if (!doc[step.table].has(step.id)) gone.add(step.id);
      const wire = step.table === 'wires' ? doc.wires.get(step.id) : undefined;
      if (wire) for (const end of [wire.from, wire.to]) ids.nodes.add(end.node);
    }
    return {
      ...this.of(doc, ids),
      ...(gone.size > 0 && { gone: [...gone] }),
      ...(hasSets && { sets: setsOf(doc) }),
    };
  }

  private of(doc: Doc, ids: Record<(typeof tableNames)[number], Iterable<Id>>): Delta {
    const kinds: Record<string, KindRow> = {};
    const portLists: PortRow[][] = [];
    const rows = <T extends (typeof tableNames)[number], R>(
      name: T,
      row: (record: NonNullable<ReturnType<Doc[T]['get']>>) => R,
    ): R[] =>
      [...ids[name]].flatMap((id) => {
        const record = doc[name].get(id);
        return record ? [row(record as NonNullable<ReturnType<Doc[T]['get']>>)] : [];
      });
    const delta: Writable<Delta> = {
      graphs: rows('graphs', (graph) => ({ id: graph.id, name: graph.name, host: indexOf(doc).hostOf(graph.id)?.id })),
      nodes: rows('nodes', (node) => this.node(doc, node, kinds, portLists)),
      wires: rows('wires', (wire) => ({
        id: wire.id,
        from: [wire.from.node, wire.from.port] as const,
        to: [wire.to.node, wire.to.port] as const,
        off: wire.off,
      })),
      frames: rows('frames', ({ id, graph, title, parent, note, color, folded }) => ({
        id,
        graph,
        title,
        parent,
        note,
        color,
        folded,
      })),
      notes: rows('notes', ({ id, graph, text, x, y, width, height }) => ({ id, graph, text, x, y, width, height })),
    };
    for (const name of tableNames) if (delta[name]?.length === 0) delete delta[name];
    return { ...delta, ...(portLists.length > 0 && { portLists }), ...(Object.keys(kinds).length > 0 && { kinds }) };
  }

  private node(doc: Doc, node: GraphNode, kinds: Record<string, KindRow>, lists: PortRow[][]): NodeRow {
    if (!this.sentKinds.has(node.kind)) {
      this.sentKinds.add(node.kind);
      kinds[node.kind] = this.kind(node.kind);
    }
    const values = Object.entries(node.params ?? {});
    const plain = values.filter(([, value]) => isPlainValue(value));
    const { width, height } = rectOf(doc, this.kinds, node);
    const { id, graph, kind, name, label, x, y, frame, inner, bypassed, pinned, locked, color, setting } = node;
    const sets = Object.keys(node.sets ?? {});
    const settings = Object.keys(node.settings ?? {});
    return {
      ...{
        id,
        graph,
        kind,
        name,
        label,
        x,
        y,
        width,
        height,
        frame,
        inner,
        bypassed,
        pinned,
        locked,
        color,
        setting,
        ports: this.ports(node.ports, lists),
      },
      ...(plain.length > 0 && { params: Object.fromEntries(plain) as Record<string, Json> }),
      ...(plain.length < values.length && {
        opaque: Object.fromEntries(
          values
            .filter(([, value]) => !isPlainValue(value))
            .map(
              ([parameter, value]) => [parameter, isExpression(value) ? 'expression' : 'something unknown'] as const,
            ),
        ),
      }),
      ...(sets.length > 0 && { sets }),
      ...(settings.length > 0 && { settings }),
    };
  }

  /** Most nodes of a kind have the same ports: each list goes over once. */
  private ports(ports: readonly Port[], lists: PortRow[][]): number {
    const rows = ports.map(({ id, name, type, direction }) => ({ id, name, type, direction }));
    const key = JSON.stringify(rows);
    let place = this.portLists.get(key);
    if (place === undefined) {
      place = this.portLists.size;
      this.portLists.set(key, place);
      lists.push(rows);
    }
    return place;
  }
}

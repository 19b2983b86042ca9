import type {
  ScriptFile,
  ScriptFinding,
  ScriptFrame,
  ScriptGraph,
  ScriptMeasures,
  ScriptNode,
  ScriptNodes,
  ScriptNote,
  ScriptReport,
  ScriptWire,
} from '../api.ts';
import { listOf } from './lists.ts';
import { nodeOf, portOf } from './nodes.ts';
import { objects } from './objects.ts';
import { once } from './once.ts';
import { perform } from './perform.ts';
import { allSets, makeSet, setCalled } from './sets.ts';
import {
  ask,
  byId,
  frames,
  graphs,
  moved,
  nodes,
  nodesIn,
  nodesInOrder,
  notes,
  patch,
  rectOf,
  root,
  ScriptError,
  title,
  wires,
  wiresIn,
} from './store.ts';
import { strict } from './strict.ts';

// Runs inside the sandbox: wires, frames, notes, graphs and the file, over the rows in `store.ts`.

export const wireOf = once(
  (id): ScriptWire =>
    strict(
      {
        id,
        get from() {
          return portOf('out', wires.get(id)!.from);
        },
        get to() {
          return portOf('in', wires.get(id)!.to);
        },
        get off() {
          return wires.get(id)!.off === true;
        },
        set off(on: boolean) {
          perform('switch-wires', this.from.node.graph.id, [id], { to: on ? 'off' : 'on' });
        },
        remove() {
          return perform('cut-wires', this.from.node.graph.id, [id]);
        },
      },
      'A wire',
    ),
);

function field(table: 'frames' | 'notes', id: string, name: string, value: string): void {
  ask({ do: 'field', table, id, field: name, value });
  patch<{ readonly id: string }>(
    table === 'frames' ? (frames as Map<string, never>) : (notes as Map<string, never>),
    id,
    {
      [name]: value === '' && name === 'color' ? undefined : value,
    } as never,
  );
  moved();
}

const rectFields = (id: string, graph: () => string): PropertyDescriptorMap =>
  Object.fromEntries(
    (['x', 'y', 'width', 'height'] as const).map((side) => [
      side,
      { enumerable: true, get: () => rectOf(graph(), id)[side] },
    ]),
  );

export const frameOf = once((id): ScriptFrame => {
  const act = (operation: string, options?: object): ScriptReport =>
    perform(operation, frames.get(id)!.graph, [id], options);
  return strict(
    Object.defineProperties(
      {
        id,
        get title() {
          return frames.get(id)!.title;
        },
        set title(text: string) {
          field('frames', id, 'title', String(text));
        },
        get note() {
          return frames.get(id)!.note ?? '';
        },
        set note(text: string) {
          field('frames', id, 'note', String(text));
        },
        get color() {
          return frames.get(id)!.color;
        },
        set color(color: string | undefined) {
          field('frames', id, 'color', color ?? '');
        },
        get graph() {
          return graphOf(frames.get(id)!.graph);
        },
        get parent() {
          const { parent } = frames.get(id)!;
          return parent === undefined ? undefined : frameOf(parent);
        },
        get nodes() {
          return listOf(nodesIn(frames.get(id)!.graph).filter((node) => nodes.get(node)!.frame === id));
        },
        get frames() {
          return idsOf(frames, (row) => row.parent === id).map(frameOf);
        },
        get folded() {
          return frames.get(id)!.folded === true;
        },
        set folded(on: boolean) {
          if (on !== this.folded) act(on ? 'fold' : 'unfold');
        },
        add: (things: readonly (ScriptNode | ScriptFrame)[]) =>
          perform(
            'to-frame',
            frames.get(id)!.graph,
            things.map((thing) => thing.id),
            { frame: id },
          ),
        release(things: readonly (ScriptNode | ScriptFrame)[]) {
          const stranger = things.find((thing) => ('kind' in thing ? thing.frame : thing.parent)?.id !== id);
          if (stranger) throw new ScriptError('Only members of a frame can be taken out of it.', stranger.id);
          return perform(
            'leave-frame',
            frames.get(id)!.graph,
            things.map((thing) => thing.id),
          );
        },
        moveTo(x: number, y: number) {
          const { graph } = frames.get(id)!;
          const own = rectOf(graph, id);
          act('move', { dx: Number(x) - own.x, dy: Number(y) - own.y });
        },
        remove: () => act('delete'),
      },
      rectFields(id, () => frames.get(id)!.graph),
    ) as unknown as ScriptFrame,
    'A frame',
  );
});

const noteOf = once((id): ScriptNote => {
  const row = (): NonNullable<ReturnType<typeof notes.get>> => notes.get(id)!;
  return strict(
    {
      id,
      get text() {
        return row().text;
      },
      set text(text: string) {
        field('notes', id, 'text', String(text));
      },
      get graph() {
        return graphOf(row().graph);
      },
      get x() {
        return row().x;
      },
      get y() {
        return row().y;
      },
      get width() {
        return row().width;
      },
      get height() {
        return row().height;
      },
      moveTo: (x: number, y: number) => void perform('note-change', row().graph, [id], { x: Number(x), y: Number(y) }),
      remove: () => perform('delete', row().graph, [id]),
    },
    'A note',
  );
});

const ofKind = (graph: string, kind: string): ScriptNodes =>
  listOf(nodesIn(graph).filter((node) => nodes.get(node)!.kind === kind));

const idsOf = <T extends { readonly id: string }>(table: ReadonlyMap<string, T>, fits: (row: T) => boolean): string[] =>
  [...table.values()]
    .filter(fits)
    .map((row) => row.id)
    .sort(byId);

export const graphOf = once(
  (id): ScriptGraph =>
    strict(
      {
        id,
        get name() {
          return graphs.get(id)!.name;
        },
        get nodes() {
          return listOf(nodesIn(id));
        },
        get wires() {
          return wiresIn(id).map(wireOf);
        },
        get frames() {
          return idsOf(frames, (row) => row.graph === id).map(frameOf);
        },
        get notes() {
          return idsOf(notes, (row) => row.graph === id).map(noteOf);
        },
        get beacons() {
          return ofKind(id, 'std.beacon');
        },
        get taps() {
          return ofKind(id, 'std.tap');
        },
        get feeds() {
          return ofKind(id, 'std.feed');
        },
        get measures() {
          return strict(ask({ do: 'measures', graph: id }) as unknown as ScriptMeasures, 'What is measured');
        },
        get host() {
          const { host } = graphs.get(id)!;
          return host === undefined ? undefined : nodeOf(host);
        },
        node(name) {
          const found = nodesIn(id).find((node) => nodes.get(node)!.name === name);
          return found === undefined ? undefined : nodeOf(found);
        },
        select: (query) => listOf(ask({ do: 'select', query: String(query), graph: id }) as string[]),
        add(kind, { x = 0, y = 0, name, label, parameters } = {}) {
          const node = perform('add-node', id, [], {
            kind,
            where: 'by itself',
            x,
            y,
            ...(parameters && { params: parameters }),
          }).made[0]!;
          if (name !== undefined) node.name = name;
          if (label !== undefined) node.label = label;
          return node;
        },
        frame(things, text = '') {
          const { ids } = perform(
            'frame',
            id,
            things.map((thing) => thing.id),
            { title: text },
          );
          return frameOf(ids[0]!);
        },
        note(text, x, y) {
          return noteOf(perform('note', id, [], { text, x, y, tied: false }).ids[0]!);
        },
        tap: (beacon, { to, ...given } = {}) =>
          perform(
            'tap',
            id,
            [],
            { beacon: beacon.id, ...given, ...(to && { to: { node: to.node.id, port: to.id } }) },
            beacon.id,
          ).made[0]!,
        feed: (source, { covers, ...given } = {}) =>
          perform('standing-feed', id, [source.id], { ...(covers && { scope: covers }), ...given }, source.id).made[0]!,
      },
      'A graph',
    ),
);

interface FindingRow extends Pick<ScriptFinding, 'rule' | 'severity' | 'message'> {
  readonly node: string | null;
  readonly fix: { readonly operation: string; readonly selection: readonly string[]; readonly options?: object } | null;
}

const findingOf = ({ rule, severity, message, node, fix }: FindingRow): ScriptFinding =>
  strict(
    {
      rule,
      severity,
      message,
      get node() {
        return node === null ? undefined : nodeOf(node);
      },
      canFix: fix !== null,
      fix() {
        if (!fix) throw new ScriptError(`This has no automatic fix: ${message}`);
        const first = fix.selection[0] ?? '';
        const wire = wires.get(first);
        const graph =
          nodes.get(wire?.from[0] ?? first)?.graph ?? frames.get(first)?.graph ?? notes.get(first)?.graph ?? root;
        return perform(fix.operation, graph, fix.selection, fix.options);
      },
    },
    'A finding',
  );

export const file: ScriptFile = strict(
  {
    title,
    get graphs() {
      return [root, ...idsOf(graphs, (row) => row.id !== root)].map(graphOf);
    },
    get nodes() {
      return listOf(nodesInOrder());
    },
    get sets() {
      return allSets();
    },
    set: (name) => setCalled(String(name)),
    makeSet: (name, members) => makeSet(String(name), members),
    findings: (...rules) => {
      const found = ask({ do: 'findings', rules: rules.map(String) }) as unknown as FindingRow[];
      return found.map(findingOf);
    },
    at(path) {
      let graph: string | undefined = root;
      let found: ScriptNode | undefined;
      for (const name of String(path).split('/')) {
        found = graph === undefined ? undefined : graphOf(graph).node(name);
        if (!found) return undefined;
        graph = found.inner?.id;
      }
      return found;
    },
  },
  'The file',
);

Object.assign(objects, { wireOf, frameOf, graphOf });

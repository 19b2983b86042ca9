import type { ScriptFile, ScriptFrame, ScriptGraph, ScriptNode, ScriptNote, ScriptWire } from '../api.ts';
import { listOf, nodeOf, perform, portOf } from './nodes.ts';
import { objects } from './objects.ts';
import { once } from './once.ts';
import {
  ask,
  byId,
  frames,
  graphs,
  moved,
  nodes,
  nodesIn,
  notes,
  patch,
  rectOf,
  root,
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

export const frameOf = once(
  (id): ScriptFrame =>
    strict(
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
        },
        rectFields(id, () => frames.get(id)!.graph),
      ) as unknown as ScriptFrame,
      'A frame',
    ),
);

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
    },
    'A note',
  );
});

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
          return listOf(nodesIn(id).filter((node) => nodes.get(node)!.kind === 'std.beacon'));
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
      },
      'A graph',
    ),
);

export const file: ScriptFile = strict(
  {
    title,
    get graphs() {
      return [root, ...idsOf(graphs, (row) => row.id !== root)].map(graphOf);
    },
    get nodes() {
      return listOf(idsOf(nodes, () => true));
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

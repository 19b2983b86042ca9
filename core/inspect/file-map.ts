import { arrangeByWiring } from '../arrange/by-wiring.ts';
import { type Doc, emptyDoc } from '../document/doc.ts';
import { type Point, rectOf } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, Port, Wire } from '../document/schema.ts';
import { addTo } from '../group-by.ts';
import { must } from '../must.ts';
import { routesOf } from '../route/route.ts';
import type { FileLinks } from './file-links.ts';
import { reachable, reversed } from './graph/dependency-graph.ts';
import { transitiveReduction } from './graph/reduction.ts';

export type MapType = 'file' | 'shared' | 'asset';

export interface MapItem {
  readonly id: Id;
  readonly type: MapType;
  /** The id of the file, the name of the shared kind, the path, or the folder of several assets. */
  readonly name: string;
  readonly title: string;
  /** Assets that are one item, since they lie in one folder and the same files use them. */
  readonly paths: readonly string[];
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** `to` uses or reads `from`, or was published from it or is written by it. */
export interface MapLine {
  readonly from: Id;
  readonly to: Id;
  readonly count: number;
  readonly route: readonly Point[];
}

export interface FileMap {
  readonly items: readonly MapItem[];
  readonly lines: readonly MapLine[];
}

const itemId = (type: MapType, name: string): Id => `${type} ${name}`;
const size = { width: 190, height: 44 };

/**
 * The map of files, shared kinds and assets, laid out by our own arranging and routing, what is used left of what uses
 * it. `fewest` leaves out lines that follow from others; `assets` leaves assets in. Places in pixels at 100 % zoom.
 * Cost: that of arranging as many nodes.
 */
export function fileMap(
  links: FileLinks,
  kinds: Kinds,
  options: { readonly assets: boolean; readonly fewest: boolean },
): FileMap {
  const titles = new Map<Id, Title>();
  const put = (type: MapType, name: string, title: string): void =>
    void titles.set(itemId(type, name), { type, name, title, paths: [] });
  for (const { id, title } of links.files) put('file', id, title);
  for (const { name, title } of links.shared) put('shared', name, title);
  const uses = links.uses.filter(
    ({ what, file }) => (options.assets || what === 'shared') && titles.has(itemId('file', file)),
  );
  const groups = groupAssets(uses);
  // one item stands for several paths
  for (const { id, title } of groups.values()) titles.set(id, title);
  for (const { what, name } of uses) if (what === 'shared' && !titles.has(itemId(what, name))) put(what, name, name);
  const ids = [...titles.keys()].sort();
  const at = new Map(ids.map((id, i) => [id, i]));
  const counts = new Map<string, number>();
  const edges: Set<number>[] = ids.map(() => new Set());
  const line = (from: Id, to: Id, count: number): void => {
    must(edges[must(at.get(from))]).add(must(at.get(to)));
    counts.set(`${from}\n${to}`, (counts.get(`${from}\n${to}`) ?? 0) + count);
  };
  for (const { file, what, name, written, count } of uses) {
    const item = what === 'asset' ? must(groups.get(name)).id : itemId(what, name);
    if (written) line(itemId('file', file), item, count);
    else line(item, itemId('file', file), count);
  }
  for (const { name, from } of links.shared)
    if (titles.has(itemId('file', from))) line(itemId('file', from), itemId('shared', name), 1);
  const all = edges.map((set) => [...set]);
  const kept = options.fewest ? transitiveReduction(all) : all;
  const doc = asDoc(ids, titles, kept);
  const nodes = [...doc.nodes.values()];
  const places = arrangeByWiring(doc, kinds, doc.head.root, nodes, {
    keep: 0,
    spacing: { along: 90, across: 14 },
    proportion: 1.5,
  });
  const placed: Doc = {
    ...doc,
    nodes: new Map(nodes.map((node) => [node.id, { ...node, ...must(places.get(node.id)) }])),
  };
  const routes = routesOf(placed, kinds, doc.head.root);
  return {
    items: [...placed.nodes.values()].map((node) => ({
      id: node.id,
      ...must(titles.get(node.id)),
      ...rectOf(placed, kinds, node),
    })),
    lines: [...placed.wires.values()]
      .sort((a, b) => compareIds(a.id, b.id))
      .map(({ id, from, to }) => ({
        from: from.node,
        to: to.node,
        count: counts.get(`${from.node}\n${to.node}`) ?? 1,
        route: routes.get(id) ?? [],
      })),
  };
}

type Title = Pick<MapItem, 'type' | 'name' | 'title' | 'paths'>;

/** The item of each asset: those of one folder that the same files use are one. */
function groupAssets(uses: FileLinks['uses']): ReadonlyMap<string, { readonly id: Id; readonly title: Title }> {
  const users = new Map<string, Set<string>>();
  for (const { what, name, file, written } of uses)
    if (what === 'asset') users.set(name, (users.get(name) ?? new Set()).add(`${file} ${written}`));
  const folders = new Map<string, string[]>();
  for (const [path, files] of [...users].sort(([a], [b]) => (a < b ? -1 : 1))) {
    const key = JSON.stringify([path.slice(0, path.lastIndexOf('/') + 1), ...[...files].sort()]);
    addTo(folders, key, path);
  }
  const found = new Map<string, { id: Id; title: Title }>();
  for (const [key, paths] of folders) {
    const [folder] = JSON.parse(key) as [string];
    const [only] = paths as [string];
    const one =
      paths.length === 1
        ? {
            id: itemId('asset', only),
            title: { type: 'asset' as const, name: only, title: only.split('/').at(-1) ?? only, paths },
          }
        : {
            id: itemId('asset', key),
            title: {
              type: 'asset' as const,
              name: folder,
              title: `${folder.split('/').at(-2) ?? ''}/ (${paths.length})`,
              paths,
            },
          };
    for (const path of paths) found.set(path, one);
  }
  return found;
}

/** The map as a document, so that what arranges graphs arranges it. */
function asDoc(
  ids: readonly Id[],
  titles: ReadonlyMap<Id, { readonly type: MapType; readonly title: string }>,
  edges: readonly (readonly number[])[],
): Doc {
  const back = reversed(edges);
  const port = (id: string, direction: 'in' | 'out'): Port => ({ id, name: id, type: 'any', direction });
  const nodes = new Map<Id, GraphNode>();
  const wires = new Map<Id, Wire>();
  ids.forEach((id, i) => {
    const inputs = must(back[i]).map((k) => port(`in${k}`, 'in'));
    nodes.set(id, {
      id,
      graph: 'root',
      kind: `map.${must(titles.get(id)).type}`,
      name: must(titles.get(id)).title,
      x: 0,
      y: 0,
      size,
      closed: true,
      ports: [...inputs, port('out', 'out')],
    });
    for (const k of must(back[i]))
      wires.set(`${k}>${i}`, {
        id: `${k}>${i}`,
        from: { node: must(ids[k]), port: 'out' },
        to: { node: id, port: `in${k}` },
      });
  });
  return { ...emptyDoc('map', 'Map of the files'), nodes, wires };
}

/**
 * Everything that a change of some items would touch: what uses them, what was published from that, and so on;
 * themselves left out. O(lines).
 */
export function touchedBy({ items, lines }: FileMap, ids: Iterable<Id>): Set<Id> {
  const at = new Map(items.map((item, i) => [item.id, i]));
  const edges: number[][] = items.map(() => []);
  for (const { from, to } of lines) must(edges[must(at.get(from))]).push(must(at.get(to)));
  const start = [...ids].flatMap((id) => at.get(id) ?? []);
  const found = reachable(edges, start);
  for (const i of start) found.delete(i);
  return new Set([...found].map((i) => must(items[i]).id));
}

import { arrangeByWiring } from '../arrange/by-wiring.ts';
import { placeQuickly } from '../arrange/quick.ts';
import { indexOf } from '../document/doc.ts';
import type { ReadFile } from '../document/file.ts';
import { rectOf, unite } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { must } from '../must.ts';
import { find } from './sentences.ts';

/** More nodes than this are placed in columns, quickly: arranging them is for whoever wants to wait for it. */
const mostArranged = 2000;

/** Nodes that came without a position are arranged: all of a graph where none has one, else below those that have. */
export function placeUnplaced(read: ReadFile & { readonly unplaced?: readonly Id[] }, kinds: Kinds): ReadFile {
  const missing = new Set(read.unplaced);
  let doc = read.doc;
  let isQuick = false;
  if (missing.size === 0) return { doc, findings: read.findings };
  const nodes = new Map(doc.nodes);
  for (const graph of doc.graphs.keys()) {
    const all = indexOf(doc).nodesIn(graph);
    const loose = all.filter((node) => missing.has(node.id));
    if (loose.length === 0) continue;
    const placed = unite(all.filter((node) => !missing.has(node.id)).map((node) => rectOf(doc, kinds, node)));
    const origin = placed ? { x: placed.x, y: placed.y + placed.height + 60 } : { x: 0, y: 0 };
    isQuick ||= loose.length > mostArranged;
    const places =
      loose.length > mostArranged
        ? placeQuickly(doc, kinds, graph, loose)
        : arrangeByWiring(doc, kinds, graph, loose, { keep: 0 });
    for (const [id, place] of places)
      nodes.set(id, { ...must(nodes.get(id)), x: place.x + origin.x, y: place.y + origin.y });
  }
  doc = { ...doc, nodes };
  return {
    doc,
    findings: [
      ...read.findings,
      find('arranged-on-import', 'info', [], 'without-position', { missing: missing.size, isQuick }),
    ],
  };
}

import { caption, type Doc, indexOf, placeOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Wire } from '../document/schema.ts';
import type { Edit } from '../edit/step.ts';
import { type Finding, finding } from '../finding.ts';
import { stronglyConnected } from '../inspect/graph/components.ts';
import { closesLoop } from './along.ts';
import { loopProblem, typeProblem } from './connect.ts';

/** Wires that a file brings and the catalogue would not let one make: they stay, and are listed. O(nodes + wires). */
export function misfits(doc: Doc, kinds: Kinds): Finding[] {
  const found: Finding[] = [];
  for (const wire of doc.wires.values()) {
    const problem = typeProblem(doc, kinds, wire.from, wire.to);
    const target = doc.nodes.get(wire.to.node)!;
    if (problem)
      found.push(
        finding(
          'misfit',
          'info',
          placeOf(doc, target.graph, target.id),
          `A wire into “${caption(target)}” does not fit: ${problem}`,
        ),
      );
  }
  if (kinds.catalogue.loops === 'forbidden')
    for (const graph of doc.graphs.keys()) found.push(...loopsIn(doc, graph).map(({ wire: _, ...item }) => item));
  return found;
}

/** Each loop of drawn wires in a graph, with one of its wires. */
function loopsIn(doc: Doc, graph: Id): (Finding & { readonly wire: Wire | undefined })[] {
  const index = indexOf(doc);
  const nodes = index.nodesIn(graph);
  const at = new Map(nodes.map((node, i) => [node.id, i]));
  const before = nodes.map((node) => index.wiresInto(node.id).flatMap((wire) => at.get(wire.from.node) ?? []));
  return stronglyConnected(before)
    .filter((component) => component.length > 1 || before[component[0]!]!.includes(component[0]!))
    .map((component) => {
      const names = component.slice(0, 4).map((i) => `“${caption(nodes[i]!)}”`);
      const rest = component.length > 4 ? ` and ${component.length - 4} more` : '';
      const members = new Set(component.map((i) => nodes[i]!.id));
      const first = nodes[component[0]!]!.id;
      const wire = index.wiresInto(first).find((one) => members.has(one.from.node));
      return {
        ...finding(
          'loop',
          'info',
          placeOf(doc, graph, first),
          `${names.join(', ')}${rest} lie on a loop, which the catalogue forbids.`,
        ),
        wire,
      };
    });
}

/** More wires than this are looked at for loops all together. */
const mostWalked = 40;

/** A wire that the catalogue forbids, with why. */
export interface ForbiddenWire {
  readonly wire: Wire;
  readonly message: string;
  readonly isLoop: boolean;
}

/** What an edit wires that the catalogue forbids, as findings: as `forbiddenWires`. */
export const forbiddenWiring = (before: Doc, after: Doc, kinds: Kinds, edit: Edit): Finding[] =>
  forbiddenWires(before, after, kinds, edit).map(({ wire, message }) =>
    finding('forbidden-wire', 'error', [wire.to.node], message),
  );

/**
 * What an edit wires that the catalogue forbids: nodes that were there before wired by a new wire, or by another input,
 * that does not fit;
 * and loops that were not there. What is pasted in keeps the wires that it has. O(wires changed · wires), at most
 * O(nodes + wires) · graphs.
 */
export function forbiddenWires(before: Doc, after: Doc, kinds: Kinds, edit: Edit): ForbiddenWire[] {
  const touched = new Set(
    edit.steps.flatMap((step) =>
      step.table === 'wires' && (step.type === 'add' || step.type === 'set') ? [step.id] : [],
    ),
  );
  const wires = [...touched].flatMap((id) => after.wires.get(id) ?? []);
  const found: ForbiddenWire[] = [];
  for (const wire of wires) {
    const old = before.wires.get(wire.id);
    const isRewired = !old || old.to.node !== wire.to.node || old.to.port !== wire.to.port;
    // a wire that heals has another source, and carries what would have been passed
    if (!isRewired || !before.nodes.has(wire.from.node) || !before.nodes.has(wire.to.node)) continue;
    const message = typeProblem(after, kinds, wire.from, wire.to);
    if (message) found.push({ wire, message, isLoop: false });
  }
  if (kinds.catalogue.loops !== 'forbidden') return found;
  if (wires.length <= mostWalked) {
    for (const wire of wires) {
      const { from, to } = wire;
      const isOld = before.nodes.has(from.node) && before.nodes.has(to.node);
      // both lay on a loop before, which healing only made shorter
      const wasThere = isOld && closesLoop(before, from.node, to.node) && closesLoop(before, to.node, from.node);
      if (isOld && !wasThere && closesLoop(after, from.node, to.node))
        found.push({
          wire,
          message: loopProblem(after.nodes.get(from.node)!, after.nodes.get(to.node)!),
          isLoop: true,
        });
    }
    return found;
  }
  const known = new Set(
    [...before.graphs.keys()].flatMap((graph) => loopsIn(before, graph).map((item) => item.message)),
  );
  const loops = [...before.graphs.keys()]
    .filter((graph) => after.graphs.has(graph))
    .flatMap((graph) => loopsIn(after, graph));
  return [
    ...found,
    ...loops.flatMap(({ message, wire }) => (known.has(message) || !wire ? [] : [{ wire, message, isLoop: true }])),
  ];
}

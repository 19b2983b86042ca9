import { caption, type Doc, indexOf, placeOf } from '../document/doc.ts';
import { readingsOf } from '../document/expressions.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Wire } from '../document/schema.ts';
import { apply, type Edit, type Step } from '../edit/step.ts';
import type { Finding } from '../finding.ts';
import { stronglyConnected } from '../inspect/graph/components.ts';
import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { closesLoop } from './along.ts';
import { loopProblem, typeProblem } from './connect.ts';
import { find, say } from './sentences.ts';

/** Wires that a file brings and the catalogue would not let one make: they stay, and are listed. O(nodes + wires). */
export function misfits(doc: Doc, kinds: Kinds): Finding[] {
  const found: Finding[] = [];
  for (const wire of doc.wires.values()) {
    const problem = typeProblem(doc, kinds, wire.from, wire.to);
    const target = must(doc.nodes.get(wire.to.node));
    if (problem)
      found.push(
        find('misfit', 'info', placeOf(doc, target.graph, target.id), 'wire-does-not-fit', {
          target: caption(target),
          problem: problem.message,
        }),
      );
  }
  if (kinds.catalogue.loops === 'forbidden')
    for (const graph of doc.graphs.keys()) found.push(...loopsIn(doc, graph).map(({ wire: _, ...item }) => item));
  return found;
}

/** Each loop of drawn wires in a graph, with one of its wires. */
function loopsIn(doc: Doc, graph: Id): (Finding & Saying & { readonly wire: Wire | undefined })[] {
  const index = indexOf(doc);
  const nodes = index.nodesIn(graph);
  const at = new Map(nodes.map((node, i) => [node.id, i]));
  const before = nodes.map((node) => index.wiresInto(node.id).flatMap((wire) => at.get(wire.from.node) ?? []));
  return stronglyConnected(before)
    .filter((component) => component.length > 1 || must(before[must(component[0])]).includes(must(component[0])))
    .map((component) => {
      const names = component.slice(0, 4).map((i) => `“${caption(must(nodes[i]))}”`);
      const rest = component.length > 4 ? ` and ${component.length - 4} more` : '';
      const members = new Set(component.map((i) => must(nodes[i]).id));
      const first = must(nodes[must(component[0])]).id;
      const wire = index.wiresInto(first).find((one) => members.has(one.from.node));
      return {
        ...find('loop', 'info', placeOf(doc, graph, first), 'loop', { names, rest }),
        wire,
      };
    });
}

/**
 * Why an edit's expressions may not stand where loops are forbidden: the first that closes one which was not there.
 * O(expressions changed · reached).
 */
export function loopByExpression(before: Doc, kinds: Kinds, edit: Edit): Saying | undefined {
  const reads = (step: Step): boolean =>
    step.type === 'set' && step.table === 'nodes' && step.path[0] === 'params' && step.to !== undefined;
  if (kinds.catalogue.loops !== 'forbidden' || !edit.steps.some(reads)) return undefined;
  const after = apply(before, edit);
  for (const step of edit.steps) {
    if (!reads(step)) continue;
    const [old, now] = [before.nodes.get(step.id), after.nodes.get(step.id)];
    if (!old || !now) continue;
    const known = new Set(readingsOf(old).map(({ reads }) => reads));
    for (const { reads: id } of readingsOf(now)) {
      const read = after.nodes.get(id);
      if (read && !known.has(id) && closesLoop(after, id, now.id))
        return say('expression-closes-loop', { node: caption(now), read: caption(read) });
    }
  }
  return undefined;
}

/** More wires than this are looked at for loops all together. */
const mostWalked = 40;

/** A wire that the catalogue forbids, with why. */
export interface ForbiddenWire {
  readonly wire: Wire;
  readonly why: Saying;
  readonly isLoop: boolean;
}

/** What an edit wires that the catalogue forbids, as findings: as `forbiddenWires`. */
export const forbiddenWiring = (before: Doc, after: Doc, kinds: Kinds, edit: Edit): Finding[] =>
  forbiddenWires(before, after, kinds, edit).map(
    ({ wire, why }): Finding => ({ rule: 'forbidden-wire', severity: 'error', place: [wire.to.node], ...why }),
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
    const why = typeProblem(after, kinds, wire.from, wire.to);
    if (why) found.push({ wire, why, isLoop: false });
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
          why: loopProblem(must(after.nodes.get(from.node)), must(after.nodes.get(to.node))),
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
    ...loops.flatMap(({ wire, ...why }) => (known.has(why.message) || !wire ? [] : [{ wire, why, isLoop: true }])),
  ];
}

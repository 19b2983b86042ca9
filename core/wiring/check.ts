import { isBoundary } from '../document/builtin.ts';
import { caption, type Doc, placeOf } from '../document/doc.ts';
import { readBy, readingsOf } from '../document/expressions.ts';
import type { Id } from '../document/ids.ts';
import { isExpression, type Kinds } from '../document/kinds.ts';
import type { Wire } from '../document/schema.ts';
import { apply, type Edit, type Step } from '../edit/step.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { closesLoop, dataLoops } from './along.ts';
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
  if (kinds.catalogue.loops === 'forbidden') found.push(...loops(doc));
  return found;
}

/** Each loop over all that carries data, found at its first node. */
function loops(doc: Doc): Finding[] {
  return dataLoops(doc).map((loop) => {
    const inner = loop.filter((node) => !isBoundary(node.kind));
    const told = inner.length > 0 ? inner : loop;
    const names = told.slice(0, 4).map((node) => `“${caption(node)}”`);
    const rest = told.length > 4 ? ` and ${told.length - 4} more` : '';
    const first = must(told[0]);
    return find('loop', 'info', placeOf(doc, first.graph, first.id), 'loop', { names, rest });
  });
}

/** More links than this are looked at for loops all together. */
const mostWalked = 40;

/** What carries data from one node to another, and was not there, or not so, before an edit. */
interface Link {
  readonly table: 'wires' | 'nodes';
  /** The wire, or the node whose expression it is. */
  readonly id: Id;
  readonly from: Id;
  readonly to: Id;
}

/** What an edit links and the catalogue forbids: a wire or an expression, with why. */
export interface ForbiddenLink extends Link {
  readonly why: Saying;
  readonly isLoop: boolean;
}

/** What an edit links that the catalogue forbids, as findings: as `forbiddenLinks`. */
export const forbiddenWiring = (before: Doc, after: Doc, kinds: Kinds, edit: Edit): Finding[] =>
  forbiddenLinks(before, after, kinds, edit).map(
    ({ to, why }): Finding => ({ rule: 'forbidden-wire', severity: 'error', place: [to], ...why }),
  );

/**
 * What an edit links that the catalogue forbids: nodes that were there before wired by a new wire, or by another input,
 * that does not fit; and wires and expressions that close a loop that was not there. What is pasted in keeps the wires
 * that it has. O(links changed · links), at most O(nodes + wires).
 */
export function forbiddenLinks(before: Doc, after: Doc, kinds: Kinds, edit: Edit): ForbiddenLink[] {
  const wires = wiresChanged(after, edit);
  const found: ForbiddenLink[] = [];
  for (const wire of wires) {
    const old = before.wires.get(wire.id);
    const isRewired = !old || old.to.node !== wire.to.node || old.to.port !== wire.to.port;
    // a wire that heals has another source, and carries what would have been passed
    if (!isRewired || !before.nodes.has(wire.from.node) || !before.nodes.has(wire.to.node)) continue;
    const why = typeProblem(after, kinds, wire.from, wire.to);
    if (why) found.push({ ...linkOf(wire), why, isLoop: false });
  }
  if (kinds.catalogue.loops !== 'forbidden') return found;
  return [...found, ...loopsClosed(before, after, [...wires.map(linkOf), ...readingsAdded(before, after, edit)])];
}

/** Why an edit's expressions may not stand: the first that closes a loop where loops are forbidden. As `forbiddenLinks`. */
export function loopByExpression(before: Doc, kinds: Kinds, edit: Edit): Saying | undefined {
  if (kinds.catalogue.loops !== 'forbidden' || !edit.steps.some(writesExpression)) return undefined;
  const after = apply(before, edit);
  return loopsClosed(before, after, readingsAdded(before, after, edit))[0]?.why;
}

const linkOf = (wire: Wire): Link => ({ table: 'wires', id: wire.id, from: wire.from.node, to: wire.to.node });

function wiresChanged(after: Doc, edit: Edit): Wire[] {
  const touched = new Set(
    edit.steps.flatMap((step) => (step.table === 'wires' && step.type !== 'remove' ? [step.id] : [])),
  );
  return [...touched].flatMap((id) => after.wires.get(id) ?? []);
}

/** Does a step write an expression, at a parameter or among all of a node? */
export const writesExpression = (step: Step): boolean =>
  step.type === 'set' &&
  step.table === 'nodes' &&
  step.path[0] === 'params' &&
  (isExpression(step.to) || (step.path.length === 1 && step.to !== undefined));

/** What expressions read after an edit that the same node did not read before. */
function readingsAdded(before: Doc, after: Doc, edit: Edit): Link[] {
  const nodes = new Set(edit.steps.flatMap((step) => (writesExpression(step) ? [step.id] : [])));
  return [...nodes].flatMap((id) => {
    const [old, now] = [before.nodes.get(id), after.nodes.get(id)];
    if (!old || !now) return [];
    const known = new Set(readingsOf(old).map(({ reads }) => reads));
    const fresh = new Set(readBy(after, now).filter((read) => !known.has(read)));
    return [...fresh].map((from): Link => ({ table: 'nodes', id, from, to: id }));
  });
}

/** The links between nodes that were there before which close a loop that was not there. */
function loopsClosed(before: Doc, after: Doc, links: readonly Link[]): ForbiddenLink[] {
  const [wasOn, isOn] =
    links.length > mostWalked ? [sharedLoop(before), sharedLoop(after)] : [walked(before), walked(after)];
  return links.flatMap((link): ForbiddenLink[] => {
    const { from, to } = link;
    if (!before.nodes.has(from) || !before.nodes.has(to)) return [];
    // where both lay on a loop before, healing only made it shorter
    if (from !== to && (wasOn(from, to) || !isOn(from, to))) return [];
    const [source, target] = [must(after.nodes.get(from)), must(after.nodes.get(to))];
    const why =
      link.table === 'wires'
        ? loopProblem(source, target)
        : say('expression-closes-loop', { node: caption(target), read: caption(source) });
    return [{ ...link, why, isLoop: true }];
  });
}

type OnLoop = (from: Id, to: Id) => boolean;

/** Do two different nodes lie on one loop? By walking from each: O(reached) a question. */
const walked =
  (doc: Doc): OnLoop =>
  (from, to) =>
    closesLoop(doc, from, to) && closesLoop(doc, to, from);

/** The same for many questions. O(nodes + wires), once. */
function sharedLoop(doc: Doc): OnLoop {
  const loopOf = new Map(dataLoops(doc).flatMap((loop, i) => loop.map((node) => [node.id, i])));
  return (from, to) => loopOf.has(from) && loopOf.get(from) === loopOf.get(to);
}

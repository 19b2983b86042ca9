import { type Doc, indexOf } from '../document/doc.ts';
import { readBy } from '../document/expressions.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { isStructuralField, referencesOf } from '../document/references.ts';
import { type TableName, tableNames, tableShapes } from '../document/schema.ts';
import { problems } from '../document/validate.ts';
import { must } from '../must.ts';
import { alongData } from '../wiring/along.ts';
import { type ForbiddenLink, forbiddenLinks, writesExpression } from '../wiring/check.ts';
import { apply, type Edit, invert, type Step } from './step.ts';

/** Steps of mine that cannot stand with a step of theirs, though each side can be stored by itself. */
export interface Break {
  readonly mine: readonly Step[];
  readonly theirs: Step;
  readonly message: string;
}

interface Sides {
  /** Mine as it was made. */
  readonly edit: Edit;
  /** The steps of it that still stand. */
  readonly steps: readonly Step[];
  /** The same as it is done on the head. */
  readonly named: Edit;
  readonly over: Edit;
  /** The document with theirs done. */
  readonly head: Doc;
  readonly kinds: Kinds;
}

const isStructural = (step: Step): boolean =>
  step.table !== 'head' &&
  (step.type !== 'set' || isStructuralField(step.table, step.path[0] ?? '') || writesExpression(step));

const fits = (doc: Doc, steps: readonly Step[]): boolean =>
  steps.every((step) => {
    const record = step.table === 'head' ? undefined : doc[step.table].get(step.id);
    return record === undefined || tableShapes[step.table as TableName].safeParse(record).success;
  });

/**
 * The first thing that would keep both together from being stored, with what brings it about on either side; undefined
 * where nothing does, or where it is mine alone that cannot be stored. O(steps) where one side changes no structure;
 * else O(records · log).
 */
export function breaksOf({ edit, steps, named, over, head, kinds }: Sides): Break | undefined {
  const [mine, theirs] = [steps.filter(isStructural), over.steps.filter(isStructural)];
  if (mine.length === 0 || theirs.length === 0) return undefined;
  const after = apply(head, named);
  // a record that does not fit its shape is no matter of the two meeting
  if (!fits(after, mine)) return undefined;
  const before = apply(head, invert(over));
  const said = new Set(problems(head).map((one) => one.message));
  const broken = problems(after).find((one) => !said.has(one.message));
  if (broken) {
    const order = nearness(after, head, broken.place.at(-1));
    return { mine: nearest(mine, order), theirs: must(nearest(theirs, order)[0]), message: broken.message };
  }
  // what one of them may not link by itself is its own affair
  const keyOf = ({ id, from }: ForbiddenLink): string => `${id} ${from}`;
  const alone = new Set(
    [...forbiddenLinks(before, head, kinds, over), ...forbiddenLinks(before, apply(before, edit), kinds, edit)].map(
      keyOf,
    ),
  );
  const touched = new Set(steps.map((step) => step.id));
  const forbidden = forbiddenLinks(before, after, kinds, { steps: [...over.steps, ...named.steps] })
    .filter((link) => !alone.has(keyOf(link)))
    .sort((a, b) => Number(touched.has(b.id)) - Number(touched.has(a.id)));
  const worst = forbidden[0];
  if (!worst) return undefined;
  const closes = (step: Step): boolean =>
    worst.isLoop && linksOf(after, step).some((link) => isOnWay(after, link, worst.to, worst.from));
  const own = mine.filter((step) => step.id === worst.id && linksOf(after, step).length > 0);
  const order = nearness(after, head, worst.id);
  return {
    mine: own.length > 0 ? own : nearest(mine, order),
    theirs: theirs.find(closes) ?? must(nearest(theirs, order)[0]),
    message: worst.why.message,
  };
}

/** What a step links: a wire, or what an expression that it writes reads. */
function linksOf(doc: Doc, step: Step): { from: Id; to: Id }[] {
  if (step.table === 'wires') {
    const wire = doc.wires.get(step.id);
    return wire ? [{ from: wire.from.node, to: wire.to.node }] : [];
  }
  const node = writesExpression(step) ? doc.nodes.get(step.id) : undefined;
  return node ? readBy(doc, node).map((from) => ({ from, to: node.id })) : [];
}

/** Does a link lie on a way from one node down to another? */
const isOnWay = (doc: Doc, link: { from: Id; to: Id }, from: Id, to: Id): boolean =>
  alongData(doc, [from], 'down').has(link.from) && alongData(doc, [to], 'up').has(link.to);

/** The steps about the record that comes first in an order; all, where none of them comes in it. */
function nearest(steps: readonly Step[], order: ReadonlyMap<Id, number>): readonly Step[] {
  const far = ({ id }: Step): number => order.get(id) ?? Number.POSITIVE_INFINITY;
  const least = steps.reduce((low, step) => Math.min(low, far(step)), Number.POSITIVE_INFINITY);
  return steps.filter((step) => far(step) === least);
}

/**
 * Records in the order in which they hang together with one of them: what it names, what names it, as far as that goes.
 * O(records).
 */
function nearness(after: Doc, head: Doc, start: Id | undefined): ReadonlyMap<Id, number> {
  const order = new Map<Id, number>();
  let ring = start === undefined ? [] : [start];
  for (let distance = 0; ring.length > 0; distance++) {
    const fresh = ring.filter((id) => !order.has(id));
    for (const id of fresh) order.set(id, distance);
    ring = [...new Set(fresh.flatMap((id) => [...around(after, id), ...around(head, id)]))].filter(
      (id) => !order.has(id),
    );
  }
  return order;
}

function around(doc: Doc, id: Id): Id[] {
  const index = indexOf(doc);
  const named = tableNames.flatMap((name) => {
    const record = doc[name].get(id);
    return record ? referencesOf(name, record) : [];
  });
  // of a graph only who holds it: that two nodes lie in one graph says nothing of them
  if (doc.graphs.has(id)) return index.hostOf(id) ? [must(index.hostOf(id)).id] : [];
  const around = named.map((one) => one.id);
  if (doc.nodes.has(id)) around.push(...index.wiresOf(id).map((wire) => wire.id));
  if (doc.frames.has(id)) around.push(...index.framesWithin(id).map((frame) => frame.id));
  return around;
}

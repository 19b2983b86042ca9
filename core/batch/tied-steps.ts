import { connectedParts } from '../arrange/layered/parts.ts';
import { builtin, isBoundary } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import { isExpression } from '../document/kinds.ts';
import { isReferenceField, referencesOf } from '../document/references.ts';
import type { Step } from '../edit/step.ts';
import { must } from '../must.ts';

/** Fields that decide what else a record may have. */
const unsettling: ReadonlySet<string> = new Set([
  'nodes.kind',
  'nodes.ports',
  'nodes.inner',
  'nodes.graph',
  'frames.graph',
]);
/** Fields that are tied to those of their own record. */
const hanging: ReadonlySet<string> = new Set([
  'kind',
  'ports',
  'inner',
  'graph',
  'frame',
  'parent',
  'params',
  'setting',
  'settings',
]);

/**
 * Steps of an edit made by `diff` that cannot be without one another, as places in the list; each step in one part, in
 * the order of the first. O(steps), and O(wires) of nodes that move to another graph.
 */
export function tied(before: Doc, after: Doc, steps: readonly Step[]): number[][] {
  const anchors = new Map<string, number>();
  const [from, to]: [number[], number[]] = [[], []];
  const tie = (i: number, anchor: string): void => {
    const other = anchors.get(anchor);
    if (other === undefined) anchors.set(anchor, i);
    else {
      from.push(other);
      to.push(i);
    }
  };
  // what comes, goes, lies in another graph, or has other ports than before
  const unsettled = new Set<Id>();
  for (const step of steps)
    if (step.type !== 'set' || unsettling.has(`${step.table}.${step.path[0]}`)) unsettled.add(step.id);
  const near = (i: number, id: unknown): void => {
    if (typeof id === 'string' && unsettled.has(id)) tie(i, `record ${id}`);
  };
  steps.forEach((step, i) => {
    const values = step.type === 'set' ? [step.from, step.to] : [step.value];
    const [field, entry] = step.type === 'set' ? step.path : [undefined, undefined];
    if (step.type !== 'set') tie(i, `record ${step.id}`);
    for (const value of values) {
      const record = step.type === 'set' ? { [must(field)]: value } : (value as object);
      if (step.table !== 'head' && (step.type !== 'set' || isReferenceField(step.table, must(field))))
        for (const { id } of referencesOf(step.table, record)) near(i, id);
      if (isExpression(value))
        for (const segment of value.expression) if (typeof segment !== 'string') near(i, segment.node);
    }
    if (field !== undefined && hanging.has(field)) near(i, step.id);
    if (field === 'graph')
      for (const doc of [before, after]) {
        near(i, doc.nodes.get(step.id)?.frame);
        near(i, doc.frames.get(step.id)?.parent);
        for (const wire of indexOf(doc).wiresOf(step.id)) for (const end of [wire.from, wire.to]) near(i, end.node);
      }
    if (step.table === 'wires') {
      const wires = [before.wires.get(step.id), after.wires.get(step.id)];
      for (const wire of wires) {
        if (!wire) continue;
        tie(i, `input ${wire.to.node} ${wire.to.port}`);
        // a port of a nested graph goes by the id of the node inside that it stands for
        for (const end of [wire.from, wire.to]) for (const id of [end.node, end.port]) near(i, id);
      }
    }
    if (step.table === 'frames' && field === 'parent') tie(i, 'parents of frames');
    if (step.table === 'nodes') {
      if (step.type !== 'set' || field === 'name' || field === 'graph')
        for (const doc of [before, after]) {
          const node = doc.nodes.get(step.id);
          if (node) tie(i, `name ${node.graph} ${node.name}`);
          if (node?.kind === builtin.beacon) tie(i, `beacon ${step.id}`);
          // its host has a port of that name
          if (node && isBoundary(node.kind)) near(i, indexOf(doc).hostOf(node.graph)?.id);
          if (node?.beacon?.id !== undefined) near(i, node.beacon.id);
        }
      if (step.type !== 'set' || field === 'ports')
        for (const doc of [before, after]) for (const port of doc.nodes.get(step.id)?.ports ?? []) near(i, port.id);
      if (field === 'beacon')
        for (const value of values) {
          const id = (value as { id?: Id } | undefined)?.id;
          if (id !== undefined) tie(i, `beacon ${id}`);
          near(i, id);
        }
    }
    if (field === 'sets') {
      const ids =
        step.table === 'head'
          ? Object.keys({ ...(step as { from?: object }).from, ...(step as { to?: object }).to })
          : [];
      for (const id of entry === undefined ? ids : [entry]) tie(i, `set ${id}`);
    }
  });
  return connectedParts(steps.length, from, to);
}

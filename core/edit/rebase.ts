import { type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import { type Json, sameJson } from '../document/json.ts';
import { freeName, retitled } from '../document/names.ts';
import type { GraphNode, PortRef, Wire } from '../document/schema.ts';
import { type Finding, finding } from '../finding.ts';
import { type Edit, read, type Step } from './step.ts';

/** Two edits that cannot both be done. Position conflicts belong together: one choice for all of them. */
export interface Conflict {
  readonly kind: 'position' | 'value' | 'deleted' | 'wire' | 'added';
  readonly id: Id;
  readonly message: string;
  readonly mine: Step;
  readonly theirs: Step;
}

export interface Rebased {
  /** What of mine can be done on top of theirs; whole where there are no conflicts. */
  readonly edit: Edit;
  readonly conflicts: readonly Conflict[];
  /** What was adapted without asking, such as a name that was numbered. */
  readonly notes: readonly Finding[];
}

const key = (step: Step): string => `${step.table}/${step.id}`;
const inputKey = (end: PortRef): string => JSON.stringify([end.node, end.port]);
const isPosition = (path: readonly string[]): boolean => path.length === 1 && ['x', 'y', 'width', 'height', 'pad'].includes(path[0] ?? '');

/** Ids that a record leans on: it cannot be without them. */
function leansOn(table: Step['table'], value: Json): Id[] {
  const record = value as Record<string, Json>;
  const ids = ['graph', 'inner', 'frame', 'parent'].map((field) => record[field]).filter((id): id is string => typeof id === 'string');
  if (table === 'wires') ids.push((record as unknown as Wire).from.node, (record as unknown as Wire).to.node);
  return ids;
}

/** Ids that a step leans on. */
function needs(step: Step): Id[] {
  if (step.type === 'add') return leansOn(step.table, step.value);
  if (step.type === 'set' && step.to !== undefined && step.path.length === 1)
    return leansOn(step.table, { [step.path[0] as string]: step.to, ...(step.table === 'wires' && { from: wireEnd(step, 'from'), to: wireEnd(step, 'to') }) } as Json);
  return [];
}

const wireEnd = (step: Step & { type: 'set' }, field: 'from' | 'to'): Json => (step.path[0] === field ? (step.to as Json) : { node: '', port: '' });

class Theirs {
  readonly added = new Map<string, Step & { type: 'add' }>();
  readonly removed = new Map<string, Step & { type: 'remove' }>();
  readonly removedIds = new Map<Id, Step>();
  readonly set = new Map<string, (Step & { type: 'set' })[]>();
  readonly leaning = new Map<Id, Step>();
  readonly inputs = new Map<string, { step: Step; wire: Wire }>();

  constructor(over: Edit, head: Doc) {
    for (const step of over.steps) {
      if (step.type === 'add') this.added.set(key(step), step);
      else if (step.type === 'remove') {
        this.removed.set(key(step), step);
        this.removedIds.set(step.id, step);
      } else this.set.set(key(step), [...(this.set.get(key(step)) ?? []), step]);
      for (const id of needs(step)) if (!this.leaning.has(id)) this.leaning.set(id, step);
      if (step.table === 'wires' && step.type !== 'remove') {
        const wire = head.wires.get(step.id);
        if (wire) this.inputs.set(inputKey(wire.to), { step, wire });
      }
    }
  }
}

/**
 * My edit, made on the same document as theirs, so that it can be done after theirs. `head` is the document with theirs done.
 * Different fields merge; equal changes drop to one; all else is a conflict (docs/semantics.md, Rebase and merge). O(steps of both).
 */
export function rebase(edit: Edit, over: Edit, head: Doc): Rebased {
  const theirs = new Theirs(over, head);
  const steps: Step[] = [];
  const conflicts: Conflict[] = [];
  const notes: Finding[] = [];
  const freed = new Set<string>();
  for (const step of edit.steps) if (step.type === 'remove' && step.table === 'wires') freed.add(inputKey((step.value as unknown as Wire).to));

  for (const step of edit.steps) {
    const clash = conflictOf(step, theirs, freed);
    if (clash === 'done') continue;
    if (clash) conflicts.push(clash);
    else steps.push(step);
  }
  return { edit: { steps: numberTakenNames(steps, over, head, notes) }, conflicts, notes };
}

function conflictOf(step: Step, theirs: Theirs, freed: ReadonlySet<string>): Conflict | 'done' | undefined {
  const clash = (kind: Conflict['kind'], other: Step, message: string): Conflict => ({ kind, id: step.id, message, mine: step, theirs: other });
  const goneBelow = needs(step)
    .map((id) => theirs.removedIds.get(id))
    .find((other) => other !== undefined);
  if (goneBelow) return clash('deleted', goneBelow, `${step.id} leans on ${goneBelow.id}, which has been deleted meanwhile.`);

  if (step.type === 'add') {
    const other = theirs.added.get(key(step));
    if (other) return sameJson(other.value, step.value) ? 'done' : clash('added', other, `${step.id} was added by both, each time differently.`);
  }
  if (step.type === 'remove') {
    if (theirs.removed.has(key(step))) return 'done';
    const inside = theirs.set.get(key(step))?.[0] ?? theirs.leaning.get(step.id);
    if (inside) return clash('deleted', inside, `${step.id} is deleted by one and changed by the other.`);
  }
  if (step.type === 'set') {
    const gone = theirs.removed.get(key(step));
    if (gone) return clash('deleted', gone, `${step.id} has been deleted meanwhile.`);
    for (const other of theirs.set.get(key(step)) ?? []) {
      const length = Math.min(other.path.length, step.path.length);
      if (!other.path.slice(0, length).every((part, i) => part === step.path[i])) continue;
      if (other.path.length === step.path.length && sameJson(other.to, step.to)) return 'done';
      return clash(isPosition(step.path) ? 'position' : 'value', other, `${step.path.join('.')} of ${step.id} was changed by both.`);
    }
  }
  return wireConflict(step, theirs, freed, clash);
}

function wireConflict(
  step: Step,
  theirs: Theirs,
  freed: ReadonlySet<string>,
  clash: (kind: Conflict['kind'], other: Step, message: string) => Conflict,
): Conflict | 'done' | undefined {
  if (step.table !== 'wires' || step.type === 'remove') return undefined;
  const to = step.type === 'add' ? (step.value as unknown as Wire).to : step.path[0] === 'to' ? (step.to as unknown as PortRef | undefined) : undefined;
  if (!to) return undefined;
  const other = theirs.inputs.get(inputKey(to));
  if (!other || other.wire.id === step.id) return undefined;
  const from = step.type === 'add' ? (step.value as unknown as Wire).from : undefined;
  if (from && sameJson(from, other.wire.from) && !freed.has(inputKey(to))) return 'done';
  return clash('wire', other.step, `Both wired the input ${to.port} of ${to.node}.`);
}

/** Two equal new names: the later one, mine, is numbered, and that is said. */
function numberTakenNames(steps: readonly Step[], over: Edit, head: Doc, notes: Finding[]): Step[] {
  const theirNames = over.steps.some((step) => step.table === 'nodes' && (step.type === 'add' || (step.type === 'set' && (step.path[0] === 'name' || step.path[0] === 'graph'))));
  if (!theirNames) return [...steps];
  const takenIn = new Map<Id, Set<string>>();
  const mine = new Set(steps.filter((step) => step.table === 'nodes' && (step.type === 'remove' || (step.type === 'set' && step.path[0] === 'name'))).map((step) => step.id));
  const taken = (graph: Id): Set<string> => {
    let names = takenIn.get(graph);
    if (!names) {
      names = new Set(
        indexOf(head)
          .nodesIn(graph)
          .map((node) => node.name),
      );
      for (const id of mine) {
        const node = head.nodes.get(id);
        if (node?.graph === graph) names.delete(node.name);
      }
      takenIn.set(graph, names);
    }
    return names;
  };
  const number = (graph: Id, id: Id, name: string): string => {
    const free = freeName(name, taken(graph));
    if (free !== name) notes.push(finding('name-numbered', 'info', [id], `“${name}” was taken meanwhile, so this one is called “${free}”.`));
    return free;
  };
  // also those that they renamed
  const renamed = new Map<Id, string>(
    over.steps.flatMap((step) => (step.table === 'nodes' && step.type === 'set' && step.path[0] === 'name' && typeof step.to === 'string' ? [[step.id, step.to] as const] : [])),
  );
  const numbered = steps.map((step): Step => {
    if (step.table !== 'nodes') return step;
    if (step.type === 'add') {
      const node = step.value as unknown as GraphNode;
      const name = number(node.graph, step.id, node.name);
      if (name === node.name) return step;
      renamed.set(step.id, name);
      return { ...step, value: { ...node, name } as unknown as Json };
    }
    if (step.type === 'set' && step.path[0] === 'name' && typeof step.to === 'string') {
      const graph = (read(head.nodes.get(step.id), ['graph']) as string | undefined) ?? head.head.root;
      const to = number(graph, step.id, step.to);
      if (to !== step.to) renamed.set(step.id, to);
      return { ...step, to };
    }
    return step;
  });
  return renamed.size === 0 ? numbered : numbered.map((step) => tuned(step, renamed));
}

/** Taps that are made or given another beacon take the name that this got. */
function tuned(step: Step, renamed: ReadonlyMap<Id, string>): Step {
  if (step.table !== 'nodes') return step;
  if (step.type === 'add') return { ...step, value: retitled(step.value as unknown as GraphNode, renamed) as unknown as Json };
  if (step.type !== 'set' || step.path[0] !== 'beacon' || step.path.length > 1) return step;
  const beacon = step.to as GraphNode['beacon'];
  const name = renamed.get(beacon?.id ?? '');
  return name === undefined ? step : { ...step, to: { ...beacon, name } as unknown as Json };
}

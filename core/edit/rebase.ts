import type { Doc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import { sameJson } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { isReferenceField, referencesOf } from '../document/references.ts';
import type { PortRef, Wire } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { numberTakenNames } from './rebase-names.ts';
import { breaksOf } from './rebase-whole.ts';
import { say } from './sentences.ts';
import type { Edit, Step } from './step.ts';

/** Two edits that cannot both be done. Position conflicts belong together: one choice for all of them. */
export interface Conflict {
  /** `structure`: each can be stored by itself, and both together cannot. */
  readonly kind: 'position' | 'value' | 'deleted' | 'wire' | 'added' | 'structure';
  readonly id: Id;
  readonly message: string;
  readonly mine: Step;
  readonly theirs: Step;
  /** The key of the conflict that this one hangs on: they are decided together. */
  readonly follows?: string;
}

export const conflictKey = ({ mine }: Pick<Conflict, 'mine'>): string => `${mine.table}/${mine.id}`;

export interface Rebased {
  /** What of mine can be done on top of theirs; whole where there are no conflicts. */
  readonly edit: Edit;
  readonly conflicts: readonly Conflict[];
  /** What was adapted without asking, such as a name that was numbered. */
  readonly notes: readonly Finding[];
}

const key = (step: Step): string => `${step.table}/${step.id}`;
const inputKey = (end: PortRef): string => JSON.stringify([end.node, end.port]);
const isPosition = (path: readonly string[]): boolean =>
  path.length === 1 && ['x', 'y', 'width', 'height', 'pad'].includes(path[0] ?? '');

const none: readonly Id[] = [];

/** Ids that a step leans on. */
function needs(step: Step): readonly Id[] {
  if (step.table === 'head' || step.type === 'remove') return none;
  if (step.type === 'add') return referencesOf(step.table, step.value as object).map((one) => one.id);
  const field = step.path[0] ?? '';
  // most steps write what names nothing
  if (step.to === undefined || step.path.length > 1 || !isReferenceField(step.table, field)) return none;
  return referencesOf(step.table, { [field]: step.to }).map((one) => one.id);
}

/** Steps by the record that they are about. */
class ByRecord<T> {
  private readonly tables = new Map<Step['table'], Map<Id, T>>();

  get({ table, id }: Step): T | undefined {
    return this.tables.get(table)?.get(id);
  }

  has(step: Step): boolean {
    return this.get(step) !== undefined;
  }

  put({ table, id }: Step, value: T): void {
    const rows = this.tables.get(table);
    if (rows) rows.set(id, value);
    else this.tables.set(table, new Map([[id, value]]));
  }
}

class Theirs {
  readonly added = new ByRecord<Step & { type: 'add' }>();
  readonly removed = new ByRecord<Step & { type: 'remove' }>();
  readonly removedIds = new Map<Id, Step>();
  readonly set = new ByRecord<(Step & { type: 'set' })[]>();
  readonly leaning = new Map<Id, Step>();
  readonly inputs = new Map<string, { step: Step; wire: Wire }>();

  constructor(over: Edit, head: Doc) {
    for (const step of over.steps) {
      if (step.type === 'add') this.added.put(step, step);
      else if (step.type === 'remove') {
        this.removed.put(step, step);
        this.removedIds.set(step.id, step);
      } else {
        const others = this.set.get(step);
        if (others) others.push(step);
        else this.set.put(step, [step]);
      }
      for (const id of needs(step)) if (!this.leaning.has(id)) this.leaning.set(id, step);
      if (step.table === 'wires' && step.type !== 'remove') {
        const wire = head.wires.get(step.id);
        if (wire) this.inputs.set(inputKey(wire.to), { step, wire });
      }
    }
  }
}

/**
 * My edit, made on the same document as theirs, so that it can be done after theirs. `head` is the document with theirs
 * done.
 * Different fields merge; equal changes drop to one; all else is a conflict (docs/semantics.md, Rebase). Where there is
 * no conflict, what comes of it can be stored, as far as mine alone could be. `also`: what theirs did as mine did it,
 * where mine takes something back: that stays. O(steps of both), and O(records · log) where both changed how things
 * hang together.
 */
export function rebase(edit: Edit, over: Edit, head: Doc, kinds: Kinds, also: Edit = { steps: [] }): Rebased {
  const theirs = new Theirs(also.steps.length === 0 ? over : { steps: [...over.steps, ...also.steps] }, head);
  let steps: Step[] = [];
  const conflicts: Conflict[] = [];
  const freed = new Set<string>();
  for (const step of edit.steps)
    if (step.type === 'remove' && step.table === 'wires') freed.add(inputKey((step.value as unknown as Wire).to));

  for (const step of edit.steps) {
    const clash = conflictOf(step, theirs, freed);
    if (clash === 'done') continue;
    if (clash) conflicts.push(clash);
    else steps.push(step);
  }
  steps = withoutHanging(steps, conflicts);
  for (;;) {
    const { edit: named, notes } = numberTakenNames({ steps }, over, head);
    const broken = breaksOf({ edit, steps, named, over, head, kinds });
    if (!broken) return { edit: named, conflicts, notes };
    const against = new Set(broken.mine);
    const first = must(broken.mine[0]);
    const follows = key(first);
    for (const mine of broken.mine)
      conflicts.push({
        kind: 'structure',
        id: mine.id,
        message: broken.message,
        mine,
        theirs: broken.theirs,
        ...(mine !== first && { follows }),
      });
    steps = withoutHanging(
      steps.filter((step) => !against.has(step)),
      conflicts,
    );
  }
}

/** The step that adds a record, or takes one away, with what that record cannot be without. */
const hangsOn = (step: Step): Id[] =>
  step.type === 'set' ? [] : referencesOf(step.table, step.value as object).map((one) => one.id);

/**
 * What hangs on a step that stands in a conflict stands in it too: a wire at a node that is not added; a frame whose
 * member is not deleted; the node that holds a graph which is not deleted. Adds to the conflicts. O(steps · depth).
 */
function withoutHanging(steps: Step[], conflicts: Conflict[]): Step[] {
  let left = steps;
  if (conflicts.length === 0) return left;
  for (;;) {
    const notAdded = new Map<Id, Conflict>();
    const kept = new Map<Id, Conflict>();
    const graphs = new Map<Id, Conflict>();
    const inside = new Set<Id>();
    for (const one of conflicts) {
      if (one.mine.type === 'add') notAdded.set(one.mine.id, one);
      if (one.mine.type !== 'remove') continue;
      kept.set(one.mine.id, one);
      if (one.mine.table === 'graphs') graphs.set(one.mine.id, one);
      if (graphs.has((one.mine.value as { graph?: Id }).graph ?? '')) inside.add(one.mine.id);
      for (const id of hangsOn(one.mine)) if (!kept.has(id)) kept.set(id, one);
    }
    const causeOf = (step: Step): Conflict | undefined => {
      if (step.type !== 'remove')
        return notAdded.get(step.id) ?? needs(step).flatMap((id) => notAdded.get(id) ?? [])[0];
      const { inner, graph, to } = step.value as { inner?: Id; graph?: Id; to?: PortRef };
      // a nested graph that is not deleted is kept with all that it holds
      const whole = graph === undefined ? undefined : graphs.get(graph);
      const wired = to !== undefined && inside.has(to.node) ? kept.get(to.node) : undefined;
      return kept.get(step.id) ?? whole ?? wired ?? (inner === undefined ? undefined : kept.get(inner));
    };
    const found: Conflict[] = [];
    left = left.filter((step) => {
      const cause = causeOf(step);
      if (cause) found.push({ ...cause, id: step.id, mine: step, follows: cause.follows ?? conflictKey(cause) });
      return !cause;
    });
    if (found.length === 0) return left;
    conflicts.push(...found);
  }
}

type Clash = (kind: Conflict['kind'], other: Step, said: Saying) => Conflict;

function conflictOf(step: Step, theirs: Theirs, freed: ReadonlySet<string>): Conflict | 'done' | undefined {
  const clash: Clash = (kind, other, said) => ({
    kind,
    id: step.id,
    message: said.message,
    mine: step,
    theirs: other,
  });
  const below = theirs.removedIds.size === 0 ? undefined : needs(step).find((id) => theirs.removedIds.has(id));
  const goneBelow = below === undefined ? undefined : theirs.removedIds.get(below);
  if (goneBelow) return clash('deleted', goneBelow, say('lost-below', { id: step.id, below: goneBelow.id }));

  if (step.type === 'add') {
    const other = theirs.added.get(step);
    if (other)
      return sameJson(other.value, step.value) ? 'done' : clash('added', other, say('added-by-both', { id: step.id }));
    const gone = theirs.removed.get(step);
    if (gone) return clash('deleted', gone, say('deleted-by-both', { id: step.id }));
  }
  if (step.type === 'remove') {
    if (theirs.removed.has(step)) return 'done';
    const inside = theirs.added.get(step) ?? theirs.set.get(step)?.[0] ?? theirs.leaning.get(step.id);
    if (inside) return clash('deleted', inside, say('deleted-and-changed', { id: step.id }));
  }
  if (step.type === 'set') {
    const gone = theirs.removed.get(step);
    if (gone) return clash('deleted', gone, say('deleted-since', { id: step.id }));
    for (const other of theirs.set.get(step) ?? []) {
      const length = Math.min(other.path.length, step.path.length);
      if (!other.path.slice(0, length).every((part, i) => part === step.path[i])) continue;
      if (other.path.length === step.path.length && sameJson(other.to, step.to)) return 'done';
      return clash(
        isPosition(step.path) ? 'position' : 'value',
        other,
        say('changed-by-both', { field: step.path.join('.'), id: step.id }),
      );
    }
  }
  return wireConflict(step, theirs, freed, clash);
}

function wireConflict(
  step: Step,
  theirs: Theirs,
  freed: ReadonlySet<string>,
  clash: Clash,
): Conflict | 'done' | undefined {
  if (step.table !== 'wires' || step.type === 'remove') return undefined;
  const to =
    step.type === 'add'
      ? (step.value as unknown as Wire).to
      : step.path[0] === 'to'
        ? (step.to as unknown as PortRef | undefined)
        : undefined;
  if (!to) return undefined;
  const other = theirs.inputs.get(inputKey(to));
  if (!other || other.wire.id === step.id) return undefined;
  const from = step.type === 'add' ? (step.value as unknown as Wire).from : undefined;
  if (from && sameJson(from, other.wire.from) && !freed.has(inputKey(to))) return 'done';
  return clash('wire', other.step, say('wired-by-both', { port: to.port, node: to.node }));
}

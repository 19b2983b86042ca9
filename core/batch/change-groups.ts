import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import type { z } from 'zod';
import { builtin, isBoundary } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import { isExpression, type Kinds } from '../document/kinds.ts';
import { isReferenceField, referencesOf } from '../document/references.ts';
import type { GraphNode, PortRef, Wire } from '../document/schema.ts';
import type { Edit, Step } from '../edit/step.ts';
import { groupBy } from '../group-by.ts';
import { textOfUse } from '../inspect/uses.ts';
import { must } from '../must.ts';
import { expressionText } from '../structure/expression.ts';
import type { changeGroupSchema } from './change-group-schema.ts';
import { fieldTitle, changeWords as words } from './change-words.ts';

/** A group with the steps that it holds. */
export interface ChangeGroup extends z.infer<typeof changeGroupSchema> {
  /** Places in the list of steps. */
  readonly steps: readonly number[];
  /** What changes, by id. */
  readonly ids: readonly Id[];
}

/** Of more different values than so many there is one group, for all of them. */
const mostValues = 12;
const longest = 60;

/** What a group is told by, before things that are told alike are put together. */
interface Told {
  readonly what: string;
  readonly of: string;
  readonly said: string;
}

/**
 * Puts the steps of an edit, made of `before` and `after` by `diff`, into groups. Each step is in one group; what cannot
 * be without one another is in the same: a node with its wires, frames and ports, names that change places, a beacon
 * with its taps. So what is left of the edit without some of its groups can be applied. O(steps · log), and O(wires) where
 * nodes become of another kind.
 */
export function changeGroups(before: Doc, after: Doc, edit: Edit, kinds: Kinds): readonly ChangeGroup[] {
  const { steps } = edit;
  const told = new Teller(before, after, kinds);
  const parts: { steps: readonly number[]; told: Told; values: boolean }[] = [];
  for (const part of tied(before, after, steps)) {
    const first = must(steps[must(part[0])]);
    const isPlain = first.type === 'set' && part.every((i) => told.field(must(steps[i])) === told.field(first));
    if (isPlain) parts.push({ steps: part, told: told.plain(part.map((i) => must(steps[i]))), values: true });
    else parts.push({ steps: part, told: told.structure(part.map((i) => must(steps[i]))), values: false });
  }
  // many different values are one group
  const byField = groupBy(
    parts.filter((part) => part.values),
    ({ told: { what, of } }) => JSON.stringify([what, of]),
  );
  const isMany = new Set(
    [...byField].flatMap(([key, all]) => (new Set(all.map((one) => one.told.said)).size > mostValues ? [key] : [])),
  );
  const groups = groupBy(parts, ({ told: { what, of, said }, values }) =>
    JSON.stringify([what, of, values && isMany.has(JSON.stringify([what, of])) ? words.many : said]),
  );
  return [...groups]
    .map(([key, all]): ChangeGroup => {
      const [what, of, said] = JSON.parse(key) as [string, string, string];
      const own = all.flatMap((part) => part.steps).sort((a, b) => a - b);
      const ids = [...new Set(own.map((i) => must(steps[i]).id))];
      return {
        key: shortHash(key),
        what,
        of,
        said,
        things: told.things(own.map((i) => must(steps[i]))),
        steps: own,
        ids,
      };
    })
    .sort((a, b) => b.things - a.things || must(a.steps[0]) - must(b.steps[0]));
}

/** What is left of an edit without some of its groups. O(steps). */
export function withoutGroups(edit: Edit, groups: readonly ChangeGroup[], left: ReadonlySet<string>): Edit {
  const gone = new Set(groups.flatMap((group) => (left.has(group.key) ? group.steps : [])));
  return { steps: edit.steps.filter((_, i) => !gone.has(i)) };
}

const shortHash = (text: string): string => bytesToHex(sha256(utf8ToBytes(text))).slice(0, 24);

const isWireStep = (step: Step): boolean => step.table === 'wires';

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

/** Steps that cannot be without one another, as places in the list; each in one part, in the order of the first. */
function tied(before: Doc, after: Doc, steps: readonly Step[]): number[][] {
  const parent = steps.map((_, i) => i);
  const top = (i: number): number => {
    let at = i;
    while (parent[at] !== at) {
      parent[at] = must(parent[must(parent[at])]);
      at = must(parent[at]);
    }
    return at;
  };
  const anchors = new Map<string, number>();
  const tie = (i: number, anchor: string): void => {
    const other = anchors.get(anchor);
    if (other === undefined) anchors.set(anchor, i);
    else parent[Math.max(top(i), top(other))] = Math.min(top(i), top(other));
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
    if (isWireStep(step)) {
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
  return [
    ...groupBy(
      steps.map((_, i) => i),
      top,
    ).values(),
  ];
}

/** Tells what steps are about. */
class Teller {
  private readonly before: Doc;
  private readonly after: Doc;
  private readonly kinds: Kinds;

  constructor(before: Doc, after: Doc, kinds: Kinds) {
    this.before = before;
    this.after = after;
    this.kinds = kinds;
  }

  private node(id: Id): GraphNode | undefined {
    return this.after.nodes.get(id) ?? this.before.nodes.get(id);
  }

  private kindOf(id: Id): string {
    const node = this.node(id);
    return node ? this.kinds.title(node.kind) : '';
  }

  /** Which field a step sets, places and sizes as one; undefined where it adds or removes. */
  field(step: Step): string | undefined {
    if (step.type !== 'set') return undefined;
    const [field = '', entry] = step.path;
    if (['x', 'y', 'width', 'height', 'pad', 'size'].includes(field)) return 'place';
    return `${step.table} ${field === 'params' ? `params ${entry} of ${this.kindOf(step.id)}` : field}`;
  }

  /** Steps that set the same field. Several at once depend on one another, and are not told by their values. */
  plain(steps: readonly Step[]): Told {
    const step = must(steps[0]) as Step & { type: 'set' };
    const [field = '', entry] = step.path;
    const of = step.table === 'nodes' ? this.kindOf(step.id) : '';
    // where a node stands is no matter of its kind
    if (this.field(step) === 'place') return { what: words.place, of: '', said: '' };
    const what =
      field === 'params' && entry !== undefined
        ? (this.kinds.parameter(this.node(step.id)?.kind ?? '', entry)?.title ?? entry)
        : fieldTitle(step.table, field);
    if (steps.length > 1) return { what, of, said: words.many };
    return { what, of, said: `${this.shown(step, step.from, this.before)} → ${this.shown(step, step.to, this.after)}` };
  }

  private shown({ path: [field, entry], id }: Step & { type: 'set' }, value: Json | undefined, doc: Doc): string {
    const usual =
      field === 'params' && entry !== undefined
        ? this.kinds.parameter(this.node(id)?.kind ?? '', entry)?.default
        : undefined;
    const counts = value ?? usual;
    if (field === 'frame') return typeof value === 'string' ? `“${doc.frames.get(value)?.title ?? ''}”` : words.none;
    if (field === 'beacon') return (value as { name?: string } | undefined)?.name ?? words.none;
    if (counts === undefined || counts === null || counts === '') return words.none;
    if (counts === true || counts === false) return counts ? words.yes : words.no;
    const text = isExpression(counts) ? `= ${expressionText(doc, counts)}` : textOfUse(counts);
    return `${text.length > longest ? `${text.slice(0, longest - 1)}…` : text}${value === undefined ? ` ${words.usual}` : ''}`;
  }

  /** Steps that stand and fall together. */
  structure(steps: readonly Step[]): Told {
    const of = (type: 'add' | 'remove'): string[] =>
      sorted(steps.flatMap((step) => (step.type === type && step.table === 'nodes' ? [this.kindOf(step.id)] : [])));
    const has = (table: Step['table'], type?: Step['type']): boolean =>
      steps.some((step) => step.table === table && (type === undefined || step.type === type));
    const [added, removed] = [of('add'), of('remove')];
    const replaced = sorted(
      steps.flatMap((step) =>
        step.type === 'set' && step.path[0] === 'kind'
          ? [`${this.kinds.title(String(step.from))} → ${this.kinds.title(String(step.to))}`]
          : [],
      ),
    );
    const withs = [
      ...(has('graphs') ? [words.withGraphs] : []),
      ...(has('wires') ? [words.withWires] : []),
      ...(has('frames') ? [words.withFrames] : []),
    ];
    const said = withs.join(', ');
    if (has('graphs', 'add')) return { what: words.nested, of: few(added), said };
    if (has('graphs', 'remove')) return { what: words.unnested, of: few(removed), said };
    if (replaced.length > 0) return { what: words.replaced, of: '', said: few(replaced) };
    if (added.length > 0 && removed.length > 0) return { what: words.exchanged, of: few([...added, ...removed]), said };
    if (added.length > 0) return { what: words.added, of: few(added), said };
    if (removed.length > 0) return { what: words.removed, of: few(removed), said };
    if (has('wires'))
      return {
        what: words.wiring,
        of: few(sorted(steps.flatMap((step) => (isWireStep(step) ? [this.kindOf(this.inputOf(step).node)] : [])))),
        said: this.wiring(steps),
      };
    if (has('frames'))
      return {
        what: words.frames[has('frames', 'add') ? 'add' : has('frames', 'remove') ? 'remove' : 'set'],
        of: '',
        said: '',
      };
    if (has('notes'))
      return {
        what: words.notes[has('notes', 'add') ? 'add' : has('notes', 'remove') ? 'remove' : 'set'],
        of: '',
        said: '',
      };
    return { what: words.several, of: few(sorted(steps.map((step) => this.kindOf(step.id)))), said: '' };
  }

  private inputOf(step: Step): PortRef {
    return must<Wire | undefined>(this.after.wires.get(step.id) ?? this.before.wires.get(step.id)).to;
  }

  private wiring(steps: readonly Step[]): string {
    const wires = steps.filter(isWireStep);
    const added = wires.some((step) => step.type === 'add');
    const removed = wires.some((step) => step.type === 'remove');
    return added && removed
      ? words.wiresMoved
      : added
        ? words.wiresAdded
        : removed
          ? words.wiresRemoved
          : words.wiresChanged;
  }

  /** How many things steps are about: nodes where there are any, else frames, notes, wires. */
  things(steps: readonly Step[]): number {
    for (const table of ['nodes', 'frames', 'notes', 'wires'] as const) {
      const ids = new Set(steps.flatMap((step) => (step.table === table ? [step.id] : [])));
      if (ids.size > 0) return ids.size;
    }
    return 1;
  }
}

const sorted = (titles: readonly string[]): string[] => [...new Set(titles)].filter((title) => title !== '').sort();
/** Kinds in a row, the first few of them. */
const few = (titles: readonly string[]): string =>
  titles.length > 3 ? `${titles.slice(0, 3).join(', ')} …` : titles.join(', ');

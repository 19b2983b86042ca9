import type { Doc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import { isExpression, type Kinds } from '../document/kinds.ts';
import type { GraphNode, PortRef, Wire } from '../document/schema.ts';
import type { Step } from '../edit/step.ts';
import { textOfUse } from '../inspect/uses.ts';
import { must } from '../must.ts';
import { expressionText } from '../structure/expression.ts';
import type { Unit } from './change-group-schema.ts';
import { fieldTitle, changeWords as words } from './change-words.ts';

/** Values are told no longer than this, in characters. */
const longest = 60;

/** What a group is told by, before things that are told alike are put together. */
export interface Told {
  readonly what: string;
  readonly of: string;
  readonly said: string;
}

/** Tells what steps are about. */
export class Teller {
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
    // a mark that is absent is off
    const isMark = typeof step.from === 'boolean' || typeof step.to === 'boolean';
    const [from, to] = [step.from, step.to].map((value) => (isMark && field !== 'params' ? value === true : value));
    return { what, of, said: `${this.shown(step, from, this.before)} → ${this.shown(step, to, this.after)}` };
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
        of: few(
          sorted(steps.flatMap((step) => (step.table === 'wires' ? [this.kindOf(this.inputOf(step).node)] : []))),
        ),
        said: this.wiring(steps),
      };
    for (const table of ['frames', 'notes'] as const)
      if (has(table)) {
        const how = has(table, 'add') ? 'add' : has(table, 'remove') ? 'remove' : 'set';
        return { what: words[table][how], of: '', said: '' };
      }
    return { what: words.several, of: few(sorted(steps.map((step) => this.kindOf(step.id)))), said: '' };
  }

  private inputOf(step: Step): PortRef {
    return must<Wire | undefined>(this.after.wires.get(step.id) ?? this.before.wires.get(step.id)).to;
  }

  private wiring(steps: readonly Step[]): string {
    const wires = steps.filter((step) => step.table === 'wires');
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

  /** How many things steps are about, and what they are: nodes where there are any that come, go or change. */
  counted(steps: readonly Step[]): { things: number; unit: Unit } {
    for (const [table, unit] of units) {
      const ids = new Set(steps.flatMap((step) => (step.table === table ? [step.id] : [])));
      if (ids.size > 0) return { things: ids.size, unit };
    }
    return { things: 1, unit: 'file' };
  }
}

const units = [
  ['nodes', 'node'],
  ['frames', 'frame'],
  ['notes', 'note'],
  ['wires', 'wire'],
  ['graphs', 'graph'],
] as const;

const sorted = (titles: readonly string[]): string[] => [...new Set(titles)].filter((title) => title !== '').sort();
/** Kinds in a row, the first few of them. */
const few = (titles: readonly string[]): string =>
  titles.length > 3 ? `${titles.slice(0, 3).join(', ')} …` : titles.join(', ');

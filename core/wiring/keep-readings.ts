import { z } from 'zod';
import { caption, type Doc, placeOf } from '../document/doc.ts';
import { lostReadings, type Reading, readersOf } from '../document/expressions.ts';
import type { Json } from '../document/json.ts';
import { type Expression, isExpression, type Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import type { Edit } from '../edit/step.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { groupBy } from '../group-by.ts';
import { must } from '../must.ts';
import { find } from './sentences.ts';

// A node that goes leaves the expressions that read it without a value: the act either puts in what they read, or lets
// it go. That is asked of the act, by one option, and answered here.

/** The option of acts that take nodes away. */
export const readingsOption = z.enum(['keep', 'let go']).default('let go').meta({
  title: 'Expressions that read these nodes',
  hint: 'keep: replace them by their current value; let go: leave them without a value, and list them',
  only: 'expressions',
});

/** Expressions of nodes that stay whose nodes went with the edit. O(nodes) where nodes went, once for a version. */
export function readingsLost(doc: Doc, after: Doc, edit: Edit): Reading[] {
  return edit.steps.flatMap((step) =>
    step.type === 'remove' && step.table === 'nodes'
      ? readersOf(doc, step.id).filter(({ node, parameter }) => {
          const reader = after.nodes.get(node);
          // a node that goes may be replaced in what read it
          return (
            reader && lostReadings(after, reader).some((one) => one.parameter === parameter && one.reads === step.id)
          );
        })
      : [],
  );
}

type Segment = Expression['expression'][number];

/** An expression that would have more pieces than this is left lost: what reads one another twice doubles each time. */
const mostPieces = 2000;

/**
 * Goes on with an edit so that expressions of nodes that stay have in them what they read of nodes that went: the value,
 * or the expression that stood there, in parentheses. What read one parameter and nothing else has its plain value. An
 * expression that reads itself over nodes that go is left lost. Cost: that of `readingsLost`, and O(what is put in).
 */
export function keepReadings(
  doc: Doc,
  kinds: Kinds,
  edit: Edit,
): { readonly edit: Edit; readonly findings: readonly Finding[] } {
  const tx = Transaction.of(doc, edit);
  const after = tx.doc;
  const findings: Finding[] = [];
  const lost = groupBy(readingsLost(doc, after, edit), ({ node, parameter }) => `${node} ${parameter}`);
  for (const [{ node: id, parameter }] of lost.values() as Iterable<[Reading]>) {
    const node = must(after.nodes.get(id));
    const expression = node.params?.[parameter];
    const value = isExpression(expression)
      ? new Putting(doc, after, kinds, node).value(parameter, expression)
      : undefined;
    if (value === undefined) continue;
    tx.setParameter(id, parameter, value);
    findings.push(
      find('reading-kept', 'info', placeOf(after, node.graph, id), 'reading-kept', {
        node: caption(node),
        parameter: kinds.parameter(node.kind, parameter)?.title ?? parameter,
      }),
    );
  }
  return { edit: tx.edit, findings };
}

/** Puts what nodes that go gave into an expression of one that stays. */
class Putting {
  private readonly doc: Doc;
  private readonly after: Doc;
  private readonly kinds: Kinds;
  private readonly reader: GraphNode;
  private readonly pieces: Segment[] = [];
  private added = 0;

  constructor(doc: Doc, after: Doc, kinds: Kinds, reader: GraphNode) {
    this.doc = doc;
    this.after = after;
    this.kinds = kinds;
    this.reader = reader;
  }

  /** What the parameter has then, a plain value where it read nothing else; undefined where it cannot be worked out. */
  value(parameter: string, { expression }: Expression): Json | undefined {
    const [only, ...more] = expression.filter((one) => typeof one !== 'string' || one.trim() !== '');
    const alone = typeof only === 'object' && more.length === 0 ? this.given(only) : undefined;
    const isPlain = alone !== undefined && !isExpression(alone);
    if (isPlain && this.kinds.valueProblem(this.reader.kind, parameter, alone) === undefined) return alone;
    return expression.every((one) => this.put(one, new Set())) ? { expression: this.pieces } : undefined;
  }

  private given({ node, parameter }: Exclude<Segment, string>): Json | undefined {
    return this.kinds.value(must(this.doc.nodes.get(node)), parameter);
  }

  /** Adds a piece with all that is put in for it. `seen`: parameters whose expression it stands in. */
  private put(piece: Segment, seen: ReadonlySet<string>): boolean {
    if (this.added > mostPieces) return false;
    if (typeof piece === 'string') return this.add(piece);
    if (!this.doc.nodes.has(piece.node) || this.after.nodes.has(piece.node))
      return (seen.size === 0 || piece.node !== this.reader.id) && this.add(piece);
    const key = `${piece.node} ${piece.parameter}`;
    const value = this.given(piece);
    if (value === undefined || seen.has(key)) return false;
    if (!isExpression(value)) return this.add(literal(value));
    const within = new Set([...seen, key]);
    return this.add('(') && value.expression.every((one) => this.put(one, within)) && this.add(')');
  }

  /** Neighbouring pieces of text are one. */
  private add(piece: Segment): true {
    this.added++;
    const last = this.pieces.at(-1);
    if (typeof piece === 'string' && typeof last === 'string') this.pieces[this.pieces.length - 1] = last + piece;
    else this.pieces.push(piece);
    return true;
  }
}

/** A value as it stands in an expression. */
const literal = (value: Json): string =>
  typeof value === 'number' && value < 0 ? `(${value})` : JSON.stringify(value);

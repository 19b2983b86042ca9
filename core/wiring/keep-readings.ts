import { z } from 'zod';
import { caption, type Doc, placeOf } from '../document/doc.ts';
import { lostReadings, type Reading, readersOf } from '../document/expressions.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import { type Expression, isExpression, type Kinds } from '../document/kinds.ts';
import type { Edit } from '../edit/step.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { find } from './sentences.ts';

// A node that goes leaves the expressions that read it without a value: the act either puts in what they read, or lets
// it go. That is asked of the act, by one option, and answered here.

/** The option of acts that take nodes away. */
export const readingsOption = z.enum(['keep', 'let go']).default('let go').meta({
  title: 'Expressions that read what goes',
  hint: 'keep: the value that they read now is put in; let go: they are lost, and listed',
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

/**
 * Goes on with an edit so that expressions of nodes that stay have in them what they read of nodes that went: the value,
 * or the expression that stood there, in parentheses. What read one parameter and nothing else has its plain value. An
 * expression that reads itself over nodes that go is left lost. Cost: that of `readingsLost`.
 */
export function keepReadings(
  doc: Doc,
  kinds: Kinds,
  edit: Edit,
): { readonly edit: Edit; readonly findings: readonly Finding[] } {
  const tx = new Transaction(doc);
  for (const step of edit.steps) tx.push(step);
  const after = tx.doc;
  const lost = readingsLost(doc, after, edit);
  const isGone = (id: Id): boolean => doc.nodes.has(id) && !after.nodes.has(id);
  const put = (reader: Id, segment: Segment, seen: ReadonlySet<string>): readonly Segment[] | undefined => {
    if (typeof segment === 'string') return [segment];
    if (!isGone(segment.node)) return seen.size > 0 && segment.node === reader ? undefined : [segment];
    const key = `${segment.node} ${segment.parameter}`;
    const value = kinds.value(must(doc.nodes.get(segment.node)), segment.parameter);
    if (value === undefined || seen.has(key)) return undefined;
    if (!isExpression(value)) return [literal(value)];
    const inner = allPut(reader, value.expression, new Set([...seen, key]));
    return inner && ['(', ...inner, ')'];
  };
  const allPut = (
    reader: Id,
    segments: readonly Segment[],
    seen: ReadonlySet<string>,
  ): readonly Segment[] | undefined => {
    const parts = segments.map((segment) => put(reader, segment, seen));
    return parts.every((part) => part !== undefined) ? parts.flat() : undefined;
  };
  const findings: Finding[] = [];
  const done = new Set<string>();
  for (const { node: id, parameter } of lost) {
    const key = `${id} ${parameter}`;
    if (done.has(key)) continue;
    done.add(key);
    const node = must(after.nodes.get(id));
    const expression = node.params?.[parameter];
    if (!isExpression(expression)) continue;
    const now = allPut(id, expression.expression, new Set());
    if (!now) continue;
    const [only, ...more] = expression.expression.filter((one) => typeof one !== 'string' || one.trim() !== '');
    const plain =
      typeof only === 'object' && more.length === 0
        ? kinds.value(must(doc.nodes.get(only.node)), only.parameter)
        : undefined;
    const isPlain =
      plain !== undefined && !isExpression(plain) && kinds.valueProblem(node.kind, parameter, plain) === undefined;
    const value: Json = isPlain ? plain : { expression: joined(now) };
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

/** A value as it stands in an expression. */
const literal = (value: Json): string =>
  typeof value === 'number' && value < 0 ? `(${value})` : JSON.stringify(value);

/** Neighbouring pieces of text as one. */
function joined(segments: readonly Segment[]): Segment[] {
  const found: Segment[] = [];
  for (const segment of segments) {
    const last = found.at(-1);
    if (typeof segment === 'string' && typeof last === 'string') found[found.length - 1] = last + segment;
    else found.push(segment);
  }
  return found;
}

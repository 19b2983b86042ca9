import type { Json } from '../document/json.ts';
import { isExpression, isPlainValue, type Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { type Finding, finding } from '../finding.ts';

/** Does the node have the parameter, by its kind or set on it? */
export const hasParameter = (kinds: Kinds, node: GraphNode, parameter: string): boolean =>
  kinds.parameter(node.kind, parameter) !== undefined || node.params?.[parameter] !== undefined;

/**
 * Why a node is passed over when a parameter of many is set: it lacks the parameter, is locked, or holds there what
 * must not be lost unasked.
 */
export function passedOver(kinds: Kinds, node: GraphNode, parameter: string, replace: boolean): Finding | undefined {
  if (node.locked) return finding('locked', 'info', [node.id], `“${node.name}” is locked and was skipped.`);
  if (!hasParameter(kinds, node, parameter))
    return finding(
      'parameter-missing',
      'info',
      [node.id],
      `“${node.name}” (${kinds.title(node.kind)}) has no parameter ${parameter}; it was skipped.`,
    );
  const value = node.params?.[parameter];
  if (replace || value === undefined || isPlainValue(value)) return undefined;
  const what = isExpression(value) ? 'an expression' : 'a value of a kind that is not known here';
  return finding(
    'parameter-opaque',
    'info',
    [node.id],
    `“${node.name}” holds ${what} in ${parameter}; it was skipped.`,
  );
}

/**
 * The sentence for a value that does not fit a parameter of a node; undefined where it fits, or is the default again.
 */
export function misfit(kinds: Kinds, node: GraphNode, parameter: string, value: Json | undefined): string | undefined {
  const problem = value === undefined ? undefined : kinds.valueProblem(node.kind, parameter, value);
  return problem === undefined ? undefined : `${node.name}: ${problem}`;
}

import { attributesOf } from '../document/attributes.ts';
import type { Doc } from '../document/doc.ts';
import type { Json } from '../document/json.ts';
import { isExpression, isPlainValue, type Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import type { Saying } from '../said.ts';
import { find, say } from './sentences.ts';

/** Does the node have the parameter, by its kind or set on it? */
export const hasParameter = (kinds: Kinds, node: GraphNode, parameter: string): boolean =>
  kinds.parameter(node.kind, parameter) !== undefined || node.params?.[parameter] !== undefined;

/** Does a table have something to say of a node under a name: a parameter, or an attribute of that name? */
export const hasColumn = (kinds: Kinds, node: GraphNode, name: string): boolean =>
  hasParameter(kinds, node, name) || Object.hasOwn(attributesOf(node), name);

/** Parameters that nodes of a document have and no kind of the catalogue, sorted. O(values). */
export function strangeParameters(doc: Doc, kinds: Kinds): string[] {
  const known = new Set(kinds.all().flatMap((kind) => kind.parameters.map((spec) => spec.id)));
  const found = new Set<string>();
  for (const node of doc.nodes.values())
    for (const id of Object.keys(node.params ?? {})) if (!known.has(id)) found.add(id);
  return [...found].sort();
}

/**
 * Why a node is passed over when a parameter of many is set: it lacks the parameter, is locked, or holds there what
 * must not be lost unasked.
 */
export function whyPassedOver(kinds: Kinds, node: GraphNode, parameter: string, replace: boolean): Saying | undefined {
  if (node.locked) return say('locked', { node: node.name });
  if (!hasParameter(kinds, node, parameter))
    return say('parameter-missing', { node: node.name, kind: kinds.title(node.kind), parameter });
  const value = node.params?.[parameter];
  if (replace || value === undefined || isPlainValue(value)) return undefined;
  const what = isExpression(value) ? 'an expression' : 'a value of a kind that is not known here';
  return say('parameter-opaque', { node: node.name, what, parameter });
}

/** What is told of a node that was passed over. */
export const skipped = (node: GraphNode, why: Saying): Finding =>
  // the finding has the name of the reason, without the room
  find(why.code.slice(why.code.indexOf('.') + 1), 'info', [node.id], 'skipped', { why: why.message });

/** What is told of a node that is passed over when a parameter is set, or undefined. */
export function passedOver(kinds: Kinds, node: GraphNode, parameter: string, replace: boolean): Finding | undefined {
  const why = whyPassedOver(kinds, node, parameter, replace);
  return why && skipped(node, why);
}

/**
 * The sentence for a value that does not fit a parameter of a node; undefined where it fits, or is the default again.
 */
export function misfit(kinds: Kinds, node: GraphNode, parameter: string, value: Json | undefined): Saying | undefined {
  const problem = value === undefined ? undefined : kinds.valueProblem(node.kind, parameter, value);
  return problem && say('value-refused', { node: node.name, problem: problem.message });
}

import { builtin } from '../document/builtin.ts';
import type { ParameterSpec } from '../document/catalogue.ts';
import { caption, type Doc, indexOf } from '../document/doc.ts';
import { overlaps, type Rect, rectOf, unite } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import { sameJson } from '../document/json.ts';
import { isExpression, type Kinds } from '../document/kinds.ts';
import { freeName, legalName, namesIn } from '../document/names.ts';
import type { GraphNode } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { addBoundary } from './boundary.ts';
import { find, refuse } from './sentences.ts';
import type { Wiring } from './wiring.ts';

/** A kind of node that gives one value: nothing comes in, and what it gives is its own parameter. */
export interface ValueKind {
  readonly kind: string;
  readonly parameter: string;
  readonly output: string;
}

/**
 * The kind of node that gives a value of a parameter’s type, if the catalogue has one: no inputs, one output, one
 * parameter of that type that is not cosmetic. O(kinds).
 */
export function valueKind(kinds: Kinds, spec: ParameterSpec): ValueKind | undefined {
  for (const kind of kinds.all()) {
    const outputs = kind.ports.filter((port) => port.direction === 'out');
    const parameters = kind.parameters.filter((one) => !one.cosmetic);
    const [output, parameter] = [outputs[0], parameters[0]];
    if (
      kind.category === 'std' ||
      kind.ports.length !== 1 ||
      !output ||
      parameters.length !== 1 ||
      must(parameter).type !== spec.type
    )
      continue;
    return { kind: kind.id, parameter: must(parameter).id, output: output.id };
  }
  return undefined;
}

/** Parameters that all of some nodes have, and that a node of their own could give. */
export function sharable(kinds: Kinds, nodes: readonly GraphNode[]): ParameterSpec[] {
  const [first] = nodes;
  if (!first) return [];
  return kinds
    .parameters(first.kind)
    .filter(
      (spec) =>
        !spec.cosmetic &&
        valueKind(kinds, spec) &&
        nodes.every((node) => kinds.parameter(node.kind, spec.id)?.type === spec.type),
    );
}

/** The rule of findings that say that a value was overwritten by another one. */
export const valueChanged = 'value-changed';

/**
 * Makes a parameter a node of its own and feeds the given nodes from it: by a wire where they have an open input of the
 * parameter’s name that takes it, else by an expression that reads it. `expose`: the value is also an output of the
 * graph. The value is that of the first node; those that had another one are listed, or keep theirs with `keepOthers`.
 * Throws Refused. O(nodes + graph).
 */
export function shareValue(
  wiring: Wiring,
  nodes: readonly GraphNode[],
  parameter: string,
  options: { readonly expose: boolean; readonly keepOthers: boolean; readonly newId: (prefix: string) => string },
): { value: Id; findings: Finding[] } {
  const { tx, kinds } = wiring;
  const doc = tx.before;
  const first = must(nodes[0]);
  const spec = kinds.parameter(first.kind, parameter);
  if (!spec) throw refuse('no-parameter', { first: caption(first), parameter });
  const made = valueKind(kinds, spec);
  if (!made) throw refuse('no-kind-for-value', { catalogue: kinds.catalogue.title, spec: spec.title });
  const value = kinds.value(first, parameter) ?? null;
  if (isExpression(value)) throw refuse('is-expression', { spec: spec.title, first: caption(first) });
  const taken = namesIn(doc, first.graph);
  const id = options.newId('n');
  const place = besides(doc, kinds, nodes);
  const ports = kinds.startPorts(made.kind);
  tx.add('nodes', {
    id,
    graph: first.graph,
    kind: made.kind,
    name: freeName(legalName(spec.title), taken),
    label: spec.title,
    ...place,
    ports,
    params: { [made.parameter]: value },
  });
  const findings: Finding[] = [];
  for (const node of nodes) {
    if (node.locked) {
      findings.push(find('locked', 'warning', [node.id], 'locked', { node: caption(node) }));
      continue;
    }
    const own = kinds.parameter(node.kind, parameter);
    if (own?.type !== spec.type || node.graph !== first.graph) {
      findings.push(find('parameter-missing', 'warning', [node.id], 'not-shared', { node: caption(node), parameter }));
      continue;
    }
    const old = kinds.value(node, parameter) ?? null;
    const differs = !sameJson(old, value);
    if (differs && options.keepOthers) {
      findings.push(
        find('value-kept', 'info', [node.id], 'value-kept', {
          spec: spec.title,
          node: caption(node),
          old: JSON.stringify(old),
        }),
      );
      continue;
    }
    if (differs)
      findings.push(
        find(valueChanged, 'warning', [node.id], 'value-overwritten', {
          spec: spec.title,
          node: caption(node),
          old: JSON.stringify(old),
          value: JSON.stringify(value),
        }),
      );
    const output = must(ports.find((port) => port.id === made.output));
    const input = node.ports.find(
      (port) =>
        port.direction === 'in' &&
        (port.id === parameter || port.name === own.title) &&
        kinds.accepts(port.type, output.type),
    );
    if (input && !wiring.into({ node: node.id, port: input.id }))
      wiring.connect({ node: id, port: made.output }, { node: node.id, port: input.id });
    else tx.setParameter(node.id, parameter, { expression: [{ node: id, parameter: made.parameter }] });
  }
  if (options.expose) {
    const output = { node: id, port: made.output };
    const exposed = options.newId('n');
    addBoundary(
      tx,
      {
        kind: builtin.output,
        graph: first.graph,
        name: legalName(spec.title),
        type: must(ports[0]).type,
        x: place.x,
        y: place.y - 90,
      },
      taken,
      exposed,
    );
    wiring.connect(output, { node: exposed, port: 'in' });
  }
  return { value: id, findings };
}

/** A place to the left of some nodes, at the height of the first, that nothing else covers. */
function besides(doc: Doc, kinds: Kinds, nodes: readonly GraphNode[]): { x: number; y: number } {
  const bounds = must(unite(nodes.map((node) => rectOf(doc, kinds, node))));
  const own: Rect = { x: Math.round(bounds.x - 200), y: Math.round(must(nodes[0]).y), width: 130, height: 60 };
  const others = indexOf(doc)
    .nodesIn(must(nodes[0]).graph)
    .map((node) => rectOf(doc, kinds, node));
  let y = own.y;
  for (
    let hit = others.find((other) => overlaps(other, { ...own, y }));
    hit;
    hit = others.find((other) => overlaps(other, { ...own, y }))
  )
    y = hit.y + hit.height + 16;
  return { x: own.x, y: Math.round(y) };
}

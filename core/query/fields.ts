import { attributesIn, attributeValue } from '../document/attributes.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { framesAround, geometryOf } from '../document/geometry.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';

export type FieldValue = string | number | boolean | undefined;

/** Something that a query can ask of a node. */
export interface QueryField {
  readonly id: string;
  readonly title: string;
  readonly type: 'text' | 'number' | 'yes or no';
  read(doc: Doc, kinds: Kinds, node: GraphNode): FieldValue;
}

const text = (id: string, title: string, read: QueryField['read']): QueryField => ({ id, title, type: 'text', read });
const number = (id: string, title: string, read: QueryField['read']): QueryField => ({
  id,
  title,
  type: 'number',
  read,
});
const yes = (id: string, title: string, read: QueryField['read']): QueryField => ({
  id,
  title,
  type: 'yes or no',
  read,
});

const wiredInputs = (doc: Doc, node: GraphNode): number =>
  indexOf(doc)
    .wiresOf(node.id)
    .filter((wire) => wire.to.node === node.id).length;

/** All fields, in the order in which forms and the documentation list them. Parameters and attributes are fields too, by their names. */
export const queryFields: readonly QueryField[] = [
  text('name', 'Name', (_d, _k, node) => node.name),
  text('label', 'Label', (_d, _k, node) => node.label ?? ''),
  text('kind', 'Kind', (_d, kinds, node) => `${kinds.title(node.kind)} ${node.kind}`),
  text('category', 'Category of the kind', (_d, kinds, node) => kinds.category(node.kind).title),
  text('frame', 'Titles of the frames around it', (doc, _k, node) =>
    framesAround(doc, node)
      .map((frame) => frame.title)
      .join(' / '),
  ),
  text('graph', 'Name of its graph', (doc, _k, node) => doc.graphs.get(node.graph)?.name ?? ''),
  text('port', 'Names of its ports', (_d, _k, node) => node.ports.map((port) => port.name).join(' ')),
  text('type', 'Types of its ports', (_d, kinds, node) =>
    [...new Set(node.ports.map((port) => `${kinds.type(port.type).title} ${port.type}`))].join(' '),
  ),
  number('inputs', 'Number of wired inputs', (doc, _k, node) => wiredInputs(doc, node)),
  number(
    'open',
    'Number of open inputs',
    (doc, _k, node) => node.ports.filter((port) => port.direction === 'in').length - wiredInputs(doc, node),
  ),
  number(
    'outputs',
    'Number of wires that leave it',
    (doc, _k, node) =>
      indexOf(doc)
        .wiresOf(node.id)
        .filter((wire) => wire.from.node === node.id).length,
  ),
  yes('bypassed', 'Bypassed', (_d, _k, node) => node.bypassed === true),
  yes('pinned', 'Pinned', (_d, _k, node) => node.pinned === true),
  yes('nested', 'Holds a nested graph', (_d, _k, node) => node.inner !== undefined),
  yes('closed', 'Closed', (_d, _k, node) => node.closed === true),
  yes('picture', 'Has a picture', (_d, _k, node) => node.picture !== undefined),
  number('hidden', 'Number of hidden ports', (doc, kinds, node) => geometryOf(doc, kinds, node).hidden),
  number('x', 'Left edge', (_d, _k, node) => node.x),
  number('y', 'Top edge', (_d, _k, node) => node.y),
  number('width', 'Width', (doc, kinds, node) => geometryOf(doc, kinds, node).width),
  number('height', 'Height', (doc, kinds, node) => geometryOf(doc, kinds, node).height),
];

const byId = new Map(queryFields.map((field) => [field.id, field]));

export const fieldById = (id: string): QueryField | undefined => byId.get(id);

/** `parameter.x` means the parameter where a field has its name. */
const prefix = 'parameter.';

/** A parameter that answers to a field of a query, whatever the case of its letters. */
export function parameterCalled(kinds: Kinds, node: GraphNode, field: string): string | undefined {
  const wanted = field.startsWith(prefix) ? field.slice(prefix.length) : field;
  const is = (id: string): boolean => id.toLowerCase() === wanted;
  return kinds.parameters(node.kind).find((spec) => is(spec.id))?.id ?? Object.keys(node.params ?? {}).find(is);
}

/** `attribute.x` means the attribute where a field or a parameter has its name. */
const attributePrefix = 'attribute.';
const asWord = (name: string): string => name.toLowerCase().replace(/[\s"():=<>!]+/g, '_');

/** The value of an attribute that answers to a field of a query: by its name in lower case, with `_` for blanks. */
function attributeField(doc: Doc, node: GraphNode, field: string): Json | undefined {
  const wanted = field.startsWith(attributePrefix) ? field.slice(attributePrefix.length) : field;
  const known = attributesIn(doc, 'node').find((one) => asWord(one.name) === wanted);
  return known && attributeValue(doc, 'node', node, known.name);
}

/** What a node shows to a query under a field; undefined where it has no such parameter or attribute. */
export function readField(doc: Doc, kinds: Kinds, node: GraphNode, field: string): FieldValue {
  const known = byId.get(field);
  if (known) return known.read(doc, kinds, node);
  const parameter = field.startsWith(attributePrefix) ? undefined : parameterCalled(kinds, node, field);
  const value = parameter === undefined ? attributeField(doc, node, field) : kinds.value(node, parameter);
  return typeof value === 'object' ? JSON.stringify(value) : (value ?? undefined);
}

/** Does any kind or node know the field? O(1) for fields, O(nodes) for parameters that no kind has, and for attributes. */
export function isField(doc: Doc, kinds: Kinds, field: string): boolean {
  if (byId.has(field)) return true;
  const wanted = field.startsWith(prefix) ? field.slice(prefix.length) : field;
  const is = (id: string): boolean => id.toLowerCase() === wanted;
  return (
    kinds.all().some((kind) => kind.parameters.some((spec) => is(spec.id))) ||
    [...doc.nodes.values()].some((node) => Object.keys(node.params ?? {}).some(is)) ||
    attributesIn(doc, 'node').some((one) => {
      const word = asWord(one.name);
      return word === field || `${attributePrefix}${word}` === field;
    })
  );
}

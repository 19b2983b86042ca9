import type { AttributeType } from '../document/schema.ts';

// What reading and writing GEXF have to agree on.

/** Our own attributes, by the ids that they are declared with. */
export const own = {
  node: { name: 'basitax-name', kind: 'basitax-kind', more: 'basitax-more' },
  edge: { from: 'basitax-from-port', to: 'basitax-to-port', more: 'basitax-more' },
} as const;

/** The namespace of what the graph of a file of ours says beside. */
export const ourNamespace = 'urn:basitax:gexf';
export const ourHead = 'basitax:head';

/** Where a value of another program stood, as the key that its attribute is declared with. */
export const places = {
  /** An attribute of the XML element, such as the weight of an edge. */
  xml: (name: string): string => `@${name}`,
  /** An attribute of an element of the viz module, such as the value of a size. */
  viz: (element: string, name: string): string => `viz:${element}:${name}`,
  /** What the file says of itself. */
  meta: (name: string): string => `meta:${name}`,
  /** The times at which something is there. */
  spells: 'spells',
} as const;

const types: Readonly<Record<string, AttributeType>> = {
  integer: 'integer',
  long: 'integer',
  short: 'integer',
  byte: 'integer',
  biginteger: 'integer',
  float: 'number',
  double: 'number',
  bigdecimal: 'number',
  boolean: 'boolean',
};
export const typeOfGexf = (type: string | undefined): AttributeType => types[(type ?? '').toLowerCase()] ?? 'text';

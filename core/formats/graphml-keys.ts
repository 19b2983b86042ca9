import type { AttributeType } from '../document/schema.ts';
import { attribute, children, type Element, innerXml } from './xml.ts';

/** The namespace by which a key says that it is ours. */
export const ourNamespace = 'urn:basitax:graphml';
export const ourPrefix = 'basitax';

/** What XML knows graphs, nodes, edges and ports by; frames and notes are nodes there. */
export type Domain = 'graph' | 'node' | 'edge' | 'port';

export interface OurKey {
  readonly id: string;
  readonly domain: Domain;
  readonly name: string;
  /** What others see it as. Several keep the id of the element itself as “id”. */
  readonly title: string;
  readonly type: 'double' | 'string' | 'boolean';
}

const key = (domain: Domain, name: string, type: OurKey['type'] = 'string'): OurKey => ({
  id: `${domain[0]}_${name}`,
  domain,
  name,
  title: name === 'id' ? 'original id' : name,
  type,
});

export const ourKeys: readonly OurKey[] = [
  ...['x', 'y', 'width', 'height'].map((name) => key('node', name, 'double')),
  ...[
    'id',
    'frame',
    'name',
    'kind',
    'label',
    'title',
    'color',
    'parameters',
    'role',
    'beacon',
    'note',
    'pad',
    'text',
    'tied',
    'detail',
    'picture',
    'more',
  ].map((name) => key('node', name)),
  ...['pinned', 'bypassed'].map((name) => key('node', name, 'boolean')),
  ...['id', 'route', 'more'].map((name) => key('edge', name)),
  key('edge', 'off', 'boolean'),
  ...['id', 'direction', 'type', 'title', 'foreign'].map((name) => key('port', name)),
  ...['id', 'name', 'title', 'flow', 'catalogue', 'document', 'sets', 'attributes', 'frames', 'notes', 'more'].map(
    (name) => key('graph', name),
  ),
];
/** Keys that files of ours had before they said so by a namespace. */
const before: ReadonlySet<string> = new Set(
  ourKeys
    .filter(({ name }) => !['id', 'frame', 'attributes', 'frames', 'notes'].includes(name))
    .map(({ id, name }) => `${id} ${name}`),
);

/** A key as a file declares it. */
export interface FileKey {
  readonly id: string;
  readonly domain: Domain | 'all' | 'other';
  /** Its attr.name, else its id. */
  readonly title: string;
  readonly type: AttributeType;
  /** Which of ours it is; undefined where it is none. */
  readonly ours: string | undefined;
  readonly fallback: string | undefined;
  /** What else is declared of it. */
  readonly more: Readonly<Record<string, string>>;
}

const types: Readonly<Record<string, AttributeType>> = {
  boolean: 'boolean',
  int: 'integer',
  long: 'integer',
  float: 'number',
  double: 'number',
};

/** The keys of a file by their ids; those of ours are told by our namespace. */
export function keysOf(root: Element): ReadonlyMap<string, FileKey> {
  const prefix = Object.entries(root.attributes)
    .find(([name, value]) => name.startsWith('xmlns:') && value === ourNamespace)?.[0]
    .slice('xmlns:'.length);
  const elements = children(root, 'key');
  const isOld =
    prefix === undefined &&
    ['g_catalogue catalogue', 'g_document document', 'n_kind kind'].every((wanted) =>
      elements.some((one) => `${attribute(one, 'id')} ${attribute(one, 'attr.name')}` === wanted),
    );
  const keys = new Map<string, FileKey>();
  for (const element of elements) {
    const id = attribute(element, 'id');
    if (id === undefined) continue;
    const title = attribute(element, 'attr.name') ?? id;
    const domain = attribute(element, 'for') ?? 'all';
    const [declared] = children(element, 'default');
    const [description] = children(element, 'desc');
    const own = prefix === undefined ? undefined : attribute(element, `${prefix}:key`);
    const more = Object.fromEntries(
      Object.entries(element.attributes).filter(
        ([name]) => name !== 'id' && name !== 'for' && !(prefix !== undefined && name.startsWith(`${prefix}:`)),
      ),
    );
    const ourType = prefix === undefined ? undefined : attribute(element, `${prefix}:type`);
    keys.set(id, {
      id,
      domain: ['graph', 'node', 'edge', 'port', 'all'].includes(domain) ? (domain as FileKey['domain']) : 'other',
      title,
      type:
        ourType === 'json' || ourType === 'xml' ? ourType : (types[attribute(element, 'attr.type') ?? ''] ?? 'text'),
      ours: own ?? (isOld && before.has(`${id} ${title}`) ? title : undefined),
      fallback: declared && innerXml(declared),
      more: { ...more, ...(description && { desc: innerXml(description) }) },
    });
  }
  return keys;
}

// the characters of a Nmtoken (XML 1.0, 2.3), which ids of GraphML are
const start =
  'A-Z_a-z:\\u00C0-\\u00D6\\u00D8-\\u00F6\\u00F8-\\u02FF\\u0370-\\u037D\\u037F-\\u1FFF\\u200C\\u200D\\u2070-\\u218F\\u2C00-\\u2FEF\\u3001-\\uD7FF\\uF900-\\uFDCF\\uFDF0-\\uFFFD\\u{10000}-\\u{EFFFF}';
const tokenChar = `${start}\\-.0-9\\u00B7\\u0300-\\u036F\\u203F\\u2040`;
const legal = new RegExp(`^[${tokenChar}]+$`, 'u');
const others = new RegExp(`[^${tokenChar}]+`, 'gu');

/** The nearest text that XML takes for an id. */
export const tokenOf = (text: string): string => (legal.test(text) ? text : text.replace(others, '_') || '_');

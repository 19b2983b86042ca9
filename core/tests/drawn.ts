import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import type { GraphNode, Port } from '../document/schema.ts';
import { type Sketchpad, sketchDoc, testKinds } from './arbitrary.ts';

// Documents drawn in text, for cases that are worked out by hand. Each part between semicolons is a wire, `A.out > B.in`,
// with `off` where it is switched off, or a thing: its kind, its name, and words about it:
//   @g        lies in the graph g            in:bay       is a member of the frame bay
//   bypassed                                  hears:B      taps: the beacon B by id and name; hears:=B by name alone
//   for:num   feeds: the type                 covers:root  feeds: what it supplies
//   reads:A   its value is an expression      holds:g      nested nodes: the graph inside
//   ms:4      how long it takes               called:Light its name

interface Drawn {
  readonly doc: Doc;
  /** Milliseconds that nodes take, where that is said. */
  readonly times: ReadonlyMap<string, number>;
}

const short: Readonly<Record<string, string>> = {
  reroute: builtin.reroute,
  beacon: builtin.beacon,
  tap: builtin.tap,
  feed: builtin.feed,
  nested: builtin.nested,
  input: builtin.input,
  output: builtin.output,
};

export function drawn(text: string): Drawn {
  const pad = sketchDoc();
  const times = new Map<string, number>();
  const parts = text
    .split(';')
    .map((part) => part.trim())
    .filter(Boolean);
  const things = parts.filter((part) => !part.includes('>')).map((part) => part.split(/\s+/));
  const ports = portsOfGraphs(things);
  for (const [kind = '', name = '', ...words] of things) {
    const said = new Map(words.map((word) => [word.replace(/:.*|^@.*/, (rest) => (rest[0] === '@' ? '@' : '')), word]));
    const value = (key: string): string | undefined => said.get(key)?.slice(key.length + 1);
    const graph = said.get('@')?.slice(1) ?? 'root';
    if (kind === 'graph') pad.graph(name);
    else if (kind === 'frame') pad.frame(name, { graph, ...(value('in') && { parent: value('in') }) });
    else pad.node(name, short[kind] ?? kind, nodeOf(kind, graph, value, said.has('bypassed'), ports));
    const ms = value('ms');
    if (ms) times.set(name, Number(ms));
  }
  for (const part of parts) if (part.includes('>')) wire(pad, part);
  return { doc: pad.doc, times };
}

/** The ports that nodes which hold a graph have: its inputs and outputs, in the order in which they are drawn. */
function portsOfGraphs(things: readonly string[][]): ReadonlyMap<string, Port[]> {
  const ports = new Map<string, Port[]>();
  for (const [kind, id = '', ...words] of things) {
    const graph = words.find((word) => word.startsWith('@'))?.slice(1);
    if ((kind !== 'input' && kind !== 'output') || graph === undefined) continue;
    const type = words.find((word) => word.startsWith('for:'))?.slice(4) ?? 'num';
    const port: Port = { id, name: id, type, direction: kind === 'input' ? 'in' : 'out' };
    ports.set(graph, [...(ports.get(graph) ?? []), port]);
  }
  return ports;
}

function nodeOf(
  kind: string,
  graph: string,
  value: (key: string) => string | undefined,
  bypassed: boolean,
  ports: ReadonlyMap<string, Port[]>,
): Partial<GraphNode> {
  const [frame, hears, type, covers, reads, holds, called] = [
    value('in'),
    value('hears'),
    value('for') ?? 'num',
    value('covers'),
    value('reads'),
    value('holds'),
    value('called'),
  ];
  return {
    graph,
    ...(called && { name: called }),
    ...(frame && { frame }),
    ...(bypassed && { bypassed: true as const }),
    ...(hears && { beacon: hears.startsWith('=') ? { name: hears.slice(1) } : { id: hears, name: hears } }),
    ...(covers && { covers }),
    ...(reads && { params: { value: { expression: [{ node: reads, parameter: 'value' }] } } }),
    ...(kind === 'feed' && { params: { types: type }, ports: testKinds.startPorts(builtin.feed) }),
    ...(kind === 'input' && { ports: [{ id: 'out', name: 'out', type, direction: 'out' as const }] }),
    ...(kind === 'output' && { ports: [{ id: 'in', name: 'in', type, direction: 'in' as const }] }),
    ...(holds && { inner: holds, ports: ports.get(holds) ?? [] }),
  };
}

function wire(pad: Sketchpad, part: string): void {
  const [from = '', rest = ''] = part.split('>').map((one) => one.trim());
  const [to = '', off] = rest.split(/\s+/);
  pad.wire(from, to, off === 'off' ? { off: true } : {});
}

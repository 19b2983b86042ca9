import { type Doc, indexOf } from '../document/doc.ts';
import { seededRandom } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { apply } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { operate } from '../operations.ts';
import { Refused } from '../said.ts';
import { testKinds } from './arbitrary.ts';

/** A document after some random act of a person. */
export async function acted(doc: Doc, seed: number): Promise<Doc> {
  const items = [...doc.nodes.values()].filter((node) => node.graph === 'root').map((node) => node.id);
  const some = items.filter((_, i) => (seed >> (i % 8)) % 2 === 0);
  const [id, options] = (
    [
      ['move', { dx: 40, dy: 8 }],
      ['delete', {}],
      ['duplicate', {}],
      ['bypass', {}],
      ['label', { label: `Depth ${seed}` }],
      ['cut-wires', {}],
      ['frame', { title: 'Bay' }],
    ] as const
  )[seed % 7]!;
  return done(doc, id, seed, 'root', some, options, testKinds) ?? doc;
}

/** The document after an operation, or undefined where it is refused. */
function done(
  doc: Doc,
  id: string,
  seed: number,
  graph: string,
  items: readonly string[],
  options: unknown,
  kinds: Kinds,
): Doc | undefined {
  try {
    return apply(doc, operate(id, createContext(kinds, seed), doc, { graph, items }, options).edit);
  } catch (error) {
    if (error instanceof Refused) return undefined;
    throw error;
  }
}

/**
 * Acts that change how things hang together, and some that do not, each with options by chance; in any graph, on up to
 * three nodes.
 */
export function actedWidely(
  doc: Doc,
  seed: number,
  kinds: Kinds = testKinds,
): { readonly doc: Doc; readonly title: string } {
  const random = seededRandom(seed);
  const int = (below: number): number => Math.floor(random() * below);
  const pick = <T>(list: readonly T[]): T | undefined => list[int(list.length)];
  const graphs = [...doc.graphs.keys()];
  const frames = [...doc.frames.keys()];
  for (let tries = 0; tries < 8; tries++) {
    const graph = pick(graphs)!;
    const nodes = indexOf(doc).nodesIn(graph);
    const items = [...new Set(Array.from({ length: 1 + int(3) }, () => pick(nodes)?.id ?? ''))].filter(
      (one) => one !== '',
    );
    const [first, second] = [pick(nodes), pick(nodes)];
    const from = {
      node: first?.id ?? '',
      port: pick(first?.ports.filter((port) => port.direction === 'out') ?? [])?.id ?? '',
    };
    const to = {
      node: second?.id ?? '',
      port: pick(second?.ports.filter((port) => port.direction === 'in') ?? [])?.id ?? '',
    };
    const wires = indexOf(doc).wiresIn(graph);
    const acts: readonly (readonly [string, object, (readonly string[])?])[] = [
      ['connect', { from, to, replace: random() < 0.5 }],
      ['connect', { from, to, replace: true }],
      ['connect-selected', {}],
      ['cut-wires', {}, [pick(wires)?.id ?? '']],
      ['switch-wires', {}, [pick(wires)?.id ?? '']],
      ['delete', {}],
      ['delete-with-wires', {}],
      ['duplicate', {}],
      ['to-graph', { graph: pick(graphs) }],
      ['to-frame', { frame: pick(frames) ?? '' }],
      ['to-frame', { frame: pick(frames) ?? '' }, [pick(frames) ?? '']],
      ['leave-frame', {}],
      ['frame', { title: `Bay ${seed}` }],
      ['nest', {}],
      ['unnest', {}],
      ['replace-kind', { kind: pick(['src', 'add', 'tint', 'round', 'sum', 'end']) }],
      ['rename', { name: `Depth${int(3)}` }, items.slice(0, 1)],
      ['set-parameter', { parameter: 'value', value: int(9) }],
      ['set-parameter', { parameter: 'value', value: { expression: [{ node: first?.id ?? '', parameter: 'value' }] } }],
      ['add-node', { kind: pick(['src', 'add', 'round']) }, items.slice(0, 1)],
      ['move', { dx: int(90), dy: int(90) }],
      ['to-links', {}],
      ['merge', {}],
      ['swap-inputs', {}, items.slice(0, 1)],
    ];
    const [id, options, chosen = items] = pick(acts)!;
    const after = done(doc, id, seed, graph, chosen, options, kinds);
    if (after && after !== doc) return { doc: after, title: id };
  }
  return { doc, title: 'nothing' };
}

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { emptyDoc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Graph, GraphNode, Wire } from '../document/schema.ts';
import { problems } from '../document/validate.ts';
import { bridgeLevels, idClaimer, type LooseWire } from './levels.ts';

/** A tree of graphs with nodes in each, and edges between any of them, as another program might write them. */
interface Given {
  readonly graphs: ReadonlyMap<Id, Graph>;
  readonly nodes: ReadonlyMap<Id, GraphNode>;
  readonly edges: readonly {
    readonly from: Id;
    readonly to: Id;
    readonly sourcePort: string | undefined;
    readonly targetPort: string | undefined;
  }[];
}

const port = fc.option(fc.constantFrom('p', 'q', 'in', 'out'), { nil: undefined });
const given = fc
  .record({
    /** For each nested graph the one that it lies in, by its place among those before it. */
    parents: fc.array(fc.nat(), { maxLength: 5 }),
    places: fc.array(fc.nat(), { minLength: 2, maxLength: 10 }),
    edges: fc.array(fc.record({ from: fc.nat(), to: fc.nat(), sourcePort: port, targetPort: port }), { maxLength: 15 }),
  })
  .map(({ parents, places, edges }): Given => {
    const graphs = new Map<Id, Graph>([['root', { id: 'root', name: 'root' }]]);
    const nodes = new Map<Id, GraphNode>();
    const node = (id: Id, graph: Id, inner?: Id): void => {
      nodes.set(id, {
        id,
        graph,
        kind: inner ? builtin.nested : 'foreign.node',
        name: id,
        x: 0,
        y: 0,
        ports: [],
        ...(inner && { inner }),
      });
    };
    parents.forEach((parent, i) => {
      const above = [...graphs.keys()][parent % graphs.size]!;
      graphs.set(`g${i}`, { id: `g${i}`, name: `g${i}` });
      node(`h${i}`, above, `g${i}`);
    });
    places.forEach((place, i) => node(`n${i}`, [...graphs.keys()][place % graphs.size]!));
    // hosts may have edges of their own as well
    const ids = [...nodes.keys()];
    return {
      graphs,
      nodes,
      edges: edges.map((edge) => ({ ...edge, from: ids[edge.from % ids.length]!, to: ids[edge.to % ids.length]! })),
    };
  });

function bridged({ graphs, nodes: before, edges }: Given) {
  const nodes = new Map(before);
  const said: string[] = [];
  const loose = edges.map(({ from, to, sourcePort, targetPort }, i): LooseWire => {
    return {
      id: `e${i}`,
      source: from,
      target: to,
      sourcePort,
      targetPort,
      from,
      to,
      late: () => [from, to],
      extra: { mark: i } as Partial<Wire>,
    };
  });
  const claim = idClaimer([...graphs.keys(), ...nodes.keys(), ...loose.map((one) => one.id)]);
  const { wires, made } = bridgeLevels(loose, nodes, graphs, 'root', {
    claim,
    tell: ({ rule }) => void said.push(rule),
  });
  return { doc: { ...emptyDoc('d', 't'), graphs, nodes, wires }, made, said };
}

/** Where an output leads to in the end, through boundaries in and out, by walking from wire to wire. */
function ends(doc: ReturnType<typeof bridged>['doc'], wire: Wire): Id[] {
  const node = doc.nodes.get(wire.to.node)!;
  const next = (from: Id, fromPort: string): Wire[] =>
    [...doc.wires.values()].filter((one) => one.from.node === from && one.from.port === fromPort);
  const inside = node.inner === undefined ? undefined : doc.nodes.get(wire.to.port);
  if (inside && inside.graph === node.inner) return next(inside.id, 'out').flatMap((one) => ends(doc, one));
  if (node.kind === builtin.output) {
    const host = [...doc.nodes.values()].find((one) => one.inner === node.graph)!;
    return next(host.id, node.id).flatMap((one) => ends(doc, one));
  }
  return [node.id];
}

describe('edges over levels', () => {
  it('become wires within one graph each, with ports that are there, one wire to an input', () => {
    fc.assert(
      fc.property(given, (one) => {
        const { doc } = bridged(one);
        expect(problems(doc)).toEqual([]);
        const taken = new Set<string>();
        for (const { from, to } of doc.wires.values()) {
          const [source, target] = [doc.nodes.get(from.node)!, doc.nodes.get(to.node)!];
          expect(source.graph).toBe(target.graph);
          expect(source.ports.some((own) => own.direction === 'out' && own.id === from.port)).toBe(true);
          expect(target.ports.some((own) => own.direction === 'in' && own.id === to.port)).toBe(true);
          expect(taken.has(`${to.node} ${to.port}`)).toBe(false);
          taken.add(`${to.node} ${to.port}`);
        }
      }),
    );
  });

  it('still lead from where they came to where they went, each with what it carried', () => {
    fc.assert(
      fc.property(given, (one) => {
        const { doc } = bridged(one);
        const first = (from: Id): Wire[] => [...doc.wires.values()].filter((wire) => wire.from.node === from);
        one.edges.forEach(({ from, to }, i) => {
          const last = doc.wires.get(`e${i}`)!;
          expect([last.to.node, (last as Wire & { mark?: number }).mark]).toEqual([to, i]);
          expect(first(from).flatMap((wire) => ends(doc, wire))).toContain(to);
        });
      }),
    );
  });

  it('make boundaries only where they cross, and say so', () => {
    fc.assert(
      fc.property(given, (one) => {
        const { doc, made, said } = bridged(one);
        const crosses = one.edges.filter(
          ({ from, to }) => one.nodes.get(from)!.graph !== one.nodes.get(to)!.graph,
        ).length;
        expect(said.filter((rule) => rule === 'wire-over-border').length).toBe(crosses);
        expect(made.length > 0).toBe(crosses > 0);
        expect([...doc.nodes.keys()].filter((id) => !one.nodes.has(id)).sort()).toEqual([...made].sort());
        // an output that leaves a graph does so once, however many lead on from it
        const outputs = [...doc.nodes.values()].filter((node) => node.kind === builtin.output);
        const sources = outputs.map((node) => [...doc.wires.values()].find((wire) => wire.to.node === node.id)!.from);
        expect(new Set(sources.map(({ node, port: name }) => `${node} ${name}`)).size).toBe(sources.length);
      }),
    );
  });

  it('to nothing are left out and named; ids that are taken get a number', () => {
    const nodes = new Map<Id, GraphNode>([
      ['a', { id: 'a', graph: 'root', kind: 'foreign.node', name: 'a', x: 0, y: 0, ports: [] }],
    ]);
    const said: [string, string, readonly Id[]][] = [];
    const edge = (to: Id | undefined): LooseWire => ({
      ...{
        id: 'e',
        source: 'a',
        target: 'nowhere',
        sourcePort: undefined,
        targetPort: undefined,
        from: 'a',
        to,
        late: () => ['a', to],
        extra: {},
      },
    });
    const { wires } = bridgeLevels(
      [edge(undefined), edge('ghost')],
      nodes,
      new Map([['root', { id: 'root', name: 'root' }]]),
      'root',
      {
        claim: idClaimer([]),
        tell: ({ rule, message, place }) => void said.push([rule, message, place]),
      },
    );
    expect(wires.size).toBe(0);
    expect(said).toEqual(
      Array(2).fill([
        'wire-to-nothing',
        'Edge e leads to “nowhere”, which is not in the file; the edge was left out.',
        ['e'],
      ]),
    );
    const claim = idClaimer(['a', 'a~2']);
    expect([claim('a'), claim('a'), claim('b'), claim(''), claim('x'.repeat(300)).length]).toEqual([
      'a~3',
      'a~4',
      'b',
      'node',
      190,
    ]);
  });
});

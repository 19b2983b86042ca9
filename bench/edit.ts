import { type Doc, indexOf } from '@basitax/core/document/doc';
import { apply } from '@basitax/core/edit/step';
import { createContext } from '@basitax/core/operation';
import { runOperation } from '@basitax/core/operations';
import { Refused } from '@basitax/core/said';
import { copyText } from '@basitax/core/structure/clipboard';
import { kinds } from '@basitax/demo/builder';
import Graph from 'graphology';
import { at, told } from './numbers.ts';
import { bigScene } from './scene.ts';

interface Row {
  readonly act: string;
  /** Planning the edit, and making the next version of the document, in milliseconds: median and 95th percentile. */
  readonly plan: string;
  readonly apply: string;
  readonly both: string;
  /** The median of both over that of the reference in the same run: machines differ. */
  readonly ofReference: string;
  readonly times: number;
}

const rounds = 40;

/** What a version of the same graph costs in a library that is not immutable: graphology, copied whole. */
function reference(doc: Doc): number[] {
  const graph = new Graph({ multi: true, type: 'directed' });
  for (const node of doc.nodes.keys()) graph.addNode(node);
  for (const wire of doc.wires.values()) graph.addEdgeWithKey(wire.id, wire.from.node, wire.to.node);
  return Array.from({ length: 12 }, () => {
    const started = performance.now();
    graph.copy();
    return performance.now() - started;
  });
}

/**
 * Every act of wiring on one document of 10,000 nodes and 15,000 wires, each on what the one before left, as in the
 * application: wall clock.
 */
export async function edit(): Promise<Row[]> {
  let doc = bigScene(10_000, 15_000);
  const copies = reference(doc);
  const yardstick = at(copies, 0.5);
  const rows: Row[] = [
    {
      act: 'graphology, copied whole: the reference',
      plan: '',
      apply: '',
      both: told(copies),
      ofReference: '1.00',
      times: copies.length,
    },
  ];
  let seed = 1;
  const wireAt = (i: number) => indexOf(doc).wiresIn('root')[(i * 331) % doc.wires.size]!;
  const nodeAt = (i: number) => indexOf(doc).nodesIn('root')[(i * 247) % doc.nodes.size]!;
  const open = (i: number) => {
    for (let k = 0; ; k++) {
      const [a, b] = [nodeAt(i + k), nodeAt(i + k + 1)];
      const [output, input] = [
        a.ports.find((port) => port.direction === 'out'),
        b.ports.find((port) => port.direction === 'in' && !indexOf(doc).wireInto(b.id, port.id)),
      ];
      if (output && input && output.type === input.type)
        return { from: { node: a.id, port: output.id }, to: { node: b.id, port: input.id } };
    }
  };
  const acts: Record<string, (i: number) => readonly [string, readonly string[], unknown?]> = {
    'connect two ports': (i) => ['connect', [], open(i)],
    'connect two nodes': (i) => ['connect', [], { from: { node: nodeAt(i).id }, to: { node: nodeAt(i + 1).id } }],
    'carry an end': (i) => [
      'carry-wire',
      [],
      { wire: wireAt(i).id, end: 'to', to: { node: nodeAt(i + 7).id }, replace: true },
    ],
    'connect the selected, all': (i) => ['connect-selected', [nodeAt(i).id, nodeAt(i + 3).id], { pairs: 'all' }],
    'add in line, with room': (i) => ['add-node', [wireAt(i).id], { kind: 'pic.blur' }],
    'add alongside': (i) => ['add-node', [nodeAt(i).id], { kind: 'pic.grade', where: 'alongside' }],
    'insert into a wire': (i) => ['insert', [fresh(i)], { wire: wireAt(i).id }],
    'pull out': (i) => ['pull-out', [nodeAt(i).id]],
    'delete, healing': (i) => ['delete', [nodeAt(i).id]],
    'delete 20, healing': (i) => ['delete', Array.from({ length: 20 }, (_, k) => nodeAt(i * 20 + k).id)],
    'cut a wire': (i) => ['cut-wires', [wireAt(i).id]],
    'swap inputs': (i) => ['swap-inputs', [nodeAt(i).id]],
    'replace the kind': (i) => ['replace-kind', [nodeAt(i).id], { kind: i % 2 === 0 ? 'pic.over' : 'pic.add' }],
    're-source': (i) => ['re-source', [], { from: wireAt(i).from, to: wireAt(i + 5).from }],
    'a reroute point on a wire': (i) => ['reroute', [wireAt(i).id]],
    bypass: (i) => ['bypass', [nodeAt(i).id]],
    'switch a wire off': (i) => ['switch-wires', [wireAt(i).id]],
    'duplicate 20': (i) => ['duplicate', Array.from({ length: 20 }, (_, k) => nodeAt(i * 3 + k).id)],
    'paste 20': (i) => [
      'paste',
      [],
      {
        text: copyText(doc, kinds, {
          graph: 'root',
          items: Array.from({ length: 20 }, (_, k) => nodeAt(i * 3 + k).id),
        }),
      },
    ],
  };
  /** A node that is wired to nothing, left over from an earlier act. */
  const fresh = (i: number): string => {
    const loose = indexOf(doc)
      .nodesIn('root')
      .filter((node) => node.kind === 'pic.blur' && indexOf(doc).wiresOf(node.id).length === 0);
    return (loose[i % Math.max(1, loose.length)] ?? nodeAt(i)).id;
  };
  // as when a file has been open for a moment
  for (const node of indexOf(doc).nodesIn('root')) indexOf(doc).wiresOf(node.id);
  for (const [operation, items] of [
    ['bypass', [nodeAt(1).id]],
    ['delete', [nodeAt(2).id]],
    ['duplicate', [nodeAt(3).id]],
  ] as const)
    doc = apply(doc, (await runOperation(operation, createContext(kinds, seed++), doc, { graph: 'root', items })).edit);
  for (const [act, make] of Object.entries(acts)) await measure(act, make);
  // the same where a standing feed covers the whole file, so that each act asks what it supplies before and after
  const source = indexOf(doc)
    .nodesIn('root')
    .find((node) => node.kind === 'pic.read')!;
  doc = apply(
    doc,
    (
      await runOperation(
        'standing-feed',
        createContext(kinds, seed++),
        doc,
        { graph: 'root', items: [source.id] },
        { output: 'alpha' },
      )
    ).edit,
  );
  for (const act of ['connect two ports', 'delete, healing', 'bypass', 'cut a wire'])
    await measure(`${act}, with a feed`, acts[act]!);
  return rows;

  async function measure(
    act: string,
    make: (i: number) => readonly [string, readonly string[], unknown?],
  ): Promise<void> {
    const [plans, applies, both]: [number[], number[], number[]] = [[], [], []];
    for (let i = 0; i < rounds * 6 && both.length < rounds; i++) {
      const [operation, items, options] = make(i);
      // what the canvas asks of each version before anybody acts on it
      indexOf(doc).wiresIn('root');
      const started = performance.now();
      try {
        const outcome = await runOperation(
          operation,
          createContext(kinds, seed++),
          doc,
          { graph: 'root', items },
          options,
        );
        const planned = performance.now();
        const next = apply(doc, outcome.edit);
        const done = performance.now();
        plans.push(planned - started);
        applies.push(done - planned);
        both.push(done - started);
        doc = next;
      } catch (error) {
        // not every pick can be wired
        if (!(error instanceof Refused)) throw error;
      }
    }
    if (both.length > 0)
      rows.push({
        act,
        plan: told(plans),
        apply: told(applies),
        both: told(both),
        ofReference: (at(both, 0.5) / yardstick).toFixed(2),
        times: both.length,
      });
  }
}

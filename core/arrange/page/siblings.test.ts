import { describe, expect, it } from 'vitest';
import type { Doc } from '../../document/doc.ts';
import { seededRandom } from '../../document/ids.ts';
import { act } from '../../tests/acts.ts';
import { sketchDoc } from '../../tests/arbitrary.ts';

/** Frames that hold the same nodes, thrown about; one lacks a node, and one has one more. */
function bays(): Doc {
  const random = seededRandom(7);
  const anywhere = () => ({ x: Math.round(random() * 3000), y: Math.round(random() * 2000) });
  const pad = sketchDoc();
  for (const bay of ['p', 'q', 'r', 'lacks', 'more']) {
    pad.frame(bay);
    const node = (name: string, kind: string) => pad.node(`${bay}${name}`, kind, { frame: bay, ...anywhere() });
    const wire = (from: string, to: string) => pad.wire(`${bay}${from}`, `${bay}${to}`);
    node('tide', 'src');
    node('swell', 'src');
    node('both', 'add');
    node('whole', 'round');
    node('blow', 'wind');
    node('turn', 'bend');
    node('far', 'measure');
    wire('tide.out', 'both.a');
    wire('swell.out', 'both.b');
    wire('both.out', 'blow.speed');
    wire('blow.out', 'turn.dir');
    wire('both.out', 'turn.amount');
    wire('turn.out', 'far.vector');
    if (bay !== 'lacks') wire('both.out', 'whole.in');
    if (bay !== 'more') continue;
    node('late', 'round');
    wire('far.out', 'late.in');
  }
  const { doc } = pad;
  return { ...doc, nodes: new Map([...doc.nodes].filter(([id]) => id !== 'lackswhole')) };
}

const portsOfSum = [
  ...[0, 1, 2, 3].map((i) => ({ id: `in${i}`, name: `in${i}`, type: 'num', direction: 'in' as const })),
  { id: 'out', name: 'out', type: 'num', direction: 'out' as const },
];

const names = ['tide', 'swell', 'both', 'whole', 'blow', 'turn', 'far'];
const shape = (doc: Doc, bay: string) => {
  const first = doc.nodes.get(`${bay}tide`)!;
  return names.flatMap((name) => {
    const node = doc.nodes.get(`${bay}${name}`);
    return node ? [[name, node.x - first.x, node.y - first.y] as const] : [];
  });
};

describe('parts that are nearly the same', () => {
  it('look as the others do where they agree: one that lacks a node has a hole, one that has more keeps their order', async () => {
    const { doc } = await act('arrange', bays(), []);
    const usual = shape(doc, 'p');
    expect(shape(doc, 'q')).toEqual(usual);
    expect(shape(doc, 'lacks')).toEqual(usual.filter(([name]) => name !== 'whole'));
    const more = new Map(shape(doc, 'more').map(([name, x, y]) => [name, { x, y }]));
    for (const [a, ax, ay] of usual) {
      for (const [b, bx, by] of usual) {
        if (ax < bx) expect(more.get(a)!.x, `${a} ${b}`).toBeLessThan(more.get(b)!.x);
        if (ax === bx && ay < by) expect(more.get(a)!.y, `${a} ${b}`).toBeLessThan(more.get(b)!.y);
      }
    }
  });
});

describe('branches of one part that are the same', () => {
  it('are laid out the same, wherever they stood', async () => {
    const random = seededRandom(11);
    const anywhere = () => ({ x: Math.round(random() * 2000), y: Math.round(random() * 1500) });
    const pad = sketchDoc()
      .node('all', 'sum', { ...anywhere(), ports: portsOfSum })
      .node('out', 'round', anywhere())
      .wire('all.out', 'out.in');
    for (let i = 0; i < 4; i++) {
      pad.node(`src${i}`, 'src', { name: `Level${'x'.repeat(4 * i)}_${i}`, ...anywhere() });
      pad.node(`wind${i}`, 'wind', anywhere());
      pad.node(`bend${i}`, 'bend', anywhere());
      pad.node(`far${i}`, 'measure', anywhere());
      pad
        .wire(`src${i}.out`, `wind${i}.speed`)
        .wire(`src${i}.out`, `bend${i}.amount`)
        .wire(`src${i}.out`, `far${i}.scale`);
      pad.wire(`wind${i}.out`, `bend${i}.dir`).wire(`bend${i}.out`, `far${i}.vector`).wire(`far${i}.out`, `all.in${i}`);
    }
    const { doc } = await act('arrange', pad.doc, []);
    const branch = (i: number) => {
      const first = doc.nodes.get(`src${i}`)!;
      return ['wind', 'bend', 'far'].map((name) => [
        doc.nodes.get(`${name}${i}`)!.x - first.x,
        doc.nodes.get(`${name}${i}`)!.y - first.y,
      ]);
    };
    for (let i = 1; i < 4; i++) expect(branch(i)).toEqual(branch(0));
  });
});

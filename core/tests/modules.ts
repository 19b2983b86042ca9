import { type Doc, emptyDoc } from '../document/doc.ts';
import { seededRandom } from '../document/ids.ts';
import type { Frame, GraphNode, Port, Wire } from '../document/schema.ts';

/**
 * A file of repeated framed parts fed by a few hubs, as a team has it after a deadline: parts of the same kinds and
 * wires in a rough grid, their nodes somewhere near where they belong; some lack a node or have one more; a gatherer at
 * the end, strays, some parts without a frame.
 */
export function modulesDoc(seed: number, most = 30): Doc {
  const random = seededRandom(seed * 104729 + 7);
  const between = (a: number, b: number): number => a + (b - a) * random();
  const whole = (a: number, b: number): number => Math.floor(between(a, b + 1));
  const nodes = new Map<string, GraphNode>();
  const frames = new Map<string, Frame>();
  const wires = new Map<string, Wire>();
  const inputs = new Map<string, Port[]>();
  const node = (name: string, kind: string, x: number, y: number, outs: number, frame?: string): string => {
    const id = `n${nodes.size}`;
    inputs.set(id, []);
    const outputs = Array.from(
      { length: outs },
      (_, i): Port => ({ id: `out${i}`, name: `out ${i + 1}`, type: 'any', direction: 'out' }),
    );
    nodes.set(id, {
      id,
      graph: 'root',
      kind,
      name,
      x: Math.round(x),
      y: Math.round(y),
      ports: outputs,
      ...(frame && { frame }),
    });
    return id;
  };
  const wire = (from: string, to: string, output = 0): void => {
    const ports = inputs.get(to)!;
    const port = `in${ports.length}`;
    ports.push({ id: port, name: port, type: 'any', direction: 'in' });
    const id = `w${wires.size}`;
    wires.set(id, { id, from: { node: from, port: `out${output}` }, to: { node: to, port } });
  };
  const hubs = Array.from({ length: whole(2, 5) }, (_, h) =>
    node(`Hub_${h + 1}`, `hub${h}`, -700 + between(-80, 80), h * 300 + between(-80, 80), whole(1, 2)),
  );
  // what one part is made of: chains that merge, with the hubs that some of its nodes take from
  const chains = whole(2, 4);
  const lengths = Array.from({ length: chains }, () => whole(2, 5));
  const taps = lengths.map((length) => Array.from({ length }, () => (random() < 0.3 ? whole(0, hubs.length - 1) : -1)));
  taps[0]![0] = 0;
  const parts = Math.max(whole(6, most), most > 30 ? most : 0);
  const across = Math.max(2, Math.round(Math.sqrt(parts * 1.3)));
  const [stepX, stepY] = [(Math.max(...lengths) + 2) * 240 + 200, chains * 190 + 260];
  const framed = random() < 0.3 ? 0.7 : 1;
  const gatherer =
    random() < 0.7
      ? node('Everything', 'gatherer', across * stepX + 300, (parts / across) * stepY * 0.5, 1)
      : undefined;
  for (let p = 0; p < parts; p++) {
    const [x0, y0] = [(p % across) * stepX + between(-60, 60), Math.floor(p / across) * stepY + between(-50, 50)];
    const frame = random() < framed ? `f${p}` : undefined;
    if (frame)
      frames.set(frame, {
        id: frame,
        graph: 'root',
        title: `Part ${(p + 1) * 10}`,
        x: x0,
        y: y0,
        width: 200,
        height: 120,
      });
    const place = (column: number, row: number): [number, number] => [
      x0 + column * 225 + between(-70, 70),
      y0 + row * 140 + between(-60, 60),
    ];
    const last = node(`P${p + 1}_merge`, 'merge', ...place(Math.max(...lengths), chains / 2), 1, frame);
    lengths.forEach((length, c) => {
      let before: string | undefined;
      for (let k = 0; k < length; k++) {
        const made = node(`P${p + 1}_${c + 1}_${k + 1}`, `k${c}_${k}`, ...place(k, (c * 3 + p) % chains), 1, frame);
        if (before) wire(before, made);
        const hub = taps[c]![k]!;
        if (hub >= 0) wire(hubs[hub]!, made);
        before = made;
      }
      if (random() < 0.04) {
        const more = node(`P${p + 1}_${c + 1}_more`, 'extra', ...place(length, c), 1, frame);
        wire(before!, more);
        before = more;
      }
      wire(before!, last);
    });
    const write = node(`P${p + 1}_write`, 'write', ...place(Math.max(...lengths) + 1, chains / 2), 1, frame);
    wire(last, write);
    if (gatherer) wire(write, gatherer);
    if (random() < 0.1) node(`Stray_${p}`, 'stray', ...place(2, chains), 1);
  }
  if (gatherer) wire(gatherer, node('Delivery', 'write', (across + 1) * stepX, 0, 0));
  for (const [id, one] of nodes) nodes.set(id, { ...one, ports: [...inputs.get(id)!, ...one.ports] });
  return { ...emptyDoc(`modules${seed}`, `Generated parts ${seed}`, { id: 'test', version: 1 }), nodes, frames, wires };
}

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Doc, indexOf } from '../document/doc.ts';
import { parseDoc, writeDoc } from '../document/file.ts';
import { geometryOf, portPoint, ticket } from '../document/geometry.ts';
import { apply } from '../edit/step.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { routeWires } from '../route/route.ts';
import { docArbitrary, sketchDoc, smallPicture, testKinds } from '../tests/arbitrary.ts';

const perform = async (id: string, doc: Doc, items: readonly string[], options: unknown = {}): Promise<Doc> =>
  apply(doc, (await runOperation(id, createContext(testKinds, 1), doc, { graph: 'root', items }, options)).edit);
const shown = (doc: Doc, id: string): string[] =>
  geometryOf(doc, testKinds, doc.nodes.get(id)!).ports.map((port) => port.id);

const pair = () => sketchDoc().node('s', 'src').node('t', 'tint', { x: 300 }).wire('s.out', 't.base').doc;

describe('which ports show', () => {
  it('only wired ones, main ones, matching ones, or both, as worked by hand; a wired port never hides', async () => {
    expect(shown(pair(), 't')).toEqual(['amount', 'base', 'out']);
    expect(shown(await perform('show-ports', pair(), ['t']), 't')).toEqual(['base']);
    expect(shown(await perform('show-ports', pair(), ['t'], { text: 'AM' }), 't')).toEqual(['amount', 'base']);
    expect(shown(await perform('show-ports', pair(), ['t'], { text: 'OUT' }), 't')).toEqual(['base', 'out']);
    expect(
      shown(await perform('show-ports', await perform('show-ports', pair(), ['t']), ['t'], { ports: 'all' }), 't'),
    ).toEqual(['amount', 'base', 'out']);
  });

  it('takes the main ports from the catalogue, and the first of each side where the kind is unknown', async () => {
    const ports = [
      { id: 'a', name: 'a', type: 'x', direction: 'in' as const },
      { id: 'b', name: 'b', type: 'x', direction: 'in' as const },
      { id: 'c', name: 'c', type: 'x', direction: 'out' as const },
      { id: 'd', name: 'd', type: 'x', direction: 'out' as const },
    ];
    const { doc } = sketchDoc().node('u', 'unknown.kind', { ports }).node('r', 'std.input');
    expect(shown(await perform('show-ports', doc, ['u'], { main: true }), 'u')).toEqual(['a', 'c']);
    expect(shown(await perform('show-ports', doc, ['r'], { main: true }), 'r')).toEqual(['out']);
  });

  it('wiring a hidden port shows it, and the node grows', async () => {
    const hidden = await perform('show-ports', pair(), ['t']);
    const before = geometryOf(hidden, testKinds, hidden.nodes.get('t')!);
    const wired = await perform('connect', hidden, [], {
      from: { node: 's', port: 'out' },
      to: { node: 't', port: 'amount' },
    });
    const after = geometryOf(wired, testKinds, wired.nodes.get('t')!);
    expect([before.hidden, after.hidden]).toEqual([2, 1]);
    expect(after.height - before.height).toBe(ticket.row);
    expect(portPoint(hidden, testKinds, hidden.nodes.get('t')!, 'amount', 'in')).toBeUndefined();
    expect(portPoint(wired, testKinds, wired.nodes.get('t')!, 'amount', 'in')).toBeDefined();
  });
});

describe('closed nodes, captions and pictures', () => {
  it('draws a closed node as its head, with every wire at the middle of its side', async () => {
    const doc = await perform('close', pair(), ['t']);
    const { height, width, ports } = geometryOf(doc, testKinds, doc.nodes.get('t')!);
    expect(height).toBe(ticket.head);
    expect(ports.map((port) => [port.x, port.y])).toEqual([
      [0, ticket.head / 2],
      [0, ticket.head / 2],
      [width, ticket.head / 2],
    ]);
    expect(routeWires(doc, testKinds, 'root').get('s.out>t.base')?.at(-1)).toEqual({ x: 300, y: ticket.head / 2 });
    expect(shown(await perform('open', doc, []), 't')).toHaveLength(3);
  });

  it.each([
    ['usual', ['Label', 'Source · s']],
    ['name', ['s', 'Source']],
    ['label', ['Label', '']],
    ['kind', ['Source', '']],
    ['nothing', ['', '']],
  ])('the caption “%s” stands on the node', async (caption, [title, subtitle]) => {
    const { doc } = sketchDoc().node('s', 'src', { label: 'Label' });
    expect(
      geometryOf(
        await perform('caption', doc, ['s'], { caption }),
        testKinds,
        (await perform('caption', doc, ['s'], { caption })).nodes.get('s')!,
      ),
    ).toMatchObject({
      title,
      subtitle,
    });
  });

  it('a picture takes its room, gives it back when hidden, and goes when it is taken away', async () => {
    const plain = pair();
    const heightOf = (doc: Doc): number => geometryOf(doc, testKinds, doc.nodes.get('t')!).height;
    const pictured = await perform('set-picture', plain, ['t'], { picture: smallPicture });
    expect(heightOf(pictured) - heightOf(plain)).toBe(ticket.pictureHeight + ticket.foot);
    expect(heightOf(await perform('hide-pictures', pictured, []))).toBe(heightOf(plain));
    expect(heightOf(await perform('show-pictures', await perform('hide-pictures', pictured, []), ['t']))).toBe(
      heightOf(pictured),
    );
    expect((await perform('set-picture', pictured, ['t'])).nodes.get('t')!.picture).toBeUndefined();
    await expect(perform('set-picture', plain, ['t'], { picture: 'https://elsewhere/a.png' })).rejects.toThrow(
      'option picture',
    );
    await expect(perform('set-picture', plain, ['t'], { picture: 'data:image/svg+xml;base64,AAAA' })).rejects.toThrow(
      'small PNG',
    );
  });

  it('never hides a wired port, never changes what is computed, and comes back from the file', () => {
    fc.assert(
      fc.property(docArbitrary(), (doc) => {
        for (const wire of doc.wires.values()) {
          for (const [end, direction] of [[wire.from, 'out'] as const, [wire.to, 'in'] as const])
            expect(portPoint(doc, testKinds, doc.nodes.get(end.node)!, end.port, direction), wire.id).toBeDefined();
        }
        const bare = {
          ...doc,
          nodes: new Map(
            [...doc.nodes].map(([id, { closed: _a, show: _b, caption: _c, picture: _d, pictureOff: _e, ...node }]) => [
              id,
              node,
            ]),
          ),
        };
        expect(fingerprint(bare, testKinds)).toEqual(fingerprint(doc, testKinds));
        const back = parseDoc(writeDoc(doc)).doc;
        for (const node of indexOf(doc).nodesIn('root'))
          expect(geometryOf(back, testKinds, back.nodes.get(node.id)!)).toEqual(geometryOf(doc, testKinds, node));
      }),
    );
  });
});

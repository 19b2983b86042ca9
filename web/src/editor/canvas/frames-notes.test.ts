import { noScheme } from '@basitax/core/color/scheme';
import type { Doc } from '@basitax/core/document/doc';
import { framePad } from '@basitax/core/document/geometry';
import { seededRandom } from '@basitax/core/document/ids';
import type { Note } from '@basitax/core/document/schema';
import { withoutNodes } from '@basitax/core/structure/fold';
import { docFromSeed, sketchDoc, testKinds } from '@basitax/core/tests/arbitrary';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { edgeAt, handlePlace, handles } from './frame-edges.ts';
import { inkOn } from './ink.ts';
import { drawDiffering, drawHandles, drawRegions } from './paint/above.ts';
import { drawNotes } from './paint/notes.ts';
import { pictureOf, recorder } from './paint/recorder.ts';
import { markEnds, Scene } from './scene.ts';

const view = { x: 0, y: 0, zoom: 1 };

const bay = (folded: boolean): Doc =>
  sketchDoc()
    .frame('bay', { title: 'Bay', ...(folded && { folded: true }) })
    .node('a', 'src', { x: 0, y: 0 })
    .node('b', 'add', { x: 200, y: 100, frame: 'bay' })
    .node('c', 'add', { x: 500, y: 0 })
    .wire('a.out', 'b.a')
    .wire('b.out', 'c.a').doc;

const noted = (doc: Doc, ...notes: Partial<Note>[]): Doc => ({
  ...doc,
  notes: new Map(
    notes.map((note, i) => [
      `t${i}`,
      { id: `t${i}`, graph: 'root', x: 100, y: 300, width: 200, height: 100, text: 'Ask the dome team', ...note },
    ]),
  ),
});

describe('a folded frame on the canvas', () => {
  it('is one block; a press on its ports means the ports inside', () => {
    const scene = new Scene(bay(true), testKinds, 'root');
    expect(scene.nodes.map((item) => item.node.id).sort()).toEqual(['a', 'bay', 'c']);
    expect(scene.frames).toEqual([]);
    const block = scene.get('bay')!;
    expect([block.rect.x, block.rect.y]).toEqual([200 - framePad.left, 100 - framePad.top]);
    const out = block.geometry.ports.find((port) => port.direction === 'out')!;
    const at = { x: block.rect.x + out.x, y: block.rect.y + out.y };
    expect(scene.hit(at, 4)).toMatchObject({ type: 'port', node: { id: 'b' }, port: 'out', direction: 'out' });
    expect(scene.portPlace('b', 'out', 'out')).toEqual(at);
    // a port that has no wire over the edge is not drawn: the middle of the block stands for it
    expect(scene.portPlace('b', 'b', 'in')).toEqual({
      x: block.rect.x + block.rect.width / 2,
      y: block.rect.y + block.rect.height / 2,
    });
    expect(scene.portPlace('nobody', 'b', 'in')).toBeUndefined();
    expect(scene.hit({ x: block.rect.x + block.rect.width / 2, y: block.rect.y + 8 }, 2)).toEqual({
      type: 'node',
      id: 'bay',
    });
  });

  it('has its frame back when it is unfolded', () => {
    const scene = new Scene(bay(false), testKinds, 'root');
    expect(scene.frames.map(({ frame }) => frame.id)).toEqual(['bay']);
    expect(scene.frameAt({ x: 210, y: 90 }, () => false)?.id).toBe('bay');
    expect(scene.frameAt({ x: 210, y: 90 }, (id) => id === 'bay')).toBeUndefined();
    expect(scene.rectOf('bay')).toEqual(scene.frameRect('bay'));
  });

  it('draws a hidden set’s nodes and wires no more, whatever they are', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1_000_000 }), fc.integer({ min: 0, max: 24 }), (seed, size) => {
        const random = seededRandom(seed);
        const doc = docFromSeed(seed, size);
        const hidden = new Set([...doc.nodes.keys()].filter(() => random() < 0.3));
        const scene = new Scene(withoutNodes(doc, hidden), testKinds, 'root', doc);
        expect(scene.nodes.some((item) => hidden.has(item.node.id))).toBe(false);
        for (const wire of scene.wires) expect(hidden.has(wire.from.node) || hidden.has(wire.to.node)).toBe(false);
        const stay = [...doc.wires.values()].filter(
          (wire) =>
            doc.nodes.get(wire.to.node)!.graph === 'root' && !hidden.has(wire.from.node) && !hidden.has(wire.to.node),
        );
        expect(scene.wires).toHaveLength(stay.length);
      }),
      { numRuns: 80 },
    );
  });
});

describe('handles', () => {
  it('stand at the corners and edges of the one frame or note that is selected, and are grabbed there', () => {
    const scene = new Scene(noted(bay(false), {}), testKinds, 'root');
    const rect = scene.frameRect('bay')!;
    for (const [x, y] of handles)
      expect(edgeAt(scene, ['bay'], handlePlace(rect, [x, y]), 5)).toMatchObject({ frame: 'bay', x, y });
    expect(edgeAt(scene, ['bay', 'a'], handlePlace(rect, [1, 1]), 5)).toBeUndefined();
    expect(edgeAt(scene, ['bay'], { x: rect.x + rect.width / 2, y: rect.y + rect.height / 2 }, 5)).toBeUndefined();
    expect(edgeAt(scene, ['t0'], { x: 300, y: 400 }, 5)).toMatchObject({ frame: 't0', x: 1, y: 1 });
    const own = recorder();
    drawHandles(own.ctx, pictureOf(scene, view, { selected: new Set(['bay']) }));
    expect(own.calls.filter((call) => call.name === 'fillRect')).toHaveLength(handles.length);
    const none = recorder();
    drawHandles(none.ctx, pictureOf(scene, view, { selected: new Set(['a']) }));
    expect(none.calls).toEqual([]);
  });
});

describe('notes and marks', () => {
  const drawn = (doc: Doc, zoom: number, isAlone = true): ReturnType<typeof recorder> => {
    const own = recorder();
    // text in the recorder has no width
    Object.assign(own.ctx, { measureText: (text: string) => ({ width: text.length * 6 }) });
    drawNotes(own.ctx, pictureOf(new Scene(doc, testKinds, 'root'), { ...view, zoom }, { isAlone }));
    return own;
  };

  it('show their text, leave it to the elements that stand over them, and fold to a sign far out', () => {
    const doc = noted(bay(false), { text: '## Tide\n**first**' });
    expect(drawn(doc, 1).texts().join(' ')).toBe('Tide first');
    expect(drawn(doc, 1, false).texts()).toEqual([]);
    expect(drawn(doc, 0.2).texts()).toEqual([]);
    const sheet = drawn(doc, 0.1).calls.find((call) => call.name === 'fillRect')!.args as number[];
    expect([sheet[2], sheet[3]]).toEqual([14, 14]);
  });

  it('lead to what they are tied to', () => {
    const lines = (doc: Doc): unknown[] =>
      drawn(doc, 1).calls.filter((call) => call.name === 'setLineDash' && JSON.stringify(call.args) === '[[1.5,3]]');
    expect([
      lines(noted(bay(false), {})).length,
      lines(noted(bay(false), { tiedTo: 'b' })).length,
      lines(noted(bay(false), { tiedTo: 'bay' })).length,
    ]).toEqual([0, 1, 1]);
  });

  it('are hit on their lines, not in the room that a mark goes around', () => {
    const ring = new Scene(noted(sketchDoc().doc, { mark: 'ring' }), testKinds, 'root');
    expect([ring.hit({ x: 200, y: 350 }, 5), ring.hit({ x: 100, y: 350 }, 5)]).toEqual([
      undefined,
      { type: 'note', id: 't0' },
    ]);
    const arrow = new Scene(noted(sketchDoc().doc, { mark: 'arrow', towards: 'top-left' }), testKinds, 'root');
    expect([arrow.hit({ x: 200, y: 350 }, 5), arrow.hit({ x: 110, y: 390 }, 5)]).toEqual([
      { type: 'note', id: 't0' },
      undefined,
    ]);
    expect(new Scene(noted(sketchDoc().doc, {}), testKinds, 'root').hit({ x: 200, y: 350 }, 5)).toEqual({
      type: 'note',
      id: 't0',
    });
  });

  it.each([
    ['top-left', [300, 400], [100, 300]],
    ['top-right', [100, 400], [300, 300]],
    ['bottom-left', [300, 300], [100, 400]],
    ['bottom-right', [100, 300], [300, 400]],
  ] as const)('an arrow to the %s begins across', (towards, from, to) => {
    const ends = markEnds({
      id: 't',
      graph: 'root',
      x: 100,
      y: 300,
      width: 200,
      height: 100,
      text: '',
      mark: 'arrow',
      towards,
    });
    expect(ends.map(({ x, y }) => [x, y])).toEqual([from, to]);
  });
});

describe('colours and proposals', () => {
  it('what differs from the scheme is ringed, and nothing else', () => {
    const { doc } = sketchDoc(bay(false)).node('d', 'add', { x: 700, color: '#d55e00' });
    const rings = (scheme = noScheme): number => {
      const own = recorder();
      const picture = pictureOf(new Scene(doc, testKinds, 'root'), view);
      drawDiffering(own.ctx, { ...picture, colors: { ...picture.colors, scheme } });
      return own.texts().filter((text) => text === '≠').length;
    };
    expect([rings(), rings({ categories: { math: '#d55e00' } })]).toEqual([1, 0]);
  });

  it('letters are black or white on a colour of one’s own, whichever is read', () => {
    const { colors } = pictureOf(new Scene(bay(false), testKinds, 'root'), view);
    expect([inkOn('#000000', colors), inkOn('#f0e442', colors), inkOn(colors.hues[0]!, colors)]).toEqual([
      '#ffffff',
      '#000000',
      colors.onHue,
    ]);
  });

  it('regions are ghosts with their titles, as far as their nodes are here', () => {
    const own = recorder();
    const regions = [
      { title: 'Upper row', nodes: ['a', 'c'], strangers: 0 },
      { title: 'Elsewhere', nodes: ['gone'], strangers: 0 },
    ];
    drawRegions(own.ctx, pictureOf(new Scene(bay(false), testKinds, 'root'), view), regions);
    expect(own.texts()).toEqual(['Upper row']);
  });
});

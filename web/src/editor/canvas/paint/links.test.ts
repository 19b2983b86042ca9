import { extract } from '@basitax/core/inspect/neighbourhood';
import { linkShape } from '@basitax/core/sheet/outlines';
import { sketchDoc, testKinds } from '@basitax/core/tests/arbitrary';
import { kinds } from '@basitax/demo/builder';
import { demoFiles } from '@basitax/demo/files';
import { describe, expect, it } from 'vitest';
import { Scene } from '../scene.ts';
import { drawFed, drawTraces, isWhole, linkWords } from './links.ts';
import { drawNodes } from './nodes.ts';
import { pictureOf, recorder } from './recorder.ts';

const sceneOf = (slug: string): Scene =>
  new Scene(demoFiles.find((file) => file.slug === slug)!.build(), kinds, 'root');
const view = { x: 0, y: 0, zoom: 1 };
const glow = sceneOf('glow-library');
const named = (scene: Scene, name: string) => scene.nodes.find((item) => item.node.name === name)!;

describe('the ends of remote links', () => {
  it.each(['pennant', 'notch'] as const)('a %s stays within its box, and its band within it', (shape) => {
    const { outline, band } = linkShape({ shape, width: 90, height: 18 });
    for (const [x, y] of [...outline, ...band]) expect(x >= 0 && x <= 90 && y >= 0 && y <= 18).toBe(true);
    // a pennant comes to a point where its wire leaves; a notch is cut in where a pennant would fit
    expect(outline).toContainEqual(shape === 'pennant' ? [90, 9] : [7, 9]);
  });

  it('say how they stand, and carry the type behind them, in a neighbourhood too', () => {
    const states = (scene: Scene) =>
      Object.fromEntries(
        ['Tide_phase', 'Rose_glow', 'Violet_glow_tap', 'Cyan_glow_tap'].flatMap((name) =>
          named(scene, name) ? [[name, scene.linkOf(named(scene, name).node)!]] : [],
        ),
      );
    const whole = states(glow);
    expect(Object.values(whole).map(({ state, type }) => [state, type.id])).toEqual([
      ['heard', 'float'],
      ['unheard', 'color'],
      ['lost', 'any'],
      ['fed', 'color'],
    ]);
    expect(Object.values(whole).map(isWhole)).toEqual([true, false, false, true]);
    // where its beacon is not shown, a tap has not lost it
    const tap = named(glow, 'Cyan_glow_tap').node;
    const part = new Scene(extract(glow.doc, 'root', [tap.id], new Map()), kinds, 'root', glow.doc);
    expect(part.nodes).toHaveLength(1);
    expect(part.linkOf(part.nodes[0]!.node)).toMatchObject({ state: 'fed', type: { id: 'color' } });
    expect([
      linkWords('std.beacon', 'unheard'),
      linkWords('std.feed', 'unheard'),
      linkWords('std.tap', 'lost'),
    ]).toEqual(['heard by none', 'supplies nothing', 'has lost its beacon']);
  });

  it('are drawn with a dashed outline where they are lost, and with the name of their beacon', () => {
    const own = recorder();
    drawNodes(own.ctx, pictureOf(glow, view), [named(glow, 'Violet_glow_tap')]);
    expect(own.calls.some((call) => call.name === 'setLineDash' && (call.args[0] as number[]).length > 0)).toBe(true);
    expect(own.texts()).toContain('Violet_glow');
  });
});

describe('traces', () => {
  const strokes = (scene: Scene, selected: string[], trace: 'selected' | 'all' | 'off') => {
    const own = recorder();
    drawTraces(own.ctx, pictureOf(scene, view, { selected: new Set(selected) }), trace);
    return own.calls.filter((call) => call.name === 'lineTo').length;
  };

  it('lead from a beacon to each of its taps, from a tap to its beacon, and nowhere where they are off', () => {
    const [beacon, tap] = [
      named(glow, 'Tide_phase').node.id,
      glow.nodes.find((item) => item.node.beacon?.name === 'Tide_phase')!.node.id,
    ];
    expect(strokes(glow, [beacon], 'selected')).toBe(12);
    expect(strokes(glow, [tap], 'selected')).toBe(1);
    expect(strokes(glow, [], 'selected')).toBe(0);
    expect(strokes(glow, [beacon], 'off')).toBe(0);
    // 12 of the phase, and 11 of the colours that have taps
    expect(strokes(glow, [], 'all')).toBe(23);
  });

  it('end at the nested node that holds a tap, and lead from a feed to what it supplies', () => {
    const survey = sceneOf('survey-map');
    expect(strokes(survey, [named(survey, 'Shore_mask').node.id], 'selected')).toBe(12);
    const master = sceneOf('dome-master');
    expect(strokes(master, [named(master, 'SeatCamera_feed').node.id], 'selected')).toBe(4);
    expect(strokes(master, [named(master, 'Front_Render').node.id], 'selected')).toBe(2);
  });
});

describe('inputs that a standing feed supplies', () => {
  it.each(['right', 'left', 'down', 'up'] as const)(
    'are marked outside the node, with what feeds them, where data flows %s',
    (flow) => {
      const pad = sketchDoc()
        .graph('root', { name: 'Main', flow })
        .node('s', 'src')
        .node('f', 'std.feed', { params: { types: 'num' }, label: 'Level' })
        .node('t', 'tint', { x: 400, y: 300 });
      const scene = new Scene(pad.wire('s.out', 'f.in').doc, testKinds, 'root');
      const item = scene.get('t')!;
      const own = recorder();
      drawFed(own.ctx, pictureOf(scene, view), [item]);
      expect(own.texts()).toEqual(['Level']);
      const { x, y, width, height } = item.rect;
      const marks = own.calls.filter((call) => call.name === 'moveTo').map((call) => call.args as [number, number]);
      expect(marks).toHaveLength(3);
      const isOutside = ([a, b]: [number, number]): boolean =>
        ({ right: a < x, left: a > x + width, down: b < y, up: b > y + height })[flow];
      expect(marks.every(isOutside)).toBe(true);
      expect(scene.fedWords(item.node)).toBe('amount fed by Level');
    },
  );
});

import { contrast, parseColor } from '@basitax/core/color/contrast';
import { kinds } from '@basitax/demo/builder';
import { demoFiles } from '@basitax/demo/files';
import { describe, expect, it } from 'vitest';
import { heatColors } from '../../inspect/heat.ts';
import { type Differences, hasMarks, type Marks } from '../../inspect/marks.ts';
import { Scene } from '../scene.ts';
import { drawMarks } from './inspection.ts';
import { pictureOf, recorder } from './recorder.ts';

const scene = new Scene(demoFiles.find((file) => file.slug === 'dome-blend')!.build(), kinds, 'root');
const rects = scene.nodes.map((item) => item.rect);
const [left, top] = [Math.min(...rects.map((rect) => rect.x)), Math.min(...rects.map((rect) => rect.y))];
const view = { x: -left + 20, y: -top + 20, zoom: 1 };
const named = (name: string) => scene.nodes.find((item) => item.node.name === name)!;
const drawn = (marks: Marks, at = view) => {
  const { ctx, calls, texts } = recorder();
  drawMarks(ctx, pictureOf(scene, at), marks);
  return { calls, texts: texts(), count: (name: string) => calls.filter((call) => call.name === name).length };
};
const differences: Differences = {
  graph: 'root',
  added: new Set(),
  changed: new Map(),
  removed: [],
  moved: [],
  rewired: new Set(),
};

const apart = (a: string, b: string): number => contrast(parseColor(a)!, parseColor(b)!);

describe('what inspecting draws', () => {
  it('is nothing where there are no marks', () => {
    expect(hasMarks({})).toBe(false);
    expect(hasMarks({ place: undefined })).toBe(false);
    expect(drawn({}).calls).toEqual([]);
  });

  it('a veil over all, with a hole for each lit node and the wires between lit nodes drawn again', () => {
    const [tilt, grade] = [named('ReefTilt').node.id, named('HouseGrade').node.id];
    const veiled = drawn({ lit: new Set([tilt, grade]) });
    expect(veiled.count('fillRect')).toBe(1);
    expect(veiled.count('clearRect')).toBe(2);
    expect(veiled.count('stroke')).toBe(1);
    expect(drawn({ lit: new Set() }).count('clearRect')).toBe(0);
  });

  it('heat with its time where that can be read, and without it far out', () => {
    const heat = new Map([[named('ReefTilt').node.id, { step: 4, text: '10 ms' }]]);
    expect(drawn({ heat }).texts).toEqual(['10 ms']);
    const far = drawn({ heat }, { ...view, zoom: 0.2 });
    expect([far.texts, far.count('fillRect')]).toEqual([[], 1]);
  });

  it('a chain over the wires that are drawn, with the turn of each node', () => {
    const ids = ['ReefTilt', 'HouseGrade'].map((name) => named(name).node.id);
    const chain = drawn({ chain: ids });
    expect(chain.texts).toEqual(['1', '2']);
    expect(chain.calls.some((call) => call.name === 'setLineDash' && (call.args[0] as number[]).length > 0)).toBe(
      false,
    );
    // no wire leads back: a dashed line
    const back = drawn({ chain: [...ids].reverse() });
    expect(back.calls.some((call) => call.name === 'setLineDash' && (call.args[0] as number[]).length > 0)).toBe(true);
  });

  it('differences by signs: what came, went and changed; what only moved has its old place', () => {
    const [tilt, grade, warp] = ['ReefTilt', 'HouseGrade', 'Warp_1'].map((name) => named(name).node.id) as [
      string,
      string,
      string,
    ];
    const marks = {
      differences: {
        ...differences,
        added: new Set([tilt]),
        changed: new Map([
          [grade, 'function' as const],
          [warp, 'layout' as const],
        ]),
        removed: [{ id: 'gone', rect: { x: left, y: top, width: 120, height: 60 }, title: 'Old grade' }],
        moved: [{ id: warp, from: { x: left, y: top + 200, width: 100, height: 50 } }],
      },
    };
    const { texts, count } = drawn(marks);
    expect(texts).toEqual(['−', 'Old grade', '+', '!']);
    // the old place, what went, what came, what changed
    expect(count('strokeRect')).toBe(4);
  });

  it('places numbered in order, the one that is looked at drawn firm', () => {
    const places = [
      { x: left, y: top, width: 400, height: 300 },
      { x: left + 400, y: top, width: 400, height: 300 },
    ];
    const { texts, calls } = drawn({ places, place: 1 });
    expect(texts).toEqual(['1', '2']);
    expect(
      calls.filter((call) => call.name === 'setLineDash').map((call) => (call.args[0] as number[]).length),
    ).toEqual([2, 0, 0, 0]);
  });

  it('heat in steps that get darker on paper and lighter at night, with what is written on them at 4.5:1 or better (WCAG 2.2, 1.4.3)', () => {
    for (const theme of ['paper', 'night'] as const) {
      const ramp = heatColors[theme];
      expect(ramp).toHaveLength(5);
      for (const { fill, ink } of ramp) expect(apart(fill, ink)).toBeGreaterThanOrEqual(4.5);
      const away = ramp.map(({ fill }) => apart(fill, theme === 'paper' ? '#f7f3ea' : '#1d1d1d'));
      expect(away).toEqual([...away].sort((a, b) => a - b));
    }
  });
});

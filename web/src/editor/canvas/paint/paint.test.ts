import { sketchDoc, testKinds } from '@basitax/core/tests/arbitrary';
import { kinds } from '@basitax/demo/builder';
import { demoFiles } from '@basitax/demo/files';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { View } from '../../store.ts';
import { isInside } from '../gestures.ts';
import { Scene } from '../scene.ts';
import { drawOrder, drawTabs } from './above.ts';
import { drawNodes } from './nodes.ts';
import { Painter } from './painter.ts';
import { giveWay, type Picture, readingZoom, toScreen } from './picture.ts';
import { pictureOf, recorder } from './recorder.ts';
import { drawWires } from './wires.ts';

const kept: ReturnType<typeof recorder>[] = [];
beforeAll(() => {
  vi.stubGlobal('window', { devicePixelRatio: 1 });
  vi.stubGlobal('document', {
    createElement: () => {
      const own = recorder();
      kept.push(own);
      return { width: 0, height: 0, getContext: () => own.ctx };
    },
  });
});
afterAll(() => vi.unstubAllGlobals());

const shoal = new Scene(demoFiles.find((file) => file.slug === 'plankton-shoal')!.build(), kinds, 'root');
const reef = new Scene(demoFiles.find((file) => file.slug === 'reef-night')!.build(), kinds, 'root');

describe('giving way', () => {
  it('has one order: port names first, then marks, pictures, letters, names, and tickets last of what a node is', () => {
    const { portNames, subtitles, marks, pictures, codes, tickets, names } = giveWay;
    const order = [readingZoom, portNames, subtitles, marks, pictures, codes, tickets, names];
    expect(order).toEqual([...order].sort((a, b) => b - a));
  });

  it('takes captions away one kind after the other, and brings none back', () => {
    const item = shoal.nodes.find((one) => one.geometry.subtitle === 'Emit points' || one.geometry.ports.length > 2)!;
    const said = (zoom: number): Set<string> => {
      const own = recorder();
      drawNodes(own.ctx, pictureOf(shoal, { x: 0, y: 0, zoom }), [item]);
      const texts = own.texts();
      return new Set([
        ...(texts.some((text) => item.geometry.ports.some((port) => port.text === text)) ? ['port names'] : []),
        ...(texts.includes(item.geometry.subtitle) ? ['subtitle'] : []),
        ...(texts.includes(kinds.code(item.node.kind)) ? ['code'] : []),
        ...(own.calls.some((call) => call.name === 'stroke') ? ['marks'] : []),
        ...(own.calls.some((call) => call.name === 'strokeRect') ? ['ticket'] : []),
      ]);
    };
    expect([...said(0.8)].sort()).toEqual(['code', 'marks', 'port names', 'subtitle', 'ticket']);
    let before = said(1);
    for (let zoom = 1; zoom > 0.03; zoom *= 0.93) {
      const now = said(zoom);
      for (const one of now) expect(before.has(one), `${one} at ${zoom}`).toBe(true);
      before = now;
    }
    expect([...before]).toEqual([]);
  });

  it('keeps frame titles at a size that can be read, at every zoom, none upon another', () => {
    const titles = new Set(reef.frames.map(({ frame }) => frame.title));
    const b = reef.bounds!;
    fc.assert(
      fc.property(
        fc.double({ min: 0.03, max: 2, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (zoom, fx, fy) => {
          const own = recorder();
          const view = { zoom, x: 500 - (b.x + b.width * fx) * zoom, y: 350 - (b.y + b.height * fy) * zoom };
          drawTabs(own.ctx, pictureOf(reef, view));
          const tabs = own.calls
            .filter((call) => call.name === 'fillRect')
            .map(({ args }) => args as [number, number, number, number]);
          const drawn = own.calls.filter((call) => call.name === 'fillText');
          expect(drawn).toHaveLength(tabs.length);
          for (const { font, args } of drawn) {
            expect(Number(/(\d+(\.\d+)?)px/.exec(font)![1])).toBeGreaterThanOrEqual(11);
            const text = String(args[0]);
            expect(titles.has(text) || (text.endsWith('…') && text.length > 1)).toBe(true);
          }
          tabs.forEach(([x, y, width, height], i) => {
            for (const [ox, oy, owidth, oheight] of tabs.slice(i + 1))
              expect(x < ox + owidth && ox < x + width && y < oy + oheight && oy < y + height).toBe(false);
          });
          // whatever frame has its corner in the window has its title there, unless another's is in the way
          if (zoom > 0.2) {
            const seen = reef.frames.filter(({ rect }) => {
              const box = toScreen(view, rect);
              return box.x > 0 && box.x < 900 && box.y > 40 && box.y < 650;
            });
            expect(drawn.length).toBeGreaterThanOrEqual(seen.length > 0 ? 1 : 0);
          }
        },
      ),
    );
  });
});

describe('the kept picture', () => {
  const far = { x: 40, y: 40, zoom: 0.08 };
  const strokes = (): number =>
    kept.reduce((sum, one) => sum + one.calls.filter((call) => call.name === 'stroke').length, 0);

  it('is drawn once and moved from then on: by panning, by a little zoom, by dragging many', () => {
    const painter = new Painter();
    const [ground, graph] = [recorder(), recorder()];
    expect(painter.draw(ground.ctx, graph.ctx, pictureOf(shoal, far), false)).toBe(false);
    const once = strokes();
    expect(once).toBeGreaterThan(0);
    painter.draw(ground.ctx, graph.ctx, pictureOf(shoal, { ...far, x: 60 }), false);
    expect(graph.calls.filter((call) => call.name === 'drawImage')).toHaveLength(2);
    // not as sharp as it could be: to be drawn again at rest, and then it is
    expect(painter.draw(ground.ctx, graph.ctx, pictureOf(shoal, { ...far, zoom: 0.085 }), false)).toBe(true);
    expect(strokes()).toBe(once);
    expect(painter.draw(ground.ctx, graph.ctx, pictureOf(shoal, { ...far, zoom: 0.085 }), true)).toBe(false);
    expect(strokes()).toBe(2 * once);
    const moving = { ids: new Set(shoal.nodes.slice(0, 20).map((item) => item.node.id)), dx: 5, dy: 5 };
    painter.draw(ground.ctx, graph.ctx, pictureOf(shoal, { ...far, zoom: 0.085 }, { moving }), false);
    const dragging = strokes();
    for (const dx of [10, 20, 30])
      painter.draw(
        ground.ctx,
        graph.ctx,
        pictureOf(shoal, { ...far, zoom: 0.085 }, { moving: { ...moving, dx } }),
        false,
      );
    expect(strokes()).toBe(dragging);
  });

  it('is drawn anew when something in it has changed, or when it does not cover the window', () => {
    const painter = new Painter();
    const [ground, graph] = [recorder(), recorder()];
    const draw = (view: View, more: Partial<Picture> = {}, isMoving = false): number => {
      const before = strokes();
      painter.draw(ground.ctx, graph.ctx, pictureOf(shoal, view, more), false, isMoving);
      return strokes() - before;
    };
    expect(draw(far)).toBeGreaterThan(0);
    const selected = new Set([shoal.nodes[0]!.node.id]);
    expect(draw(far, { selected })).toBeGreaterThan(0);
    expect(draw(far, { selected })).toBe(0);
    shoal.takeRoutes(new Map());
    expect(draw(far, { selected })).toBeGreaterThan(0);
    // at reading zoom only while the window moves; then until it leaves the margin
    const near = { x: 0, y: 0, zoom: 0.8 };
    const rest = graph.calls.length;
    draw(near);
    expect(graph.calls.slice(rest).some((call) => call.name === 'drawImage')).toBe(false);
    expect(draw(near, {}, true)).toBeGreaterThan(0);
    expect(draw({ ...near, x: -200 }, {}, true)).toBe(0);
    expect(draw({ ...near, x: -900 }, {}, true)).toBeGreaterThan(0);
  });
});

describe('wires', () => {
  const crossing = (from: string) =>
    new Scene(
      sketchDoc()
        .node('a', 'src', { x: 0, y: 0 })
        .node('b', 'src', { x: 0, y: 300 })
        .node('c', 'round', { x: 400, y: -60 })
        .node('d', 'round', { x: 400, y: 360 })
        .wire('a.out', 'd.in')
        .wire(`${from}.out`, 'c.in').doc,
      testKinds,
      'root',
    );
  const interrupted = (scene: Scene): number => {
    const own = recorder();
    drawWires(own.ctx, pictureOf(scene, { x: 100, y: 100, zoom: 1 }), scene.wires);
    return own.calls.filter((call) => call.name === 'clearRect').length;
  };

  it('are interrupted where those of two sources cross, and run on where one source branches', () => {
    // two elbows that turn in one column would lie upon each other: the second turns elsewhere, as routes do, and the
    // first runs down across it
    const scene = crossing('b');
    const routes = new Map(
      scene.wires.map((wire, i) => {
        const [from, to] = [scene.get(wire.from.node)!, scene.get(wire.to.node)!];
        const [start, end] = [
          from.geometry.ports.find((port) => port.direction === 'out')!,
          to.geometry.ports.find((port) => port.direction === 'in')!,
        ];
        const [x1, y1, x2, y2] = [from.rect.x + start.x, from.rect.y + start.y, to.rect.x + end.x, to.rect.y + end.y];
        const turn = x1 + 60 + i * 80;
        const corners = Float64Array.from([x1, y1, turn, y1, turn, y2, x2, y2]);
        return [wire.id, { from: from.node, to: to.node, corners, start: 0, end: 8 }] as const;
      }),
    );
    scene.takeRoutes(routes);
    expect(interrupted(scene)).toBe(1);
    expect(interrupted(crossing('a'))).toBe(0);
  });
});

describe('the order of selection', () => {
  it('is written on each node in turn, and follows what is dragged', () => {
    const ids = shoal.nodes.slice(0, 3).map((item) => item.node.id);
    const own = recorder();
    const view = { zoom: 0.02, x: 500, y: 350 };
    drawOrder(own.ctx, pictureOf(shoal, view, { moving: { ids: new Set([ids[1]!]), dx: 1000, dy: 0 } }), [
      ids[2]!,
      ids[1]!,
      ids[0]!,
    ]);
    expect(own.texts()).toEqual(['1', '2', '3']);
    const second = own.calls.filter((call) => call.name === 'fillText')[1]!;
    expect(second.args[1]).toBeCloseTo((shoal.get(ids[1]!)!.rect.x + 1000) * 0.02 + 500, 6);
  });
});

describe('a lasso', () => {
  it('holds what lies in a loop, as the distance from the middle tells of a polygon about a circle', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 3, max: 60 }),
        fc.double({ min: 0, max: 6.3, noNaN: true }),
        fc.double({ min: 0, max: 6.3, noNaN: true }),
        fc.double({ min: 0, max: 3, noNaN: true }),
        (corners, turn, angle, far) => {
          const loop = Array.from({ length: corners }, (_, i) => ({
            x: Math.cos(turn + (i / corners) * 2 * Math.PI),
            y: Math.sin(turn + (i / corners) * 2 * Math.PI),
          }));
          const p = { x: far * Math.cos(angle), y: far * Math.sin(angle) };
          // the inscribed circle of a regular polygon has the radius cos(π/n) (textbook geometry)
          if (far < Math.cos(Math.PI / corners) - 1e-9) expect(isInside(loop, p)).toBe(true);
          if (far > 1 + 1e-9) expect(isInside(loop, p)).toBe(false);
        },
      ),
    );
  });

  it('may cross itself: what is wound round twice is outside (the even-odd rule of SVG and PDF)', () => {
    const star = [0, 2, 4, 1, 3].map((i) => ({
      x: Math.sin((i / 5) * 2 * Math.PI),
      y: -Math.cos((i / 5) * 2 * Math.PI),
    }));
    expect(isInside(star, { x: 0, y: 0 })).toBe(false);
    expect(isInside(star, { x: 0, y: -0.8 })).toBe(true);
  });
});

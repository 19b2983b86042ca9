import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hues, type Theme } from '../inspect/sketch-colors.ts';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { contrast, hexOf, luminance, parseColor, type Rgb, standingOut } from './contrast.ts';
import {
  differs,
  frameColors,
  groundsOf,
  leastContrast,
  legend,
  nodeColor,
  noScheme,
  onColor,
  palette,
  schemeColor,
  seenOn,
  themed,
} from './scheme.ts';

const rgb = (text: string): Rgb => parseColor(text)!;
const anyColor = fc.tuple(
  fc.integer({ min: 0, max: 255 }),
  fc.integer({ min: 0, max: 255 }),
  fc.integer({ min: 0, max: 255 }),
) as fc.Arbitrary<Rgb>;

describe('contrast', () => {
  // WCAG 2.2, “contrast ratio”: from 1:1 to 21:1, black on white being 21:1; “relative luminance”: 0 for darkest black,
  // 1 for lightest white
  it('goes from 1 to 21', () => {
    expect([luminance([0, 0, 0]), luminance([255, 255, 255])]).toEqual([0, 1]);
    expect(contrast([0, 0, 0], [255, 255, 255])).toBe(21);
    expect(contrast(rgb('#777'), rgb('#777'))).toBe(1);
  });

  it.each([
    // worked by the formula of WCAG 2.2 by hand: pure red, green and blue are the weights themselves
    ['#ff0000', '#ffffff', 1.05 / (0.2126 + 0.05)],
    ['#00ff00', '#000000', (0.7152 + 0.05) / 0.05],
    ['#0000ff', '#ffffff', 1.05 / (0.0722 + 0.05)],
    // Understanding SC 1.4.3: #777777 on white is given as 4.47:1 or so, just short of 4.5:1; #767676 reaches 4.54:1
    // (from memory)
    ['#777777', '#ffffff', 4.478],
    ['#767676', '#ffffff', 4.542],
    // Understanding SC 1.4.11 and common checkers: #949494 on white is 3.03:1 (from memory)
    ['#949494', '#ffffff', 3.03],
  ])('of %s on %s is %d', (a, b, expected) => expect(contrast(rgb(a), rgb(b))).toBeCloseTo(expected, 2));

  it('is reached by as little as that takes, and never overdone', () => {
    fc.assert(
      fc.property(anyColor, fc.constantFrom<Theme>('paper', 'night'), (color, theme) => {
        const grounds = groundsOf(theme);
        const found = standingOut(color, grounds, leastContrast);
        const least = Math.min(...grounds.map((ground) => contrast(found, ground)));
        expect(least).toBeGreaterThanOrEqual(leastContrast);
        if (hexOf(found) !== hexOf(color)) expect(least).toBeLessThan(leastContrast + 0.25);
      }),
    );
  });

  it('reads what is a colour, and nothing else', () => {
    expect([
      parseColor('#09f'),
      parseColor('#0099FF'),
      parseColor('red'),
      parseColor('#12345'),
      parseColor(undefined),
    ]).toEqual([[0, 153, 255], [0, 153, 255], undefined, undefined, undefined]);
    expect(hexOf([0, 153, 255])).toBe('#0099ff');
  });
});

describe('the palette', () => {
  // Okabe & Ito, “Color universal design”, 2008, table of RGB values from 0 to 255
  it('has the published numbers', () => {
    expect(palette.map(({ color }) => rgb(color))).toEqual([
      [0, 0, 0],
      [230, 159, 0],
      [86, 180, 233],
      [0, 158, 115],
      [240, 228, 66],
      [0, 114, 178],
      [213, 94, 0],
      [204, 121, 167],
    ]);
  });

  it('is seen in both themes once it is themed, as the hues of the catalogue are', () => {
    for (const theme of ['paper', 'night'] as const) {
      for (const color of [...palette.map((one) => themed(one.color, theme)!), ...hues[theme]])
        for (const ground of groundsOf(theme))
          expect(contrast(rgb(color), ground)).toBeGreaterThanOrEqual(leastContrast);
    }
    expect(seenOn('#f0e442', 'paper')).toBeLessThan(leastContrast);
    expect(seenOn('#f0e442', 'night')).toBeGreaterThan(leastContrast);
    expect(themed('no colour', 'paper')).toBeUndefined();
  });

  it('leaves ink on frames, and titles on their tabs, legible', () => {
    fc.assert(
      fc.property(anyColor, fc.constantFrom<Theme>('paper', 'night'), (color, theme) => {
        const { fill, edge, onEdge } = frameColors(hexOf(color), theme)!;
        const ink = rgb(theme === 'paper' ? '#26241f' : '#e9e7e2');
        // WCAG 2.2, 1.4.3: 4.5:1 for text
        expect(contrast(ink, rgb(fill))).toBeGreaterThanOrEqual(4.5);
        expect(contrast(rgb(edge), rgb(onEdge))).toBeGreaterThanOrEqual(4.5);
        expect(contrast(rgb(onColor(color)), color)).toBeGreaterThanOrEqual(4.5);
      }),
    );
    expect(frameColors(undefined, 'paper')).toBeUndefined();
  });
});

describe('the scheme', () => {
  const pad = () =>
    sketchDoc()
      .node('a', 'add')
      .node('b', 'add', { color: '#d55e00' })
      .node('c', 'unknown.kind', { color: 'tomato' })
      .frame('f', { color: '#0072b2' })
      .frame('g');

  it('colours by category, a node may have a colour of its own, and what differs is told', () => {
    const scheme = { categories: { math: '#009e73' } };
    const { doc } = pad();
    const [a, b, c] = ['a', 'b', 'c'].map((id) => doc.nodes.get(id)!) as [never, never, never];
    expect(nodeColor(testKinds, a, noScheme, 'paper')).toBe(hues.paper[2]);
    expect(nodeColor(testKinds, a, scheme, 'paper')).toBe(themed('#009e73', 'paper'));
    expect(nodeColor(testKinds, b, scheme, 'night')).toBe(themed('#d55e00', 'night'));
    expect(nodeColor(testKinds, c, scheme, 'paper')).toBe(schemeColor(testKinds, 'unknown.kind', scheme, 'paper'));
    expect([a, b, c].map((node) => differs(testKinds, node, scheme))).toEqual([false, true, false]);
    // the colour that the scheme gives anyway is no difference
    expect(differs(testKinds, b, { categories: { math: '#D55E00' } })).toBe(false);
    expect(legend(doc, testKinds, 'root', scheme)).toEqual({
      rows: [
        { category: 'math', title: 'Mathematics', hue: 2, nodes: ['a', 'b'], differing: ['b'] },
        { category: 'unknown', title: 'Unknown', hue: 0, nodes: ['c'], differing: [] },
      ],
      frames: ['f'],
    });
  });
});

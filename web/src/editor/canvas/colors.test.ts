import { hues, type Theme } from '@basitax/core/inspect/sketch-colors';
import { catalogue } from '@basitax/demo/catalogue';
import {
  differenceCiede2000,
  filterDeficiencyDeuter,
  filterDeficiencyProt,
  filterDeficiencyTrit,
  type Rgb,
  rgb as toRgb,
} from 'culori';
import { describe, expect, it } from 'vitest';
import { markImage } from './marks.ts';

// Simulation after Machado, Oliveira & Fernandes (2009), full severity; distance after CIEDE2000 (Sharma, Wu & Dalal
// 2005): both by culori.
const distance = differenceCiede2000();
const [protan, deutan, tritan] = [filterDeficiencyProt(1), filterDeficiencyDeuter(1), filterDeficiencyTrit(1)];
const eyes = {
  'no deficiency': (color: Rgb): Rgb => color,
  protanopia: (color: Rgb): Rgb => protan(color),
  deuteranopia: (color: Rgb): Rgb => deutan(color),
  tritanopia: (color: Rgb): Rgb => tritan(color),
};
const rgb = (hex: string): Rgb => toRgb(hex)!;
/**
 * Small marks and thin lines further apart than this are told apart at a glance; about two is just noticeable on large
 * areas (common practice).
 */
const apart = 12;

const nearest = (theme: Theme, a: number, b: number): number =>
  Math.min(...Object.values(eyes).map((see) => distance(see(rgb(hues[theme][a]!)), see(rgb(hues[theme][b]!)))));

describe('type coding for colour-blind eyes', () => {
  it('is measured with the published pairs of CIEDE2000 and with what the deficiencies are known for', () => {
    // Sharma, Wu & Dalal 2005, table 1, pair 1
    const lab = (l: number, a: number, b: number) => ({ mode: 'lab65', l, a, b }) as const;
    expect(distance(lab(50, 2.6772, -79.7751), lab(50, 0, -82.7485))).toBeCloseTo(2.0425, 3);
    // red and green of one lightness fall together without long or middle cones, blue and yellow do not (common
    // practice)
    const [red, green] = [rgb('#b05050'), rgb('#6f7a3a')];
    expect(distance(red, green)).toBeGreaterThan(30);
    expect(distance(eyes.deuteranopia(red), eyes.deuteranopia(green))).toBeLessThan(15);
    expect(distance(eyes.protanopia(rgb('#2040c0')), eyes.protanopia(rgb('#c0b020')))).toBeGreaterThan(50);
  });

  it.each(['paper', 'night'] as const)('has eight hues that are told apart by most eyes in the %s theme', (theme) => {
    for (let a = 0; a < 8; a++)
      for (let b = a + 1; b < 8; b++)
        expect(distance(hues[theme][a]!, hues[theme][b]!), `${a} and ${b}`).toBeGreaterThan(apart);
  });

  it.each(['paper', 'night'] as const)(
    'gives types whose colours some eyes confuse different signs, in the %s theme',
    (theme) => {
      const { types } = catalogue;
      let confused = 0;
      types.forEach((one, i) => {
        for (const other of types.slice(i + 1)) {
          if (one.hue !== other.hue && nearest(theme, one.hue, other.hue) > apart) continue;
          confused++;
          expect(other.sign, `${one.id} and ${other.id}`).not.toBe(one.sign);
        }
      });
      // the rule has work to do: eight hues cannot all be kept apart
      expect(confused).toBeGreaterThan(types.length);
    },
  );

  it('draws each sign as a shape of its own, rings open', () => {
    const signs = [...new Set(catalogue.types.map((type) => type.sign))];
    const shapes = signs.map((sign) => decodeURIComponent(markImage(sign, '#112233', '#fefefe')));
    expect(new Set(shapes).size).toBe(signs.length);
    for (const [i, shape] of shapes.entries()) {
      expect(shape).toContain('stroke="#112233"');
      expect(shape).toContain(signs[i] === 'ring' ? 'fill="#fefefe"' : 'fill="#112233"');
    }
  });
});

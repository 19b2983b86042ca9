import { readFileSync } from 'node:fs';
import { contrast as contrastOf, parseColor } from '@basitax/core/color/contrast';
import { hues, type Theme } from '@basitax/core/inspect/sketch-colors';
import { sheetColors } from '@basitax/core/sheet/colors';
import { describe, expect, it } from 'vitest';

const contrast = (a: string, b: string): number => contrastOf(parseColor(a)!, parseColor(b)!);

const css = readFileSync(new URL('./styles.css', import.meta.url), 'utf8');
const variables = (block: RegExp): Record<string, string> =>
  Object.fromEntries(
    [...(block.exec(css)?.[1] ?? '').matchAll(/--([\w-]+): (#[0-9a-f]{6});/g)].map((match) => [match[1]!, match[2]!]),
  );
const themes: Record<Theme, Record<string, string>> = {
  paper: variables(/:root \{([^}]*)\}/),
  night: variables(/:root\[data-theme="night"\] \{([^}]*)\}/),
};
const onHue: Record<Theme, string> = { paper: '#ffffff', night: '#1a1a1a' };

it.each(['paper', 'night'] as const)('what is printed has the colours of the %s theme', (theme) => {
  const { theme: _theme, hues: _hues, frameEdge, ...own } = sheetColors[theme];
  expect({ ...own, 'frame-edge': frameEdge }).toEqual(
    Object.fromEntries([...Object.keys(own), 'frame-edge'].map((name) => [name, themes[theme][name]])),
  );
});

describe('contrast (WCAG 2.2)', () => {
  it('is computed as the standard says: black on white is 21, and #777777 on white 4.48', () => {
    expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5);
    expect(contrast('#777777', '#ffffff')).toBeCloseTo(4.48, 2);
  });

  it.each(['paper', 'night'] as const)('of text is AA on everything it stands on, in the %s theme', (theme) => {
    const v = themes[theme];
    for (const ground of ['ground', 'panel', 'ticket', 'accent-wash'])
      for (const text of ['ink', 'soft'])
        expect(contrast(v[text]!, v[ground]!), `${text} on ${ground}`).toBeGreaterThanOrEqual(4.5);
    for (const text of ['warn', 'bad', 'good', 'accent'])
      expect(contrast(v[text]!, v.panel!), text).toBeGreaterThanOrEqual(4.5);
    expect(contrast(v['on-accent']!, v.accent!)).toBeGreaterThanOrEqual(4.5);
    // the edge of fields and nodes, and the ring of the focus, are parts one has to see
    for (const part of ['edge', 'accent'])
      for (const ground of ['ground', 'panel'])
        expect(contrast(v[part]!, v[ground]!), `${part} on ${ground}`).toBeGreaterThanOrEqual(3);
  });

  it.each(['paper', 'night'] as const)(
    'of hues is 3:1 on paper and frames, and their letters are AA, in the %s theme',
    (theme) => {
      const v = themes[theme];
      expect(hues[theme]).toHaveLength(8);
      for (const hue of hues[theme]) {
        for (const ground of ['ground', 'frame', 'ticket'])
          expect(contrast(hue, v[ground]!), `${hue} on ${ground}`).toBeGreaterThanOrEqual(3);
        expect(contrast(hue, onHue[theme]), `letters on ${hue}`).toBeGreaterThanOrEqual(4.5);
      }
    },
  );
});

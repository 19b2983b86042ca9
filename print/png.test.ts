import { execFileSync } from 'node:child_process';
import { noScheme } from '@basitax/core/color/scheme';
import type { Doc } from '@basitax/core/document/doc';
import { Kinds } from '@basitax/core/document/kinds';
import { readFile } from '@basitax/core/formats/formats';
import { graphSheet } from '@basitax/core/handover/page';
import { sheetColors } from '@basitax/core/sheet/colors';
import { LetterOutlines } from '@basitax/core/sheet/letters';
import type { Shape, Sheet } from '@basitax/core/sheet/shapes';
import { sheetSvg } from '@basitax/core/sheet/svg';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import pixelmatch from 'pixelmatch';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import { pictureScale, sheetPng } from './png.ts';

const kinds = new Kinds(catalogue);
const sheetOf = (doc: Doc): Sheet => graphSheet(doc, kinds, sheetColors.paper, noScheme);
const svgOf = (sheet: Sheet): string => sheetSvg(sheet, { outlines: new LetterOutlines() });
/** A picture by each of two renderers that nobody here wrote: resvg, and Debian’s librsvg. */
const byResvg = (sheet: Sheet): PNG => PNG.sync.read(Buffer.from(sheetPng(sheet, 1)));
const byLibrsvg = (sheet: Sheet): PNG =>
  PNG.sync.read(execFileSync('rsvg-convert', [], { input: svgOf(sheet), maxBuffer: 1 << 28 }));

const accents = readFile(
  'names.gv',
  'digraph { "Žluťoučký kůň" -> "Smørrebrød på Ærø" -> "¿Qué tal, señor?" -> "Zürich Süd" -> "WWWWWWWWMMMM" }',
  kinds,
).doc;
const docs: [string, Doc][] = [
  ...demoFiles.slice(0, 2).map((file): [string, Doc] => {
    const doc = file.build();
    return [doc.head.title, doc];
  }),
  ['names with accents', accents],
];

const withoutTexts = (shapes: readonly Shape[]): Shape[] =>
  shapes.flatMap((shape): Shape[] =>
    shape.type === 'text' ? [] : shape.type === 'group' ? [{ ...shape, shapes: withoutTexts(shape.shapes) }] : [shape],
  );
/** The rectangles of a sheet, with the places that groups give them. */
const boxes = (
  shapes: readonly Shape[],
  x = 0,
  y = 0,
  scale = 1,
): { x: number; y: number; right: number; bottom: number }[] =>
  shapes.flatMap((shape) => {
    if (shape.type === 'group')
      return boxes(shape.shapes, x + shape.x * scale, y + shape.y * scale, scale * shape.scale);
    if (shape.type !== 'rect') return [];
    const [left, top] = [x + shape.x * scale, y + shape.y * scale];
    return [{ x: left, y: top, right: left + shape.width * scale, bottom: top + shape.height * scale }];
  });

describe('SVG with its texts as outlines', () => {
  it.each(docs)('is the same picture in two renderers: %s', (_id, doc) => {
    const sheet = sheetOf(doc);
    const [one, other] = [byResvg(sheet), byLibrsvg(sheet)];
    const [width, height] = [Math.min(one.width, other.width), Math.min(one.height, other.height)];
    expect([Math.abs(one.width - other.width), Math.abs(one.height - other.height)].every((by) => by <= 1)).toBe(true);
    const cut = (png: PNG): Buffer => {
      const own = new PNG({ width, height });
      PNG.bitblt(png, own, 0, 0, width, height, 0, 0);
      return own.data;
    };
    // edges of lines and letters are smoothed otherwise
    expect(
      pixelmatch(cut(one), cut(other), undefined, width, height, { threshold: 0.3 }) / (width * height),
    ).toBeLessThan(0.002);
  });

  it.each(docs)('keeps every text in its box, in both: %s', (_id, doc) => {
    const sheet = sheetOf(doc);
    const bare = { ...sheet, shapes: withoutTexts(sheet.shapes) };
    // the whole sheet is no box
    const all = boxes(sheet.shapes).filter((box) => box.right - box.x < sheet.width / 2 || sheet.width < 400);
    for (const draw of [byResvg, byLibrsvg]) {
      const [full, empty] = [draw(sheet), draw(bare)];
      let [ink, outside] = [0, 0];
      for (let y = 0; y < full.height; y++)
        for (let x = 0; x < full.width; x++) {
          const at = (y * full.width + x) * 4;
          if (full.data[at] === empty.data[at] && full.data[at + 2] === empty.data[at + 2]) continue;
          ink++;
          if (!all.some((box) => x >= box.x - 1 && x <= box.right && y >= box.y - 1 && y <= box.bottom)) outside++;
        }
      expect(ink).toBeGreaterThan(200);
      expect(outside).toBe(0);
    }
  });

  it('has every letter once, and says each text', () => {
    const svg = svgOf(sheetOf(accents));
    const paths = [...svg.matchAll(/<path id="([^"]+)"/g)].map(([, id]) => id);
    expect(new Set(paths).size).toBe(paths.length);
    expect(svg).toContain('aria-label="Zürich Süd"');
    expect(svg).not.toContain('<text');
    // what no shipped font has stays text, as wide as it was measured
    expect(svgOf(sheetOf(readFile('a.gv', 'digraph { "北京" }', kinds).doc))).toMatch(/<text [^>]*textLength="2000"/);
  });
});

it('makes no picture that is too large', () => {
  const sheet = { width: 200_000, height: 100, ground: '#ffffff', shapes: [] };
  expect(pictureScale(sheet, 1) * sheet.width).toBeLessThanOrEqual(16_384);
  expect(pictureScale({ ...sheet, width: 300 }, 2)).toBe(2);
});

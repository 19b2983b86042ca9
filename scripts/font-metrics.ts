// Reads the advance widths and the outlines of the shipped fonts and writes them where core can use them without a DOM.
// Run it again only when a font package changes: npx tsx scripts/font-metrics.ts
import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
// @ts-expect-error the package ships no types
import opentype from 'opentype.js';

const require = createRequire(new URL('../core/package.json', import.meta.url));
const widthsIn = new URL('../core/document/fonts/', import.meta.url);
const lettersIn = new URL('../core/sheet/letters/', import.meta.url);

/** Advance widths and outlines in thousandths of the font size, by code point, over the given subset files. */
function read(
  pkg: string,
  files: readonly string[],
): { widths: Record<string, number>; outlines: Record<string, string> } {
  const folder = join(dirname(require.resolve(`${pkg}/package.json`)), 'files');
  const widths: Record<string, number> = {};
  const outlines: Record<string, string> = {};
  for (const file of files) {
    const bytes = readFileSync(join(folder, file));
    const font = opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
    for (const code of Object.keys(font.tables.cmap.glyphIndexMap)) {
      const glyph = font.glyphs.get(font.tables.cmap.glyphIndexMap[code]);
      widths[code] ??= Math.round((glyph.advanceWidth / font.unitsPerEm) * 10000) / 10;
      outlines[code] ??= glyph.getPath(0, 0, 1000).toPathData(0);
    }
  }
  return { widths, outlines };
}

for (const [name, pkg, base] of [
  ['regular', '@fontsource/atkinson-hyperlegible', 'atkinson-hyperlegible-%-400-normal.woff'],
  ['bold', '@fontsource/atkinson-hyperlegible', 'atkinson-hyperlegible-%-700-normal.woff'],
  ['mono', '@fontsource/atkinson-hyperlegible-mono', 'atkinson-hyperlegible-mono-%-400-normal.woff'],
] as const) {
  const { widths, outlines } = read(
    pkg,
    ['latin', 'latin-ext'].map((subset) => base.replace('%', subset)),
  );
  writeFileSync(new URL(`${name}.json`, widthsIn), `${JSON.stringify(widths)}\n`);
  writeFileSync(new URL(`${name}.json`, lettersIn), `${JSON.stringify(outlines)}\n`);
  console.log(name, Object.keys(widths).length, 'code points');
}

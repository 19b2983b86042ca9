// Reads the advance widths of the shipped fonts and writes them where core can use them without a DOM.
// Run it again only when a font package changes: npx tsx scripts/font-metrics.ts
import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
// @ts-expect-error the package ships no types
import opentype from 'opentype.js';

const require = createRequire(new URL('../core/package.json', import.meta.url));
const out = new URL('../core/document/fonts/', import.meta.url);

/** Advance widths in thousandths of the font size, by code point, over the given subset files. */
function widths(pkg: string, files: readonly string[]): Record<string, number> {
  const folder = join(dirname(require.resolve(`${pkg}/package.json`)), 'files');
  const table: Record<string, number> = {};
  for (const file of files) {
    const bytes = readFileSync(join(folder, file));
    const font = opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
    for (const code of Object.keys(font.tables.cmap.glyphIndexMap)) {
      const glyph = font.glyphs.get(font.tables.cmap.glyphIndexMap[code]);
      table[code] ??= Math.round((glyph.advanceWidth / font.unitsPerEm) * 10000) / 10;
    }
  }
  return table;
}

for (const [name, pkg, base] of [
  ['regular', '@fontsource/atkinson-hyperlegible', 'atkinson-hyperlegible-%-400-normal.woff'],
  ['bold', '@fontsource/atkinson-hyperlegible', 'atkinson-hyperlegible-%-700-normal.woff'],
  ['mono', '@fontsource/atkinson-hyperlegible-mono', 'atkinson-hyperlegible-mono-%-400-normal.woff'],
] as const) {
  const table = widths(
    pkg,
    ['latin', 'latin-ext'].map((subset) => base.replace('%', subset)),
  );
  writeFileSync(new URL(`${name}.json`, out), `${JSON.stringify(table)}\n`);
  console.log(name, Object.keys(table).length, 'code points');
}

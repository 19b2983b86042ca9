import type { Face } from '../document/metrics.ts';
import { must } from '../must.ts';
import type { Look, Shape, Sheet } from './shapes.ts';

const escapes: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is to go
const unwritable = /[\u0000-\u0008\u000B\u000C\u000E-\u001F\uFFFE\uFFFF]/g;

/** Text as XML and HTML take it; characters that XML 1.0 has no place for are left out. */
export const escaped = (text: string): string =>
  text.replace(unwritable, '').replace(/[&<>"']/g, (character) => must(escapes[character]));

const short = (value: number): string => String(Math.round(value * 100) / 100);

function lookOf({ fill, stroke, width, dash }: Look): string {
  return ` fill="${fill ?? 'none'}"${stroke ? ` stroke="${stroke}"` : ''}${stroke && width !== undefined ? ` stroke-width="${short(width)}"` : ''}${dash ? ` stroke-dasharray="${dash.map(short).join(' ')}"` : ''}`;
}

/** The fonts that are meant, where they are not in the file: what a reader has instead is not far off. */
const families: Readonly<Record<Face, string>> = {
  regular: `font-family="Atkinson Hyperlegible, Verdana, sans-serif"`,
  bold: `font-family="Atkinson Hyperlegible, Verdana, sans-serif" font-weight="700"`,
  mono: `font-family="Atkinson Hyperlegible Mono, monospace"`,
};

function svgShape(shape: Shape, ids: { next: number }): string {
  switch (shape.type) {
    case 'rect':
      return `<rect x="${short(shape.x)}" y="${short(shape.y)}" width="${short(shape.width)}" height="${short(shape.height)}"${lookOf(shape.look)}/>`;
    case 'ellipse':
      return `<ellipse cx="${short(shape.x)}" cy="${short(shape.y)}" rx="${short(shape.rx)}" ry="${short(shape.ry)}"${lookOf(shape.look)}/>`;
    case 'line':
      return `<path d="${shape.points.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${short(x)} ${short(y)}`).join('')}${shape.closed ? 'Z' : ''}"${lookOf(shape.look)}/>`;
    case 'text':
      return `<text x="${short(shape.x)}" y="${short(shape.y)}" ${families[shape.face]} font-size="${short(shape.size)}" fill="${shape.color}"${shape.anchor ? ` text-anchor="${shape.anchor}"` : ''}>${escaped(shape.text)}</text>`;
    case 'group': {
      const inner = shape.shapes.map((one) => svgShape(one, ids)).join('');
      const moved = `<g transform="translate(${short(shape.x)} ${short(shape.y)}) scale(${Math.round(shape.scale * 1e5) / 1e5})">${inner}</g>`;
      if (!shape.clip) return moved;
      const id = `cut${ids.next++}`;
      const { x, y, width, height } = shape.clip;
      return `<clipPath id="${id}"><rect x="${short(x)}" y="${short(y)}" width="${short(width)}" height="${short(height)}"/></clipPath><g clip-path="url(#${id})">${moved}</g>`;
    }
  }
}

/** Fonts as data addresses, by face: put into the file they are there wherever it is opened. */
export type Fonts = Readonly<Partial<Record<Face, string>>>;

export const fontFaces = (fonts: Fonts): string =>
  (Object.entries(fonts) as [Face, string][])
    .map(
      ([face, data]) =>
        `@font-face{font-family:"Atkinson Hyperlegible${face === 'mono' ? ' Mono' : ''}";font-weight:${face === 'bold' ? 700 : 400};src:url(${data}) format("woff")}`,
    )
    .join('');

/**
 * A sheet as SVG 1.1. `unit` says what one of its units is, where it is printed to a size: `pt`. Nothing of it is
 * fetched from anywhere. O(shapes).
 */
export function sheetSvg(
  { width, height, ground, shapes }: Sheet,
  { unit = '', fonts = {}, title = '' }: { unit?: 'pt' | ''; fonts?: Fonts; title?: string } = {},
): string {
  const ids = { next: 1 };
  const style = Object.keys(fonts).length > 0 ? `<style>${fontFaces(fonts)}</style>` : '';
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" version="1.1" width="${short(width)}${unit}" height="${short(height)}${unit}" viewBox="0 0 ${short(width)} ${short(height)}">`,
    title === '' ? '' : `<title>${escaped(title)}</title>`,
    style,
    `<rect width="${short(width)}" height="${short(height)}" fill="${ground}"/>`,
    ...shapes.map((shape) => svgShape(shape, ids)),
    '</svg>\n',
  ].join('\n');
}

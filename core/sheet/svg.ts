import type { Face } from '../document/metrics.ts';
import type { LetterOutlines } from './letters.ts';
import type { Look, Shape, Sheet } from './shapes.ts';
import { escaped, families, short } from './svg-words.ts';

function lookOf({ fill, stroke, width, dash }: Look): string {
  return ` fill="${fill ?? 'none'}"${stroke ? ` stroke="${stroke}"` : ''}${stroke && width !== undefined ? ` stroke-width="${short(width)}"` : ''}${dash ? ` stroke-dasharray="${dash.map(short).join(' ')}"` : ''}`;
}

/** What shapes share while they are written. */
interface Writing {
  next: number;
  readonly outlines: LetterOutlines | undefined;
}

function svgShape(shape: Shape, ids: Writing): string {
  switch (shape.type) {
    case 'rect':
      return `<rect x="${short(shape.x)}" y="${short(shape.y)}" width="${short(shape.width)}" height="${short(shape.height)}"${lookOf(shape.look)}/>`;
    case 'ellipse':
      return `<ellipse cx="${short(shape.x)}" cy="${short(shape.y)}" rx="${short(shape.rx)}" ry="${short(shape.ry)}"${lookOf(shape.look)}/>`;
    case 'line':
      return `<path d="${shape.points.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${short(x)} ${short(y)}`).join('')}${shape.closed ? 'Z' : ''}"${lookOf(shape.look)}/>`;
    case 'text':
      if (ids.outlines) return ids.outlines.of(shape);
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
 * A sheet as SVG 1.1. `unit` says what one of its units is, where it is printed to a size: `pt`. Texts are outlines where
 * `outlines` is given, else text in fonts that are in the file or meant. Nothing of it is fetched from anywhere.
 * O(shapes).
 */
export function sheetSvg(
  { width, height, ground, shapes }: Sheet,
  {
    unit = '',
    fonts = {},
    title = '',
    outlines,
  }: { unit?: 'pt' | ''; fonts?: Fonts; title?: string; outlines?: LetterOutlines | undefined } = {},
): string {
  const writing: Writing = { next: 1, outlines };
  const style = Object.keys(fonts).length > 0 ? `<style>${fontFaces(fonts)}</style>` : '';
  const drawn = shapes.map((shape) => svgShape(shape, writing));
  return [
    `<svg xmlns="http://www.w3.org/2000/svg"${outlines ? ' xmlns:xlink="http://www.w3.org/1999/xlink"' : ''} version="1.1" width="${short(width)}${unit}" height="${short(height)}${unit}" viewBox="0 0 ${short(width)} ${short(height)}">`,
    title === '' ? '' : `<title>${escaped(title)}</title>`,
    style,
    outlines?.definitions() ?? '',
    `<rect width="${short(width)}" height="${short(height)}" fill="${ground}"/>`,
    ...drawn,
    '</svg>\n',
  ].join('\n');
}

import type { Sketch } from '@basitax/core/inspect/sketch';
import { sketchColors, type Theme } from '@basitax/core/inspect/sketch-colors';

/** So many marks are drawn with a bold line around them. */
const mostBold = 80;

/** A sketch as SVG, in the colours of a theme. Only numbers and our own colours go into it. O(sketch). */
export function thumbnailSvg(sketch: Sketch, theme: Theme): string {
  const colors = sketchColors[theme];
  const rects = (flat: readonly number[], step: number, draw: (row: readonly number[]) => string): string => {
    let out = '';
    for (let i = 0; i < flat.length; i += step) out += draw(flat.slice(i, i + step));
    return out;
  };
  // many marks side by side would hide what they mark
  const { marked = [] } = sketch;
  const [apart, stroke] = marked.length / 4 > mostBold ? [0.4, 0.5] : [2, 1.5];
  let wires = '';
  for (let i = 0; i < sketch.wires.length; i += 4)
    wires += `M${sketch.wires[i]} ${sketch.wires[i + 1]}L${sketch.wires[i + 2]} ${sketch.wires[i + 3]}`;
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${sketch.width} ${sketch.height}">`,
    rects(
      sketch.frames,
      4,
      ([x, y, w, h]) =>
        `<rect x="${x}" y="${y}" width="${w}" height="${h}" rx="1.5" fill="${colors.frame}" stroke="${colors.frameEdge}" stroke-width=".6"/>`,
    ),
    `<path d="${wires}" fill="none" stroke="${colors.wire}" stroke-width=".5"/>`,
    rects(
      sketch.nodes,
      5,
      ([x, y, w, h, hue]) =>
        `<rect x="${x}" y="${y}" width="${w}" height="${h}" fill="${colors.hues[hue ?? 0] ?? colors.hues[0]}"/>`,
    ),
    rects(
      marked,
      4,
      ([x = 0, y = 0, w = 0, h = 0]) =>
        `<rect x="${x - apart}" y="${y - apart}" width="${w + 2 * apart}" height="${h + 2 * apart}" rx="${apart}" fill="none" stroke="${colors.mark}" stroke-width="${stroke}"/>`,
    ),
    '</svg>',
  ].join('');
}

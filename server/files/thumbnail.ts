import type { Sketch } from '@basitax/core/inspect/sketch';
import { sketchColors, type Theme } from '@basitax/core/inspect/sketch-colors';

/** A sketch as SVG, in the colours of a theme. Only numbers and our own colours go into it. O(sketch). */
export function thumbnailSvg(sketch: Sketch, theme: Theme): string {
  const colors = sketchColors[theme];
  const rects = (flat: readonly number[], step: number, draw: (row: readonly number[]) => string): string => {
    let out = '';
    for (let i = 0; i < flat.length; i += step) out += draw(flat.slice(i, i + step));
    return out;
  };
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
      sketch.marked ?? [],
      4,
      ([x = 0, y = 0, w = 0, h = 0]) =>
        `<rect x="${x - 2}" y="${y - 2}" width="${w + 4}" height="${h + 4}" rx="2" fill="none" stroke="${colors.mark}" stroke-width="1.5"/>`,
    ),
    '</svg>',
  ].join('');
}

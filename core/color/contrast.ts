import { must } from '../must.ts';
/** Red, green and blue from 0 to 255. */
export type Rgb = readonly [number, number, number];

/** Reads #rgb and #rrggbb; undefined for anything else. */
export function parseColor(text: string | undefined): Rgb | undefined {
  const [, short] = /^#([0-9a-f]{3})$/i.exec(text ?? '') ?? [];
  const [, long] = /^#([0-9a-f]{6})$/i.exec(text ?? '') ?? [];
  const digits = long ?? (short && [...short].map((digit) => digit + digit).join(''));
  if (digits === undefined) return undefined;
  return [0, 2, 4].map((at) => Number.parseInt(digits.slice(at, at + 2), 16)) as unknown as Rgb;
}

export const hexOf = (rgb: Rgb): string =>
  `#${rgb.map((part) => Math.round(part).toString(16).padStart(2, '0')).join('')}`;

/** Relative luminance, 0 to 1 (WCAG 2.2, “relative luminance”, with the threshold 0.04045 of IEC 61966-2-1). */
export function luminance(rgb: Rgb): number {
  const [r, g, b] = rgb.map((part) => {
    const share = part / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  }) as unknown as Rgb;
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** Contrast ratio of two colours, 1 to 21 (WCAG 2.2, “contrast ratio”). */
export function contrast(a: Rgb, b: Rgb): number {
  const [light, dark] = [Math.max(luminance(a), luminance(b)), Math.min(luminance(a), luminance(b))];
  return (light + 0.05) / (dark + 0.05);
}

/** A colour between two: all of the first at 0, all of the second at 1. */
export const mixed = (a: Rgb, b: Rgb, share: number): Rgb =>
  a.map((part, i) => part + (must(b[i]) - part) * share) as unknown as Rgb;

/**
 * The colour nearest to the wanted one, on the way to black or to white, that stands out from every ground by a ratio.
 * The wanted one where it does already.
 */
export function standingOut(wanted: Rgb, grounds: readonly Rgb[], ratio: number): Rgb {
  const least = (color: Rgb): number => Math.min(...grounds.map((ground) => contrast(color, ground)));
  if (least(wanted) >= ratio) return wanted;
  // dark grounds ask for lighter colours, light ones for darker
  const goal: Rgb =
    grounds.reduce((sum, ground) => sum + luminance(ground), 0) / grounds.length > 0.18 ? [0, 0, 0] : [255, 255, 255];
  let [low, high] = [0, 1];
  for (let i = 0; i < 20; i++) {
    const middle = (low + high) / 2;
    if (least(mixed(wanted, goal, middle)) >= ratio) high = middle;
    else low = middle;
  }
  // whole numbers may fall short by a hair
  let found = mixed(wanted, goal, high).map((part) =>
    goal[0] === 0 ? Math.floor(part) : Math.ceil(part),
  ) as unknown as Rgb;
  while (least(found) < ratio && found.some((part, i) => part !== goal[i]))
    found = found.map((part) => Math.max(0, Math.min(255, part + (goal[0] === 0 ? -1 : 1)))) as unknown as Rgb;
  return found;
}

import { parseColor } from '@basitax/core/color/contrast';
import { onColor } from '@basitax/core/color/scheme';
import type { Colors } from './colors.ts';

const inks = new Map<string, string>();

/** Letters on a colour: those of the hues, unless they would not be read. */
export function inkOn(color: string, colors: Colors): string {
  if (colors.hues.includes(color)) return colors.onHue;
  let ink = inks.get(color);
  if (ink === undefined) {
    ink = onColor(parseColor(color) ?? [128, 128, 128]);
    inks.set(color, ink);
  }
  return ink;
}

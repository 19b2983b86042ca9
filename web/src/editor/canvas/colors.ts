import { noScheme, type Scheme } from '@basitax/core/color/scheme';
import { hues, type Theme } from '@basitax/core/inspect/sketch-colors';
import type { SheetColors } from '@basitax/core/sheet/colors';
import { useMemo } from 'react';
import { useTheme } from '../../theme.ts';
import { useScheme } from '../scheme.ts';

/** What the painter draws with; the same values as the style sheet's, read from it. */
export interface Colors extends SheetColors {
  /** Letters on a hue. */
  readonly onHue: string;
  /** The team’s colours by category. */
  readonly scheme: Scheme;
}

export function colorsOf(theme: Theme, scheme: Scheme = noScheme): Colors {
  const style = getComputedStyle(document.documentElement);
  const read = (name: string): string => style.getPropertyValue(`--${name}`).trim();
  return {
    theme,
    ground: read('ground'),
    ticket: read('ticket'),
    ink: read('ink'),
    soft: read('soft'),
    line: read('line'),
    edge: read('edge'),
    frame: read('frame'),
    frameEdge: read('frame-edge'),
    accent: read('accent'),
    warn: read('warn'),
    panel: read('panel'),
    hues: hues[theme],
    onHue: theme === 'paper' ? '#ffffff' : '#1a1a1a',
    scheme,
  };
}

/** The colours of the theme that is shown, with the team’s. */
export function useCanvasColors(): Colors {
  const theme = useTheme((state) => state.theme);
  const scheme = useScheme((state) => state.scheme);
  return useMemo(() => colorsOf(theme, scheme), [theme, scheme]);
}

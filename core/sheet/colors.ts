import { hues, type Theme } from '../inspect/sketch-colors.ts';

export interface SheetColors {
  readonly theme: Theme;
  readonly ground: string;
  readonly panel: string;
  readonly ticket: string;
  readonly ink: string;
  readonly soft: string;
  readonly line: string;
  readonly edge: string;
  readonly frame: string;
  readonly frameEdge: string;
  readonly accent: string;
  readonly warn: string;
  readonly hues: readonly string[];
}

/** The colours of both themes; the style sheet of the application has the same (tested). */
export const sheetColors: Readonly<Record<Theme, SheetColors>> = {
  paper: {
    ...{
      theme: 'paper',
      ground: '#f7f3ea',
      panel: '#fdfaf3',
      ticket: '#fffdf8',
      ink: '#26241f',
      soft: '#5c574c',
      line: '#d8cfbc',
      edge: '#8d8470',
    },
    ...{ frame: '#ece4d2', frameEdge: '#b9ac8f', accent: '#3b4aa8', warn: '#8f3d00', hues: hues.paper },
  },
  night: {
    ...{
      theme: 'night',
      ground: '#1d1d1d',
      panel: '#262626',
      ticket: '#2d2d2d',
      ink: '#e9e7e2',
      soft: '#b3b0a9',
      line: '#454545',
      edge: '#7f7f7f',
    },
    ...{ frame: '#2a2a2a', frameEdge: '#5a5a5a', accent: '#a9b4ff', warn: '#ffb482', hues: hues.night },
  },
};

export type Theme = 'paper' | 'night';

/**
 * The eight hues of categories and types, after Okabe & Ito, “Color universal design” (2008): black, orange, sky blue,
 * bluish green, yellow, blue, vermilion, reddish purple — darkened on paper and lightened at night until each has 3:1
 * against the ground (tested).
 */
export const hues: Record<Theme, readonly string[]> = {
  paper: ['#4a4a48', '#9a6100', '#007a5e', '#1f78a8', '#7d7300', '#0b5394', '#b84a00', '#a3457f'],
  night: ['#b4b4b0', '#e69f00', '#2fbf98', '#6fbfee', '#d8cc3a', '#6ea0ff', '#ef8a4a', '#dd92bd'],
};

/** What thumbnails, and the canvas when far out, are drawn with. */
export const sketchColors: Record<
  Theme,
  { ground: string; frame: string; frameEdge: string; wire: string; mark: string; hues: readonly string[] }
> = {
  paper: {
    ground: '#f7f3ea',
    frame: '#ece4d2',
    frameEdge: '#c9bda2',
    wire: '#a39a87',
    mark: '#3b4aa8',
    hues: hues.paper,
  },
  night: {
    ground: '#1d1d1d',
    frame: '#2a2a2a',
    frameEdge: '#4a4a4a',
    wire: '#6d6d6d',
    mark: '#a9b4ff',
    hues: hues.night,
  },
};

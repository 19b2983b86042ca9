import { create } from 'zustand';

/** What a plain drag on the ground does. */
export type DragTool = 'pan' | 'box' | 'lasso';

const grids = ['points', 'lines', 'none'] as const;
/** How the grid is drawn. */
export type Grid = (typeof grids)[number];
const snaps = ['off', 'neighbours', 'grid'] as const;
/** What nodes in hand snap to. */
type Snap = (typeof snaps)[number];
const gridSteps = [10, 20, 40, 80] as const;

/** How one likes the editor laid out: personal, kept in this browser. */
interface Layout {
  readonly left: 'outline' | undefined;
  /** `auto`: the overview shows itself while nodes lie outside the window. */
  readonly overview: 'auto' | 'on' | 'off';
  /** The order of selection is written on the nodes. */
  readonly order: boolean;
  readonly drag: DragTool;
  readonly grid: Grid;
  /** Lines of the grid are so far apart, in pixels at 100 % zoom. */
  readonly step: number;
  readonly snap: Snap;
}

const usual: Layout = { left: undefined, overview: 'auto', order: false, drag: 'pan', grid: 'points', step: 20, snap: 'neighbours' };
const place = 'basitax.layout';

function stored(): Layout {
  try {
    const value = JSON.parse(localStorage.getItem(place) ?? '{}') as Partial<Layout>;
    return {
      left: value.left === 'outline' ? 'outline' : undefined,
      overview: value.overview === 'on' || value.overview === 'off' ? value.overview : 'auto',
      order: value.order === true,
      drag: 'pan',
      grid: grids.find((one) => one === value.grid) ?? usual.grid,
      step: gridSteps.find((one) => one === value.step) ?? usual.step,
      snap: snaps.find((one) => one === value.snap) ?? usual.snap,
    };
  } catch {
    // what another program left there is no reason not to start
    return usual;
  }
}

export const useLayout = create<Layout>(stored);
useLayout.subscribe((layout) => localStorage.setItem(place, JSON.stringify(layout)));

export const setLayout = (change: Partial<Layout>): void => useLayout.setState(change);
export const toggleOutline = (): void => useLayout.setState((layout) => ({ left: layout.left === 'outline' ? undefined : 'outline' }));
export const toggleOrder = (): void => useLayout.setState((layout) => ({ order: !layout.order }));
/** On, off, or by itself. */
export const turnOverview = (): void => useLayout.setState(({ overview }) => ({ overview: overview === 'auto' ? 'on' : overview === 'on' ? 'off' : 'auto' }));
export const turnDrag = (tool: DragTool): void => useLayout.setState(({ drag }) => ({ drag: drag === tool ? 'pan' : tool }));

const next = <T>(all: readonly T[], one: T): T => all[(all.indexOf(one) + 1) % all.length]!;
/** Points, lines, none. */
export const turnGrid = (): void => useLayout.setState(({ grid }) => ({ grid: next(grids, grid) }));
/** Off, to neighbours, to the grid. */
export const turnSnap = (): void => useLayout.setState(({ snap }) => ({ snap: next(snaps, snap) }));
export const turnStep = (): void => useLayout.setState(({ step }) => ({ step: next<number>(gridSteps, step) }));

import { must } from '@basitax/core/must';
import { create } from 'zustand';

/** What a plain drag does: on the ground it pans or selects; a stroke may begin anywhere. */
export type DragTool = 'pan' | 'box' | 'lasso' | Stroke;
const strokes = ['cut', 'reroute', 'join'] as const;
/** What a drawn line does to what it meets. */
export type Stroke = (typeof strokes)[number];
export const isStroke = (tool: DragTool): tool is Stroke => strokes.some((one) => one === tool);

const grids = ['points', 'lines', 'none'] as const;
/** How the grid is drawn. */
export type Grid = (typeof grids)[number];
const snaps = ['off', 'neighbours', 'grid'] as const;
/** What nodes in hand snap to. */
type Snap = (typeof snaps)[number];
const gridSteps = [10, 20, 40, 80] as const;

const traces = ['selected', 'all', 'off'] as const;
/** Which dashed lines between the ends of remote links are drawn. */
export type Trace = (typeof traces)[number];
const lefts = [
  'outline',
  'beacons',
  'advice',
  'sets',
  'legend',
  'regions',
  'dependencies',
  'leftovers',
  'cost',
  'uses',
  'readability',
  'compare',
  'script',
  'history',
] as const;
/** What stands on the left. */
export type Left = (typeof lefts)[number];

/** How one likes the editor laid out: personal, kept in this browser. */
interface Layout {
  readonly left: Left | undefined;
  readonly trace: Trace;
  /** `auto`: the overview shows itself while nodes lie outside the window. */
  readonly overview: 'auto' | 'on' | 'off';
  /** The order of selection is written on the nodes. */
  readonly order: boolean;
  /** What has another colour than the team’s scheme gives it is marked. */
  readonly differs: boolean;
  /** Acts that would leave inputs without what they take are shown before they are done. */
  readonly asksFirst: boolean;
  readonly drag: DragTool;
  readonly grid: Grid;
  /** Lines of the grid are so far apart, in pixels at 100 % zoom. */
  readonly step: number;
  readonly snap: Snap;
  /** Kinds that stand first when a node is added, and those that were added last, the latest first. */
  readonly favourites: readonly string[];
  readonly recent: readonly string[];
  /** Commands that were chosen by name last, the latest first. */
  readonly used: readonly string[];
}

const usual: Layout = {
  left: undefined,
  trace: 'selected',
  overview: 'auto',
  order: false,
  differs: false,
  asksFirst: true,
  drag: 'pan',
  grid: 'points',
  step: 20,
  snap: 'neighbours',
  favourites: [],
  recent: [],
  used: [],
};
const place = 'basitax.layout';

const texts = (value: unknown): string[] =>
  Array.isArray(value) ? value.filter((one) => typeof one === 'string') : [];

function stored(): Layout {
  try {
    const value = JSON.parse(localStorage.getItem(place) ?? '{}') as Partial<Layout>;
    return {
      left: lefts.find((one) => one === value.left),
      trace: traces.find((one) => one === value.trace) ?? usual.trace,
      overview: value.overview === 'on' || value.overview === 'off' ? value.overview : 'auto',
      order: value.order === true,
      differs: value.differs === true,
      asksFirst: value.asksFirst !== false,
      drag: 'pan',
      grid: grids.find((one) => one === value.grid) ?? usual.grid,
      step: gridSteps.find((one) => one === value.step) ?? usual.step,
      snap: snaps.find((one) => one === value.snap) ?? usual.snap,
      favourites: texts(value.favourites),
      recent: texts(value.recent),
      used: texts(value.used),
    };
  } catch {
    // what another program left there is no reason not to start
    return usual;
  }
}

export const useLayout = create<Layout>(stored);
useLayout.subscribe((layout) => localStorage.setItem(place, JSON.stringify(layout)));

export const setLayout = (change: Partial<Layout>): void => useLayout.setState(change);
export const toggleLeft = (what: Left): void =>
  useLayout.setState((layout) => ({ left: layout.left === what ? undefined : what }));
export const openLeft = (what: Left): void => useLayout.setState({ left: what });
export const toggleDiffers = (): void => useLayout.setState((layout) => ({ differs: !layout.differs }));
export const toggleAsksFirst = (): void => useLayout.setState((layout) => ({ asksFirst: !layout.asksFirst }));
export const toggleOrder = (): void => useLayout.setState((layout) => ({ order: !layout.order }));
/** On, off, or by itself. */
export const turnOverview = (): void =>
  useLayout.setState(({ overview }) => ({ overview: overview === 'auto' ? 'on' : overview === 'on' ? 'off' : 'auto' }));
export const turnDrag = (tool: DragTool): void =>
  useLayout.setState(({ drag }) => ({ drag: drag === tool ? 'pan' : tool }));

const next = <T>(all: readonly T[], one: T): T => must(all[(all.indexOf(one) + 1) % all.length]);
/** Points, lines, none. */
export const turnGrid = (): void => useLayout.setState(({ grid }) => ({ grid: next(grids, grid) }));
/** Of what is selected, all, none. */
export const turnTrace = (): void => useLayout.setState(({ trace }) => ({ trace: next(traces, trace) }));
/** Off, to neighbours, to the grid. */
export const turnSnap = (): void => useLayout.setState(({ snap }) => ({ snap: next(snaps, snap) }));
export const turnStep = (): void => useLayout.setState(({ step }) => ({ step: next<number>(gridSteps, step) }));

const mostRecent = 8;
export const turnFavourite = (kind: string): void =>
  useLayout.setState(({ favourites }) => ({
    favourites: favourites.includes(kind) ? favourites.filter((one) => one !== kind) : [...favourites, kind],
  }));
const ahead = (one: string, all: readonly string[], most: number): readonly string[] =>
  [one, ...all.filter((other) => other !== one)].slice(0, most);
export const noteRecent = (kind: string): void =>
  useLayout.setState(({ recent }) => ({ recent: ahead(kind, recent, mostRecent) }));
export const noteUsed = (command: string): void =>
  useLayout.setState(({ used }) => ({ used: ahead(command, used, 12) }));

import { create } from 'zustand';

/** What a plain drag on the ground does. */
export type DragTool = 'pan' | 'box' | 'lasso';

/** How one likes the editor laid out: personal, kept in this browser. */
interface Layout {
  readonly left: 'outline' | undefined;
  /** `auto`: the overview shows itself while nodes lie outside the window. */
  readonly overview: 'auto' | 'on' | 'off';
  /** The order of selection is written on the nodes. */
  readonly order: boolean;
  readonly drag: DragTool;
}

const usual: Layout = { left: undefined, overview: 'auto', order: false, drag: 'pan' };
const place = 'basitax.layout';

function stored(): Layout {
  try {
    const value = JSON.parse(localStorage.getItem(place) ?? '{}') as Partial<Layout>;
    return {
      left: value.left === 'outline' ? 'outline' : undefined,
      overview: value.overview === 'on' || value.overview === 'off' ? value.overview : 'auto',
      order: value.order === true,
      drag: 'pan',
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

import type { Id } from '@basitax/core/document/ids';
import type { Neighbourhood } from '@basitax/core/inspect/neighbourhood';
import { Cancelled } from '@basitax/core/operation';
import { toast } from 'sonner';
import { drawRunner } from '../work/runner.ts';
import { lookAt, type Surroundings, useEditor, viewControl } from './store.ts';

const { getState, setState } = useEditor;

let latest = 0;

/** Works an area out and lays it out in a worker; the newest wins. */
async function show(
  area: Neighbourhood,
  change: (before: Surroundings | undefined) => Partial<Surroundings> = () => ({}),
  look = true,
): Promise<void> {
  const own = ++latest;
  const state = getState();
  try {
    const found = await drawRunner.run('neighbours', area, { doc: state.doc, catalogue: state.catalogue });
    const now = getState();
    if (own !== latest || now.graph !== area.graph || now.preview) return;
    const before = now.surroundings;
    if (found.ids.length === 0) {
      toast('No nodes would be left in this view.', { duration: 2500 });
      return;
    }
    // what has been placed by hand stays; what is new stands as in the file
    const free = new Map(
      found.ids.map((id) => {
        const { x, y } = now.doc.nodes.get(id) ?? { x: 0, y: 0 };
        return [id, before?.free.get(id) ?? { x, y }] as const;
      }),
    );
    setState({
      surroundings: {
        area,
        ids: found.ids,
        mode: before?.mode ?? 'automatic',
        automatic: found.places,
        free,
        back: before?.back ?? now.view,
        ...change(before),
      },
    });
    if (look) lookAt('all');
  } catch (error) {
    if (!(error instanceof Cancelled)) throw error;
  }
}

/** Shows the selection with what is wired to it, one step each way. */
export function openNeighbourhood(): void {
  const { doc, graph, selection, surroundings } = getState();
  if (surroundings) {
    closeNeighbourhood();
    return;
  }
  const from = selection.filter((id) => doc.nodes.has(id));
  if (from.length === 0) toast('Neighbourhood: Select a node first.', { duration: 3500 });
  else void show({ graph, from, up: 1, down: 1, grown: [], pruned: [] });
}

export function closeNeighbourhood(): void {
  const { surroundings } = getState();
  if (!surroundings) return;
  setState({ surroundings: undefined });
  viewControl.set(surroundings.back);
}

const withArea = (change: (area: Neighbourhood, selection: readonly Id[]) => Neighbourhood): void => {
  const { surroundings, selection } = getState();
  if (surroundings) void show(change(surroundings.area, selection));
};

/** A step more or less, towards inputs or outputs. */
export const deepen = (direction: 'up' | 'down', by: 1 | -1): void =>
  withArea((area) => ({ ...area, [direction]: Math.max(0, area[direction] + by), ...(by < 0 && { grown: [] }) }));

/** Adds what is wired to the selected nodes. */
export const grow = (): void =>
  withArea((area, selection) => ({
    ...area,
    grown: [...area.grown, ...selection],
    pruned: area.pruned.filter((id) => !selection.includes(id)),
  }));

/** Takes the selected nodes out of the view, and what lies only behind them. */
export const prune = (): void =>
  withArea((area, selection) => ({ ...area, pruned: [...new Set([...area.pruned, ...selection])] }));

/** Keeps the view up with the document: what is wired or deleted comes and goes. Returns a way to stop. */
export function followNeighbourhood(): () => void {
  return useEditor.subscribe((state, before) => {
    if (
      state.surroundings &&
      state.doc !== before.doc &&
      (state.doc.wires !== before.doc.wires || state.doc.nodes.size !== before.doc.nodes.size)
    )
      void show(state.surroundings.area, undefined, false);
  });
}

/** From its own layout to the free places and back; neither is lost. */
export function switchPlaces(): void {
  const { surroundings } = getState();
  if (!surroundings) return;
  setState({ surroundings: { ...surroundings, mode: surroundings.mode === 'automatic' ? 'free' : 'automatic' } });
  lookAt('all');
}

/** Moves nodes in the view alone. False where no neighbourhood is open. */
export function moveInView(ids: Iterable<Id>, dx: number, dy: number): boolean {
  const { surroundings } = getState();
  if (!surroundings) return false;
  if (surroundings.mode === 'automatic') {
    toast('This view places its nodes automatically. Switch to free places to move them.', { duration: 3500 });
    return true;
  }
  const free = new Map(surroundings.free);
  for (const id of ids) {
    const at = free.get(id);
    if (at) free.set(id, { x: at.x + dx, y: at.y + dy });
  }
  setState({ surroundings: { ...surroundings, free } });
  return true;
}

import type { Id } from '@basitax/core/document/ids';
import { must } from '@basitax/core/must';
import { Cancelled } from '@basitax/core/operation';
import { foldedView } from '@basitax/core/structure/fold';
import { create } from 'zustand';
import { drawRunner } from '../../work/runner.ts';
import { shownDoc, useEditor } from '../store.ts';
import type { KnownRoute } from './scene.ts';

interface Routes {
  readonly routes: ReadonlyMap<Id, KnownRoute>;
  /** Are they those of what is shown now? */
  readonly isCurrent: boolean;
}

/**
 * Routes as the worker found them; a scene uses those that still fit its nodes. Replaced as a whole, so that scenes can
 * be told apart.
 */
export const useRoutes = create<Routes>(() => ({ routes: new Map(), isCurrent: false }));

const wait = 60;

/**
 * Keeps routes up with the document that is shown: asks the worker once it has stood still for a moment. What is being
 * routed is never broken off by an act: the worker keeps what it knows and is told the edit. Of an answer to an older
 * state a scene takes what still fits. Returns a way to stop.
 */
export function followRoutes(): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const abort = new AbortController();
  let [isAsking, isOutdated] = [false, false];
  const ask = async (): Promise<void> => {
    if (isAsking) {
      isOutdated = true;
      return;
    }
    isAsking = true;
    isOutdated = false;
    await askNow();
    isAsking = false;
    if (isOutdated && !abort.signal.aborted) await ask();
    else useRoutes.setState({ isCurrent: timer === undefined });
  };
  const askNow = async (): Promise<void> => {
    const state = useEditor.getState();
    const shown = shownDoc(state);
    const doc = foldedView(shown, state.kinds);
    try {
      const found = await drawRunner.run(
        'routes',
        { graph: state.graph },
        { doc: shown, catalogue: state.catalogue, signal: abort.signal },
      );
      const routes = new Map<Id, KnownRoute>();
      found.ids.forEach((id, i) => {
        const wire = doc.wires.get(id);
        const [from, to] = [wire && doc.nodes.get(wire.from.node), wire && doc.nodes.get(wire.to.node)];
        if (from && to)
          routes.set(id, {
            from,
            to,
            corners: found.corners,
            start: must(found.start[i]) * 2,
            end: must(found.start[i + 1]) * 2,
          });
      });
      useRoutes.setState({ routes });
    } catch (error) {
      // elbows stay where routes cannot be had
      if (!(error instanceof Cancelled)) console.error('Routes could not be computed', error);
    }
  };
  const stop = useEditor.subscribe((state, before) => {
    const [now, then] = [shownDoc(state), shownDoc(before)];
    if (
      now.nodes === then.nodes &&
      now.wires === then.wires &&
      now.graphs === then.graphs &&
      now.head === then.head &&
      now.frames === then.frames &&
      state.graph === before.graph
    )
      return;
    clearTimeout(timer);
    timer = setTimeout(() => {
      timer = undefined;
      void ask();
    }, wait);
    useRoutes.setState({ isCurrent: false });
  });
  void ask();
  return () => {
    stop();
    clearTimeout(timer);
    abort.abort();
  };
}

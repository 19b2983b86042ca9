import type { Review } from '@basitax/core/inspect/review';
import { must } from '@basitax/core/must';
import { Cancelled } from '@basitax/core/operation';
import type { Advice, Candidate, Figures } from '@basitax/core/remote/advice';
import { useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { adviceRunner, measureRunner } from '../../work/runner.ts';
import type { Editing } from '../store.ts';

// The figures of the advice, made in workers while one reads and chooses: the list, the sum of what is chosen, each row
// by itself.

export const keyOf = (one: Candidate): string => must(one.wires[0]);

/** A toggle is followed by the next one before anything is measured, in milliseconds. */
const patience = 350;

/** Begins something in a moment; the way to end it is given back. What goes wrong, other than being ended, is told. */
function soon(run: (signal: AbortSignal) => Promise<void>, failed: (message: string) => void): () => void {
  const abort = new AbortController();
  const timer = setTimeout(
    () =>
      void run(abort.signal).catch((error: unknown) => error instanceof Cancelled || failed((error as Error).message)),
    patience,
  );
  return () => {
    clearTimeout(timer);
    abort.abort();
  };
}

/** The advice on what is shown now, made anew when the graph changes. */
export function useAdvice(
  { doc, graph, catalogue }: Editing,
  share: number,
): { advice?: Advice; problem?: string; fraction: number } {
  const [made, setMade] = useState<{ advice?: Advice; problem?: string; fraction: number }>({ fraction: 0 });
  useEffect(() => {
    setMade({ fraction: 0 });
    return soon(
      async (signal) => {
        const onProgress = ({ fraction }: { fraction: number }): unknown => !signal.aborted && setMade({ fraction });
        const advice = await adviceRunner.run(
          'advice',
          { graph, share, at: [] },
          { doc, catalogue, signal, onProgress },
        );
        setMade({ advice, fraction: 1 });
      },
      (problem) => setMade({ problem, fraction: 1 }),
    );
  }, [doc, graph, catalogue, share]);
  return made;
}

/**
 * What the chosen ones do together: really done on a copy, routed and measured. A sentence where that cannot be done,
 * undefined while it goes on.
 */
export function useSum(
  { doc, graph, catalogue, preview }: Editing,
  links: readonly object[],
): Review | string | undefined {
  const [sum, setSum] = useState<{ for: string; review: Review | string }>();
  const key = useMemo(() => JSON.stringify(links), [links]);
  const isIdle = preview !== undefined;
  useEffect(() => {
    setSum(undefined);
    if (key === '[]' || isIdle) return;
    return soon(
      async (signal) => {
        const input = {
          operation: 'to-links',
          selection: { graph, items: [] },
          options: { links: JSON.parse(key) },
          seed: 1,
          review: true,
        };
        const { review } = await adviceRunner.run('plan', input, { doc, catalogue, signal });
        if (review) setSum({ for: key, review });
      },
      (problem) => setSum({ for: key, review: problem }),
    );
  }, [key, doc, graph, catalogue, isIdle]);
  return key === '[]' ? 'none' : sum?.for === key ? sum.review : undefined;
}

const nothing: ReadonlyMap<string, Figures> = new Map();

/**
 * What each candidate saves in truth, as far as it was measured by now: one after the other while nothing else is
 * wanted, each alone on a copy that is routed.
 */
export function useMeasured(
  { doc, graph, catalogue }: Editing,
  candidates: readonly Candidate[] | undefined,
  isBusy: boolean,
): ReadonlyMap<string, Figures> {
  const [measured, setMeasured] = useState<{
    for: typeof candidates;
    before?: Figures;
    saves: ReadonlyMap<string, Figures>;
  }>({ for: undefined, saves: nothing });
  // biome-ignore lint/correctness/useExhaustiveDependencies: candidates belong to the document that they were made for
  useEffect(() => {
    if (!candidates || isBusy) return;
    const all = async (signal: AbortSignal): Promise<void> => {
      const run = (links: readonly object[]): Promise<Figures> =>
        measureRunner.run('measureLinks', { graph, links }, { doc, catalogue, signal });
      const known = measured.for === candidates ? measured : { for: candidates, saves: nothing };
      const saves = new Map(known.saves);
      const before = known.before ?? (await run([]));
      for (const one of candidates) {
        if (saves.has(keyOf(one))) continue;
        const after = await run([{ from: one.from, wires: one.wires }]);
        saves.set(keyOf(one), {
          crossings: before.crossings - after.crossings,
          length: before.length - after.length,
          windows: before.windows - after.windows,
        });
        setMeasured({ for: candidates, before, saves: new Map(saves) });
      }
    };
    // what was found on the plain copy stays
    return soon(all, (description) => toast.error('The advice could not be measured', { description }));
  }, [candidates, isBusy]);
  return measured.for === candidates ? measured.saves : nothing;
}

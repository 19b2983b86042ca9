import { caption } from '@basitax/core/document/doc';
import { nameProblem } from '@basitax/core/document/names';
import type { Review } from '@basitax/core/inspect/review';
import { Cancelled } from '@basitax/core/operation';
import type { Advice, Candidate, Figures } from '@basitax/core/remote/advice';
import { X } from 'lucide-react';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../ui/controls.tsx';
import { adviceRunner, measureRunner } from '../../work/runner.ts';
import { perform } from '../actions.ts';
import { focusCanvas } from '../dialogs.ts';
import { toggleLeft } from '../layout.ts';
import { type Editing, select, useEditing } from '../store.ts';

const keyOf = (one: Candidate): string => one.wires[0]!;
/** A toggle is followed by the next one before anything is measured, in milliseconds. */
const patience = 350;

/** The advice on what is shown now, made in a worker and anew when the graph changes. */
function useAdvice({ doc, graph, catalogue }: Editing, share: number): { advice?: Advice; problem?: string; fraction: number } {
  const [made, setMade] = useState<{ advice?: Advice; problem?: string; fraction: number }>({ fraction: 0 });
  useEffect(() => {
    const abort = new AbortController();
    setMade({ fraction: 0 });
    const timer = setTimeout(() => {
      adviceRunner
        .run(
          'advice',
          { graph, share, at: [] },
          { doc, catalogue, signal: abort.signal, onProgress: ({ fraction }) => !abort.signal.aborted && setMade((old) => (old.advice ? old : { fraction })) },
        )
        .then(
          (advice) => !abort.signal.aborted && setMade({ advice, fraction: 1 }),
          (error: unknown) => error instanceof Cancelled || setMade({ problem: (error as Error).message, fraction: 1 }),
        );
    }, patience);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [doc, graph, catalogue, share]);
  return made;
}

/** What the chosen ones do together: really done on a copy, routed and measured. */
function useSum({ doc, graph, catalogue, preview }: Editing, links: readonly object[]): Review | 'none' | undefined {
  const [sum, setSum] = useState<{ for: string; review: Review }>();
  const key = useMemo(() => JSON.stringify(links), [links]);
  const isIdle = preview !== undefined;
  useEffect(() => {
    setSum(undefined);
    if (key === '[]' || isIdle) return;
    const abort = new AbortController();
    const timer = setTimeout(() => {
      adviceRunner
        .run(
          'plan',
          { operation: 'to-links', selection: { graph, items: [] }, options: { links: JSON.parse(key) }, seed: 1, review: true },
          { doc, catalogue, signal: abort.signal },
        )
        .then(
          ({ review }) => !abort.signal.aborted && review && setSum({ for: key, review }),
          (error: unknown) => {
            if (!(error instanceof Cancelled)) setSum(undefined);
          },
        );
    }, patience);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [key, doc, graph, catalogue, isIdle]);
  return key === '[]' ? 'none' : sum?.for === key ? sum.review : undefined;
}

/** What each candidate saves in truth, as far as it was measured by now: one after the other while nothing else is wanted, each alone on a copy that is routed. */
function useMeasured({ doc, graph, catalogue }: Editing, candidates: readonly Candidate[] | undefined, isBusy: boolean): ReadonlyMap<string, Figures> {
  const [measured, setMeasured] = useState<{ for: typeof candidates; before?: Figures; saves: ReadonlyMap<string, Figures> }>({ for: undefined, saves: nothing });
  // biome-ignore lint/correctness/useExhaustiveDependencies: candidates belong to the document that they were made for
  useEffect(() => {
    if (!candidates || isBusy) return;
    const abort = new AbortController();
    const run = (links: readonly object[]): Promise<Figures> => measureRunner.run('measureLinks', { graph, links }, { doc, catalogue, signal: abort.signal });
    const all = async (): Promise<void> => {
      const known = measured.for === candidates ? measured : { for: candidates, saves: nothing };
      const saves = new Map(known.saves);
      const before = known.before ?? (await run([]));
      for (const one of candidates) {
        if (saves.has(keyOf(one))) continue;
        const after = await run([{ from: one.from, wires: one.wires }]);
        saves.set(keyOf(one), { crossings: before.crossings - after.crossings, length: before.length - after.length, windows: before.windows - after.windows });
        setMeasured({ for: candidates, before, saves: new Map(saves) });
      }
    };
    all().catch((error: unknown) => {
      // what was found on the plain copy stays
      if (!(error instanceof Cancelled)) toast.error('The advice could not be measured', { description: (error as Error).message });
    });
    return () => abort.abort();
  }, [candidates, isBusy]);
  return measured.for === candidates ? measured.saves : nothing;
}

const nothing: ReadonlyMap<string, Figures> = new Map();

const less = (n: number): string => (n > 0 ? `−${n.toLocaleString('en')}` : n < 0 ? `+${(-n).toLocaleString('en')}` : '0');
const metres = (px: number): string => (Math.abs(px) >= 10_000 ? `${less(Math.round(px / 1000))}k` : less(px));

/** Which wires hurt most, what turning them into remote links saves, and the sum of those that are chosen. */
export function AdvicePanel(): ReactNode {
  const state = useEditing();
  const [percent, setPercent] = useState(15);
  const { advice, problem, fraction } = useAdvice(state, percent / 100);
  const [turned, setTurned] = useState<ReadonlySet<string>>(new Set());
  const [names, setNames] = useState<Readonly<Record<string, string>>>({});
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new advice begins anew
  useEffect(() => {
    setTurned(new Set());
    setNames({});
  }, [advice]);
  const isChosen = (one: Candidate): boolean => one.isAdvised !== turned.has(keyOf(one));
  const links = useMemo(
    () =>
      (advice?.candidates ?? [])
        .filter((one) => one.isAdvised !== turned.has(keyOf(one)))
        .map((one) => ({ from: one.from, wires: one.wires, name: names[keyOf(one)] ?? one.name })),
    [advice, turned, names],
  );
  const wrong = (one: Candidate): string | undefined => nameProblem(state.doc, state.graph, names[keyOf(one)] ?? one.name);
  const bad = (advice?.candidates ?? []).filter(isChosen).map(wrong).find(Boolean);
  const count = links.reduce((sum, link) => sum + link.wires.length, 0);
  const sum = useSum(state, bad ? [] : links);
  const measured = useMeasured(state, advice?.candidates, sum === undefined || state.preview !== undefined);
  const locked = state.readOnly ?? (state.preview ? 'Apply or drop the preview first.' : undefined);
  return (
    <aside aria-label="Advice on remote links" className="flex w-88 shrink-0 flex-col border-r border-line bg-panel text-sm">
      <header className="flex items-center gap-2 px-3 pt-2.5">
        <h2 className="font-bold">Advice</h2>
        <span className="text-xs text-soft">wires that would better be remote links</span>
        <Button look="quiet" square className="ml-auto" aria-label="Hide the advice" onClick={() => toggleLeft('advice')}>
          <X size={15} />
        </Button>
      </header>
      <label className="flex items-center gap-2 px-3 py-2">
        <span className="text-soft">At most</span>
        <input type="range" min={1} max={50} value={percent} className="min-w-0 flex-1 accent-accent" onChange={(event) => setPercent(Number(event.target.value))} />
        <span className="w-24 text-right whitespace-nowrap tabular-nums">{percent} % of wires</span>
      </label>
      {problem ? (
        <p role="alert" className="px-3 text-warn">
          {problem}
        </p>
      ) : !advice ? (
        <p className="flex items-center gap-2 px-3" role="status">
          Weighing wires … <progress className="h-2 flex-1 accent-accent" value={fraction} max={1} aria-label="Weighing wires" />
        </p>
      ) : advice.candidates.length === 0 ? (
        <p className="px-3 text-soft">No wire here hurts so much that a remote link would pay.</p>
      ) : (
        <Rows
          candidates={advice.candidates}
          state={state}
          isChosen={isChosen}
          measured={measured}
          nameOf={(one) => names[keyOf(one)] ?? one.name}
          wrong={wrong}
          onName={(one, name) => setNames((old) => ({ ...old, [keyOf(one)]: name }))}
          onTurn={(one) =>
            setTurned((old) => {
              const next = new Set(old);
              if (!next.delete(keyOf(one))) next.add(keyOf(one));
              return next;
            })
          }
        />
      )}
      {advice && advice.candidates.length > 0 && (
        <footer className="mt-auto flex flex-col gap-2 border-t border-line px-3 py-2.5">
          <p>
            {links.length.toLocaleString('en')} chosen: {count.toLocaleString('en')} of {advice.wires.toLocaleString('en')} wires,{' '}
            {((100 * count) / Math.max(1, advice.wires)).toFixed(1)} %
          </p>
          <Sum sum={sum} />
          {bad && (
            <p role="alert" className="text-xs text-warn">
              {bad}
            </p>
          )}
          <Button
            look="primary"
            dim={locked ?? bad ?? (links.length === 0 ? 'Choose at least one.' : undefined)}
            onClick={() => {
              focusCanvas();
              void perform('to-links', { links }, []);
            }}
          >
            Show what it does
          </Button>
        </footer>
      )}
    </aside>
  );
}

function Sum({ sum }: { sum: Review | 'none' | undefined }): ReactNode {
  if (sum === 'none') return null;
  if (!sum)
    return (
      <p role="status" className="h-16 text-soft">
        Measuring what they do together …
      </p>
    );
  const rows = [
    ['crossings', sum.before.crossings, sum.after.crossings],
    ['wire length, px', sum.before.length, sum.after.length],
    ['windows spanned', sum.before.windows, sum.after.windows],
  ] as const;
  return (
    <table className="h-16 text-sm tabular-nums" aria-label="What they do together">
      <tbody>
        {rows.map(([title, before, after]) => (
          <tr key={title}>
            <td className="text-soft">{title}</td>
            <td className="text-right font-mono text-xs">{before.toLocaleString('en')}</td>
            <td aria-hidden="true" className="px-1">
              →
            </td>
            <td className={`text-right font-mono text-xs ${after < before ? 'font-bold text-good' : ''}`}>{after.toLocaleString('en')}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Checkbox, wires, and three figures. */
const columns = 'grid grid-cols-[1.5rem_1fr_4.2rem_4.2rem_3.6rem] items-baseline gap-x-1.5';

function Rows({
  candidates,
  state,
  isChosen,
  measured,
  nameOf,
  wrong,
  onName,
  onTurn,
}: {
  candidates: readonly Candidate[];
  state: Editing;
  isChosen: (one: Candidate) => boolean;
  measured: ReadonlyMap<string, Figures>;
  nameOf: (one: Candidate) => string;
  wrong: (one: Candidate) => string | undefined;
  onName: (one: Candidate, name: string) => void;
  onTurn: (one: Candidate) => void;
}): ReactNode {
  return (
    <div className="min-h-0 flex-1 overflow-auto px-3">
      <p className="pb-1 text-xs text-soft">
        What each saves by itself: ≈ as found with wires that run plainly, until it is measured on a copy that is routed. Click its wires to see them.
      </p>
      <div aria-hidden="true" className={`${columns} border-b border-line pb-0.5 text-xs text-soft`}>
        <span />
        <span />
        <span className="text-right">crossings</span>
        <span className="text-right">length, px</span>
        <span className="text-right">windows</span>
      </div>
      <ul>
        {candidates.map((one) => {
          const source = state.doc.nodes.get(one.from.node);
          const from = source ? caption(source) : '';
          const problem = isChosen(one) ? wrong(one) : undefined;
          const exact = measured.get(keyOf(one));
          const saves = exact ?? one.saves;
          const look = `text-right font-mono text-xs ${exact ? '' : 'text-soft'}`;
          const about = exact ? '' : '≈';
          return (
            <li key={keyOf(one)} className={`${columns} border-b border-line py-1 tabular-nums`}>
              <input type="checkbox" className="size-4 self-center accent-accent" aria-label={`Choose ${nameOf(one)}`} checked={isChosen(one)} onChange={() => onTurn(one)} />
              <input
                aria-label={`Name of the beacon of ${from}`}
                aria-invalid={problem !== undefined}
                className={`col-span-4 h-6 min-w-0 truncate rounded-sm border bg-transparent px-1 font-bold hover:border-line focus:bg-ticket ${problem ? 'border-warn' : 'border-transparent'}`}
                value={nameOf(one)}
                onChange={(event) => onName(one, event.target.value)}
              />
              <button
                type="button"
                className="col-start-2 min-w-0 truncate px-1 text-left text-xs text-soft hover:underline"
                title={`Show these wires: ${one.wires.length} of ${one.of} of ${from}`}
                aria-label={`Show ${one.wires.length} of ${one.of} wires of ${from}`}
                onClick={() => select(one.wires)}
              >
                {one.wires.length.toLocaleString('en')} of {one.of.toLocaleString('en')} wires
              </button>
              <span className={look}>
                {about}
                {less(saves.crossings)}
              </span>
              <span className={look}>
                {about}
                {metres(saves.length)}
              </span>
              <span className={look}>
                {about}
                {less(saves.windows)}
              </span>
            </li>
          );
        })}
      </ul>
    </div>
  );
}

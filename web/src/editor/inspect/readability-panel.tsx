import { type FaultType, scoring } from '@basitax/core/inspect/faults';
import type { Place, Readability } from '@basitax/core/inspect/readability';
import type { Tried } from '@basitax/core/inspect/remedies';
import { Cancelled } from '@basitax/core/operation';
import { operationById } from '@basitax/core/operations';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { Button, Check } from '../../ui/controls.tsx';
import { adviceRunner, measureRunner } from '../../work/runner.ts';
import { perform, whyNot } from '../actions.ts';
import { SidePanel } from '../panels/side.tsx';
import { type Editing, showGraph, useEditing } from '../store.ts';
import { showMarks } from './marks.ts';
import { Part, Waiting } from './parts.tsx';
import { goToPlace, useTask } from './use-task.ts';

const few: Readonly<Record<FaultType, readonly [string, string]>> = {
  crossing: ['crossing', 'crossings'],
  through: ['wire through a node', 'wires through nodes'],
  overlap: ['overlap', 'overlaps'],
  cover: ['frame or note on others', 'frames or notes on others'],
  near: ['pair of wires too near', 'pairs of wires too near'],
  far: ['window crossed', 'windows crossed'],
  fit: ['zoom lost', 'zooms lost'],
  bend: ['bend', 'bends'],
  backward: ['backward wire', 'backward wires'],
  unnamed: ['thing without a name', 'things without a name'],
  order: ['number out of order', 'numbers out of order'],
  alike: ['node unlike the same one elsewhere', 'nodes unlike the same ones elsewhere'],
};

const number = (value: number): string => (Number.isInteger(value) ? value.toLocaleString('en') : value.toFixed(1));
const counted = (type: FaultType, count: number): string => `${number(count)} ${few[type][count === 1 ? 0 : 1]}`;

/**
 * How hard the graph is to read: a score, what it is made of, and the places where most of it is lost, with what would
 * help.
 */
export function ReadabilityPanel(): ReactNode {
  const state = useEditing();
  const { doc, graph } = state;
  // the worker that routes has the routes already
  const { answer, problem, isStale } = useTask('report', { graph }, adviceRunner);
  const [at, setAt] = useState<number>();
  // what was found in another state of the document says nothing of this one
  const tried = useTried(state, isStale ? undefined : answer, at);
  const whole = answer && tried.get(answer);
  const [shown, setShown] = useState(true);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another report has other places
  useEffect(() => setAt(undefined), [graph]);
  useEffect(() => {
    showMarks(shown && answer ? { places: answer.places.map((place) => place.rect), place: at } : undefined);
    return () => showMarks();
  }, [answer, shown, at]);
  return (
    <SidePanel
      id="readability"
      title="Readability"
      about={`How hard “${doc.graphs.get(graph)?.name ?? graph}” is to read, of 100 points.`}
    >
      {!answer ? (
        <Waiting problem={problem} what="Routing and measuring" />
      ) : (
        <>
          <Score report={answer} isStale={isStale} />
          <Part title="The worst places" aside={answer.places.length === 0 ? '' : 'points lost'}>
            <Check label="Show them on the canvas" checked={shown} onChange={setShown} />
            {Array.isArray(whole) &&
              whole.map((remedy: Tried) => (
                <Help key={remedy.operation} remedy={remedy} where="Everywhere" state={state} />
              ))}
            {answer.places.length === 0 && <p className="text-soft">No problems found.</p>}
            <ol aria-label="The worst places">
              {answer.places.map((place, i) => (
                <PlaceRow
                  key={`${place.rect.x} ${place.rect.y}`}
                  place={place}
                  turn={i + 1}
                  tried={tried.get(place)}
                  state={state}
                  onGo={() => {
                    setAt(i);
                    goToPlace(graph, place.rect, place.nodes);
                  }}
                />
              ))}
            </ol>
          </Part>
          <Part title="Measures of Purchase (2002)" aside="0 to 1, 1 is best">
            <dl className="grid grid-cols-[1fr_auto] tabular-nums">
              {(
                [
                  ['Crossings', answer.purchase.crossings],
                  ['Bends', answer.purchase.bends],
                  ['Orthogonality', answer.purchase.orthogonality],
                  ['Flow in one direction', answer.purchase.flow],
                ] as const
              ).map(([title, value]) => (
                <div key={title} className="contents">
                  <dt className="text-soft">{title}</dt>
                  <dd className="text-right font-mono text-xs">{value.toFixed(3)}</dd>
                </div>
              ))}
            </dl>
          </Part>
        </>
      )}
    </SidePanel>
  );
}

function Score({ report, isStale }: { report: Readability; isStale: boolean }): ReactNode {
  return (
    <>
      <p className="flex items-baseline gap-2">
        <span className="text-3xl font-bold tabular-nums" data-score>
          {report.score.toFixed(1)}
        </span>
        <span className="text-soft">of 100{isStale ? ', measuring anew …' : ''}</span>
      </p>
      <table className="tabular-nums" aria-label="What the score is made of">
        <thead className="text-xs text-soft">
          <tr>
            <th className="text-left font-normal">What</th>
            <th className="text-right font-normal">how many</th>
            <th className="text-right font-normal">points</th>
          </tr>
        </thead>
        <tbody>
          {report.parts.map((part) => (
            <tr key={part.type} className="border-b border-line">
              <td className="py-0.5">
                {scoring[part.type].title}
                <span className="mt-0.5 block h-1 bg-line" aria-hidden="true">
                  <span className="block h-1 bg-accent" style={{ width: `${(100 * part.points) / part.of}%` }} />
                </span>
              </td>
              <td
                className="text-right align-top font-mono text-xs"
                title={`${part.rate.toFixed(3)} per ${scoring[part.type].per}`}
              >
                {number(part.count)}
              </td>
              <td className="pl-2 text-right align-top font-mono text-xs whitespace-nowrap">
                {part.points.toFixed(1)} of {part.of}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function PlaceRow({
  place,
  turn,
  tried,
  state,
  onGo,
}: {
  place: Place;
  turn: number;
  tried: readonly Tried[] | 'trying' | undefined;
  state: Editing;
  onGo: () => void;
}): ReactNode {
  return (
    <li className="flex flex-col gap-1 border-b border-line py-1.5">
      <button type="button" className="flex items-baseline gap-2 text-left hover:underline" onClick={onGo}>
        <span className="w-5 shrink-0 text-right font-bold">{turn}</span>
        <span className="min-w-0 flex-1">
          {place.faults
            .slice(0, 3)
            .map((fault) => counted(fault.type, fault.count))
            .join(', ')}
        </span>
        <span className="shrink-0 font-mono text-xs">−{place.lost.toFixed(1)}</span>
      </button>
      <div className="ml-7 flex flex-col items-start gap-1 text-xs text-soft">
        {tried === undefined && <span>Go there and try what would help.</span>}
        {tried === 'trying' && <span role="status">Trying what would help …</span>}
        {Array.isArray(tried) && tried.length === 0 && <span>Nothing that was tried improves the score.</span>}
        {Array.isArray(tried) &&
          tried
            .slice(0, 2)
            .map((remedy: Tried) => (
              <Help
                key={`${remedy.operation} ${remedy.items.length}`}
                remedy={remedy}
                where={`Place ${turn}`}
                state={state}
              />
            ))}
      </div>
    </li>
  );
}

/** Something that helps, with how much; it shows what it does before it does it. */
function Help({ remedy, where, state }: { remedy: Tried; where: string; state: Editing }): ReactNode {
  const one = operationById(remedy.operation);
  return (
    <Button
      className="h-auto min-h-6 max-w-full px-2 py-0.5 text-left text-xs whitespace-normal! text-ink"
      title={one.title}
      aria-label={`${where}: ${remedy.words}`}
      dim={whyNot(one, { ...state, selection: remedy.items })}
      onClick={() => {
        showGraph(state.graph, remedy.items);
        void perform(remedy.operation, remedy.options, remedy.items);
      }}
    >
      {remedy.words} <span className="font-mono text-good">+{remedy.gain.toFixed(1)}</span>
    </Button>
  );
}

/** Up to so many nodes, what helps is tried in all of the places; in larger files in the one that is looked at. */
const mostTried = 3000;

/**
 * What was tried by now in each place, and last for the whole graph: one after the other, the one that is looked at
 * first.
 */
function useTried(
  state: Editing,
  report: Readability | undefined,
  at: number | undefined,
): ReadonlyMap<Place | Readability, readonly Tried[] | 'trying'> {
  const { doc, catalogue, graph } = state;
  const [tried, setTried] = useState<ReadonlyMap<Place | Readability, readonly Tried[] | 'trying'>>(new Map());
  const known = useRef(tried);
  known.current = tried;
  useEffect(() => {
    if (!report) return;
    const abort = new AbortController();
    const all = async (): Promise<void> => {
      const first = report.places.filter((_, i) => i === at);
      const places =
        report.nodes > mostTried ? first : [...first, ...report.places.filter((place) => !first.includes(place))];
      for (const one of [...places, report]) {
        if (Array.isArray(known.current.get(one))) continue;
        setTried((old) => new Map(old).set(one, 'trying'));
        const found = await measureRunner.run(
          'remedies',
          { graph, score: report.score, ...('rect' in one && { place: one }) },
          { doc, catalogue, signal: abort.signal },
        );
        setTried((old) => new Map(old).set(one, found));
      }
    };
    all().catch(
      (error: unknown) =>
        error instanceof Cancelled ||
        toast.error('What would help could not be tried', { description: (error as Error).message }),
    );
    return () => abort.abort();
  }, [report, at, doc, catalogue, graph]);
  return tried;
}

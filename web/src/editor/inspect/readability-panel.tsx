import type { Id } from '@basitax/core/document/ids';
import { type FaultType, type Place, type Readability, remedies, scoring } from '@basitax/core/inspect/readability';
import { operationById } from '@basitax/core/operations';
import { type ReactNode, useEffect, useState } from 'react';
import { Button, Check } from '../../ui/controls.tsx';
import { drawRunner } from '../../work/runner.ts';
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
  far: ['window spanned', 'windows spanned'],
  bend: ['bend', 'bends'],
  backward: ['backward wire', 'backward wires'],
  unnamed: ['thing without a name', 'things without a name'],
};

const number = (value: number): string => (Number.isInteger(value) ? value.toLocaleString('en') : value.toFixed(1));
const counted = (type: FaultType, count: number): string => `${number(count)} ${few[type][count === 1 ? 0 : 1]}`;

/** How hard the graph is to read: a score, what it is made of, and the places where most of it is lost, with what would help. */
export function ReadabilityPanel(): ReactNode {
  const state = useEditing();
  const { doc, graph } = state;
  // the worker that routes has the routes already
  const { answer, problem, isStale } = useTask('report', { graph }, drawRunner);
  const [at, setAt] = useState<number>();
  const [shown, setShown] = useState(true);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another report has other places
  useEffect(() => setAt(undefined), [graph]);
  useEffect(() => {
    showMarks(shown && answer ? { places: answer.places.map((place) => place.rect), place: at } : undefined);
    return () => showMarks();
  }, [answer, shown, at]);
  return (
    <SidePanel id="readability" title="Readability" about={`How hard “${doc.graphs.get(graph)?.name ?? graph}” is to read, of 100 points.`}>
      {!answer ? (
        <Waiting problem={problem} what="Routing and measuring" />
      ) : (
        <>
          <Score report={answer} isStale={isStale} />
          <Part title="The worst places" aside={answer.places.length === 0 ? '' : 'points lost'}>
            <Check label="Show them on the canvas" checked={shown} onChange={setShown} />
            {answer.places.length === 0 && <p className="text-soft">Nothing is wrong that could be seen.</p>}
            <ol aria-label="The worst places">
              {answer.places.map((place, i) => (
                <PlaceRow
                  key={`${place.rect.x} ${place.rect.y}`}
                  place={place}
                  turn={i + 1}
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
              <td className="text-right align-top font-mono text-xs" title={`${part.rate.toFixed(3)} per ${scoring[part.type].per}`}>
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

function PlaceRow({ place, turn, state, onGo }: { place: Place; turn: number; state: Editing; onGo: () => void }): ReactNode {
  const [worst] = place.faults;
  const remedy = worst && remedies[worst.type];
  const one = remedy && operationById(remedy.operation);
  const items = worst?.nodes ?? [];
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
      {remedy && one && (
        <Button
          className="ml-7 h-auto min-h-6 max-w-full self-start px-2 py-0.5 text-left text-xs whitespace-normal"
          title={one.title}
          aria-label={`Place ${turn}: ${remedy.words}`}
          dim={whyNot(one, { ...state, selection: items })}
          onClick={() => mend(state, items, remedy)}
        >
          {remedy.words}
        </Button>
      )}
    </li>
  );
}

/** Shows what helps, on the nodes that are concerned; what lies in a folded frame stands for its block. */
function mend(state: Editing, items: readonly Id[], remedy: { readonly operation: string; readonly options?: Readonly<Record<string, unknown>> }): void {
  showGraph(state.graph, items);
  void perform(remedy.operation, remedy.options ?? {}, items);
}

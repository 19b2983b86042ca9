import { caption } from '@basitax/core/document/doc';
import { nameProblem } from '@basitax/core/document/names';
import type { Candidate, Figures } from '@basitax/core/remote/advice';
import { X } from 'lucide-react';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { Button } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { focusCanvas } from '../dialogs.ts';
import { toggleLeft } from '../layout.ts';
import { whyNoEdit } from '../may-edit.ts';
import { type Editing, select, useEditing } from '../store.ts';
import { keyOf, useAdvice, useMeasured, useSum } from './advice-figures.ts';

const less = (n: number): string =>
  n > 0 ? `−${n.toLocaleString('en')}` : n < 0 ? `+${(-n).toLocaleString('en')}` : '0';
const shortened = (px: number): string => (Math.abs(px) >= 10_000 ? `${less(Math.round(px / 1000))}k` : less(px));

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
  const wrong = (one: Candidate): string | undefined =>
    nameProblem(state.doc, state.graph, names[keyOf(one)] ?? one.name)?.message;
  const bad = (advice?.candidates ?? []).filter(isChosen).map(wrong).find(Boolean);
  const count = links.reduce((sum, link) => sum + link.wires.length, 0);
  const sum = useSum(state, bad ? [] : links);
  const measured = useMeasured(state, advice?.candidates, sum === undefined || state.preview !== undefined);
  const locked = whyNoEdit(state);
  return (
    <aside
      aria-label="Advice on remote links"
      className="flex w-88 shrink-0 flex-col border-r border-line bg-panel text-sm"
    >
      <header className="flex items-center gap-2 px-3 pt-2.5">
        <h2 className="font-bold">Advice</h2>
        <span className="text-xs text-soft">wires that would be better as remote links</span>
        <Button
          look="quiet"
          square
          className="ml-auto"
          aria-label="Hide the advice"
          onClick={() => toggleLeft('advice')}
        >
          <X size={15} />
        </Button>
      </header>
      <label className="flex items-center gap-2 px-3 py-2">
        <span className="text-soft">At most</span>
        <input
          type="range"
          min={1}
          max={50}
          value={percent}
          className="min-w-0 flex-1 accent-accent"
          onChange={(event) => setPercent(Number(event.target.value))}
        />
        <span className="w-24 text-right whitespace-nowrap tabular-nums">{percent} % of wires</span>
      </label>
      {problem ? (
        <p role="alert" className="px-3 text-warn">
          {problem}
        </p>
      ) : !advice ? (
        <p className="flex items-center gap-2 px-3" role="status">
          Weighing wires … <progress className="h-2 flex-1" value={fraction} max={1} aria-label="Weighing wires" />
        </p>
      ) : advice.candidates.length === 0 ? (
        <p className="px-3 text-soft">No wire here is bad enough to be worth a remote link.</p>
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
            {links.length.toLocaleString('en')} chosen: {count.toLocaleString('en')} of{' '}
            {advice.wires.toLocaleString('en')} wires, {((100 * count) / Math.max(1, advice.wires)).toFixed(1)} %
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

function Sum({ sum }: { sum: ReturnType<typeof useSum> }): ReactNode {
  if (sum === 'none') return null;
  if (typeof sum === 'string')
    return (
      <p role="alert" className="h-16 text-warn">
        {sum}
      </p>
    );
  if (!sum)
    return (
      <p role="status" className="h-16 text-soft">
        Measuring what they do together …
      </p>
    );
  const rows = [
    ['crossings', sum.before.crossings, sum.after.crossings],
    ['wire length, px', sum.before.length, sum.after.length],
    ['wire length, in windows', sum.before.windows, sum.after.windows],
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
            <td className={`text-right font-mono text-xs ${after < before ? 'font-bold text-good' : ''}`}>
              {after.toLocaleString('en')}
            </td>
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
        What each saves on its own: ≈ is an estimate with simple wires, until it is measured on a copy that is routed.
        Click its wires to see them.
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
              <input
                type="checkbox"
                className="size-4 self-center accent-accent"
                aria-label={`Choose ${nameOf(one)}`}
                checked={isChosen(one)}
                onChange={() => onTurn(one)}
              />
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
                {shortened(saves.length)}
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

import { must } from '@basitax/core/must';
import { Cancelled } from '@basitax/core/operation';
import type { Region } from '@basitax/core/structure/propose';
import { plural } from '@basitax/core/words';
import { type ReactNode, useEffect, useState } from 'react';
import { messageOf } from '../../ui/attempt.tsx';
import { Button } from '../../ui/controls.tsx';
import { adviceRunner } from '../../work/runner.ts';
import { perform } from '../actions.ts';
import { whyNoEdit } from '../may-edit.ts';
import { useRegions } from '../regions.ts';
import { lookAt, remember, select, useEditing } from '../store.ts';
import { SidePanel } from './side.tsx';

/** How long the sliders have to stand still before regions are sought anew, in milliseconds. */
const pause = 200;

/** Regions that hang together by wires and names, as frames that could be made: one by one, or all. */
export function RegionsPanel(): ReactNode {
  const state = useEditing();
  const { doc, catalogue, graph } = state;
  const [grain, setGrain] = useState(1);
  const [least, setLeast] = useState(3);
  const [titles, setTitles] = useState<Readonly<Record<string, string>>>({});
  const [problem, setProblem] = useState<string>();
  const [isBusy, setBusy] = useState(true);
  const regions = useRegions((one) => one.regions);
  useEffect(() => {
    const abort = new AbortController();
    setBusy(true);
    const timer = setTimeout(() => {
      adviceRunner
        .run('regions', { selection: { graph, items: [] }, least, grain }, { doc, catalogue, signal: abort.signal })
        .then(
          (found) => {
            setProblem(undefined);
            setBusy(false);
            useRegions.setState({ regions: found });
          },
          (error: unknown) => {
            if (error instanceof Cancelled) return;
            setBusy(false);
            setProblem(messageOf(error));
          },
        );
    }, pause);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [doc, catalogue, graph, grain, least]);
  useEffect(() => () => useRegions.setState({ regions: [] }), []);
  const keyOf = (region: Region): string => must(region.nodes[0]);
  const titleOf = (region: Region): string => titles[keyOf(region)] ?? region.title;
  const framed = (some: readonly Region[]): Promise<void> =>
    perform('propose-frames', { regions: some.map((region) => ({ title: titleOf(region), nodes: region.nodes })) }, []);
  const locked = whyNoEdit(state);
  return (
    <SidePanel
      id="regions"
      title="Propose frames"
      about="Regions among the nodes without a frame, found from wires and names. Their titles are proposals too."
      footer={
        <Button
          look="primary"
          dim={locked ?? (regions.length === 0 ? 'There is no region to frame.' : undefined)}
          onClick={() => void framed(regions)}
        >
          Show all {regions.length} as frames
        </Button>
      }
    >
      <div className="grid grid-cols-[auto_1fr_2.5rem] items-center gap-2">
        <label htmlFor="grain" className="text-soft">
          Grain
        </label>
        <input
          id="grain"
          type="range"
          min={0.2}
          max={3}
          step={0.1}
          value={grain}
          className="min-w-0 accent-accent"
          onChange={(event) => setGrain(Number(event.target.value))}
        />
        <span className="text-right tabular-nums">{grain.toFixed(1)}</span>
        <label htmlFor="least" className="text-soft">
          At least
        </label>
        <input
          id="least"
          type="range"
          min={2}
          max={40}
          value={least}
          className="min-w-0 accent-accent"
          onChange={(event) => setLeast(Number(event.target.value))}
        />
        <span className="text-right tabular-nums">{least}</span>
      </div>
      {problem && (
        <p role="alert" className="text-warn">
          {problem}
        </p>
      )}
      {isBusy && <p role="status">Looking for regions …</p>}
      {!isBusy && !problem && regions.length === 0 && (
        <p className="text-soft">No region was found: every node is in a frame, or too few hang together.</p>
      )}
      <ul>
        {regions.map((region) => (
          <li key={keyOf(region)} className="grid grid-cols-[1fr_auto] items-center gap-x-2 border-b border-line py-1">
            <input
              aria-label={`Title of a region of ${region.nodes.length} nodes`}
              className="h-7 min-w-0 truncate rounded-sm border border-transparent bg-transparent px-1 font-bold hover:border-line focus:bg-ticket"
              value={titleOf(region)}
              onChange={(event) => setTitles((old) => ({ ...old, [keyOf(region)]: event.target.value }))}
            />
            <Button
              className="h-6 px-2 text-xs"
              dim={locked}
              aria-label={`Frame ${titleOf(region)}`}
              onClick={() => void framed([region])}
            >
              Frame
            </Button>
            <button
              type="button"
              className="truncate px-1 text-left text-xs text-soft hover:underline"
              title={
                region.strangers > 0 ? 'Others lie between them: arrange after framing, and they part.' : 'Show them'
              }
              onClick={() => {
                remember();
                select(region.nodes);
                lookAt('selection');
              }}
            >
              {region.nodes.length} nodes{region.strangers > 0 && `, ${plural(region.strangers, 'stranger')} inside`}
            </button>
          </li>
        ))}
      </ul>
    </SidePanel>
  );
}

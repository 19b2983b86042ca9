import type { StoredTimes } from '@basitax/api/inspect';
import { caption, nodePath } from '@basitax/core/document/doc';
import type { Id } from '@basitax/core/document/ids';
import { readTimes, timesByPath, writeTimes } from '@basitax/core/formats/times-csv';
import { type ApartCost, type Cost, heatOf, measurable } from '@basitax/core/inspect/cost';
import { must } from '@basitax/core/must';
import { plural } from '@basitax/core/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { format } from 'date-fns';
import { lazy, type ReactNode, Suspense, useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../../api/client.ts';
import { Button, Check, FileButton, Segments } from '../../ui/controls.tsx';
import { download } from '../download.ts';
import { SidePanel } from '../panels/side.tsx';
import { type Editing, useEditing } from '../store.ts';
import { showMarks } from './marks.ts';
import { called, Part, SelectAll, Things, Waiting } from './parts.tsx';
import { useTask } from './use-task.ts';

// the library of charts comes when there is one to be drawn
const CostChart = lazy(() => import('./cost-chart.tsx'));

type By = 'ends' | 'nodes' | 'frames' | 'nested';

const ms = (value: number): string =>
  value >= 10_000
    ? `${(value / 1000).toFixed(1)} s`
    : `${value >= 100 ? Math.round(value).toLocaleString('en') : value.toFixed(1)} ms`;

/**
 * What nodes cost: measured by the render service or imported, as heat on the canvas, as a table and as a chart, with
 * the critical path.
 */
export function CostPanel(): ReactNode {
  const state = useEditing();
  const { fileId } = state;
  const stored = useQuery({ queryKey: ['times', fileId], queryFn: () => api.times(fileId) });
  const { answer, problem } = useTask('costs', stored.data ? { byPath: stored.data.byPath } : undefined);
  return (
    <SidePanel
      id="cost"
      title="Cost"
      about="Measured times of nodes, from the render service or a table of node paths and milliseconds."
      footer={<Sources state={state} stored={stored.data} />}
    >
      {stored.isPending ? (
        <Waiting problem={undefined} what="Loading" />
      ) : stored.isError ? (
        <Waiting problem={stored.error.message} what="" />
      ) : !stored.data ? (
        <p className="text-soft">
          No times yet. Measure the nodes, or import a CSV file with a node path and milliseconds in each row.
        </p>
      ) : !answer ? (
        <Waiting problem={problem} what="Adding up" />
      ) : (
        <Measured state={state} cost={answer} stored={stored.data} />
      )}
    </SidePanel>
  );
}

function Measured({ state, cost, stored }: { state: Editing; cost: Cost; stored: StoredTimes }): ReactNode {
  const { doc, kinds, graph } = state;
  const [by, setBy] = useState<By>('ends');
  const [warm, setWarm] = useState(true);
  const [chained, setChained] = useState(true);
  const [end, setEnd] = useState<Id>();
  const chosen = cost.ends.find((one) => one.id === end);
  const slowest = cost.ends.find((one) => one.critical.ms === cost.critical.ms)?.id;
  const critical = chosen?.critical ?? cost.critical;
  useEffect(() => {
    const most = cost.nodes[0]?.ms ?? 0;
    const heat = new Map(
      [...cost.nodes, ...cost.nested].flatMap((one) => {
        const step = heatOf(one.ms, most);
        return step === undefined ? [] : [[one.id, { step, text: ms(one.ms) }] as const];
      }),
    );
    showMarks(
      warm || chained
        ? {
            ...(warm && { heat }),
            ...(chained && { chain: critical.path.filter((id) => doc.nodes.get(id)?.graph === graph) }),
          }
        : undefined,
    );
    return () => showMarks();
  }, [cost, critical, warm, chained, doc, graph]);
  const lost = useMemo(() => timesByPath(doc, stored.byPath).lost, [doc, stored]);
  const rows = cost[by];
  const waits = new Map(by === 'ends' ? cost.ends.map((one) => [one.id, one.critical.ms] as const) : []);
  const shares = new Map(rows.map((row) => [row.id, row]));
  return (
    <>
      <dl className="grid grid-cols-[1fr_auto] gap-x-2 tabular-nums">
        <dt className="text-soft">All that computes, one after the other</dt>
        <dd className="text-right font-bold">{ms(cost.total)}</dd>
        <dt className="text-soft">Longest wait for an end</dt>
        <dd className="text-right font-bold">{ms(cost.critical.ms)}</dd>
        <dt className="text-soft">Shared by several ends</dt>
        <dd className="text-right">{ms(cost.shared.ms)}</dd>
        <dt className="text-soft">No end needs</dt>
        <dd className={`text-right ${cost.waste.ms > 0 ? 'text-warn' : ''}`}>{ms(cost.waste.ms)}</dd>
        <dt className="text-soft">Switched off; would cost</dt>
        <dd className="text-right">{ms(cost.off.ms)}</dd>
        <dt className="text-soft">Not measured</dt>
        <dd className="text-right">
          {cost.unmeasured.length.toLocaleString('en')}{' '}
          {cost.unmeasured.length > 0 && (
            <SelectAll ids={cost.unmeasured.filter((id) => doc.nodes.get(id)?.graph === graph)} />
          )}
        </dd>
      </dl>
      <p className="text-xs text-soft">
        From {stored.source}, by {stored.author}, {format(new Date(stored.createdAt), 'd MMM, HH:mm')}.
        {lost > 0 &&
          ` ${plural(lost, 'time')} of it ${lost === 1 ? 'belongs' : 'belong'} to no node any more: measure anew.`}
      </p>
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        <Check label="Heat" checked={warm} onChange={setWarm} />
        <Check label="Critical path" checked={chained} onChange={setChained} />
      </div>
      <Segments<By>
        label="Cost of"
        value={by}
        choices={[
          ['ends', 'Ends'],
          ['nodes', 'Nodes'],
          ['frames', 'Frames'],
          ['nested', 'Nested'],
        ]}
        onChoose={setBy}
      />
      {rows.length === 0 ? (
        <p className="text-soft">
          {by === 'ends'
            ? 'No end of this file computes now.'
            : by === 'frames'
              ? 'No frame holds a measured node.'
              : by === 'nested'
                ? 'No nested graph holds a measured node.'
                : 'No node of this file was measured.'}
        </p>
      ) : (
        <>
          <Suspense fallback={<div className="h-44 shrink-0" />}>
            <CostChart
              rows={rows.slice(0, 8).map((row) => ({
                title: doc.nodes.has(row.id)
                  ? caption(must(doc.nodes.get(row.id)))
                  : (doc.frames.get(row.id)?.title ?? row.id),
                ms: row.ms,
              }))}
            />
          </Suspense>
          <Part title="The most costly first" aside={by === 'ends' ? 'all it needs, wait' : 'time, share'}>
            <Things
              doc={doc}
              kinds={kinds}
              here={graph}
              ids={rows.map((row) => row.id)}
              label="Cost"
              {...(by === 'ends' && {
                before: (id: Id) => (
                  <input
                    type="radio"
                    className="self-center accent-accent"
                    name="critical-path-of"
                    aria-label={`Show the critical path of ${called(doc, kinds, id).title}`}
                    title="Show its critical path"
                    checked={id === (end ?? slowest)}
                    onChange={() => setEnd(id)}
                  />
                ),
              })}
              after={(id) => (
                <span className="shrink-0 text-right font-mono text-xs whitespace-nowrap tabular-nums">
                  {ms(must(shares.get(id)).ms)}{' '}
                  <span className="inline-block w-14 text-right text-soft">
                    {waits.has(id) ? ms(must(waits.get(id))) : `${(100 * must(shares.get(id)).share).toFixed(1)} %`}
                  </span>
                </span>
              )}
            />
          </Part>
        </>
      )}
      <Part
        title={chosen ? `Critical path of ${called(doc, kinds, chosen.id).title}` : 'Critical path of the slowest end'}
        aside={ms(critical.ms)}
      >
        <Things doc={doc} kinds={kinds} here={graph} ids={critical.path} label="On the critical path" />
      </Part>
      <Apart state={state} title="Shared by several ends" apart={cost.shared} />
      <Apart state={state} title="No end needs" apart={cost.waste} />
      <Apart state={state} title="Switched off" apart={cost.off} />
    </>
  );
}

/** Nodes that are told apart from what their ends cost. */
function Apart({ state, title, apart }: { state: Editing; title: string; apart: ApartCost }): ReactNode {
  const times = new Map(apart.nodes.map((one) => [one.id, one.ms]));
  if (apart.nodes.length === 0) return null;
  return (
    <Part title={title} aside={ms(apart.ms)}>
      <Things
        doc={state.doc}
        kinds={state.kinds}
        here={state.graph}
        ids={apart.nodes.map((one) => one.id)}
        label={title}
        first={8}
        after={(id) => <span className="font-mono text-xs tabular-nums">{ms(must(times.get(id)))}</span>}
      />
    </Part>
  );
}

/** Jobs that go to the render service at a time. */
const batch = 100;

/** Where times come from: the render service, or a table; and a way to take them away. */
function Sources({ state, stored }: { state: Editing; stored: StoredTimes | null | undefined }): ReactNode {
  const { doc, kinds, fileId, readOnly } = state;
  const queries = useQueryClient();
  const [done, setDone] = useState<{ count: number; of: number }>();
  const stop = useRef(false);
  useEffect(
    () => () => {
      stop.current = true;
    },
    [],
  );
  const keep = async (byPath: Readonly<Record<string, number>>, source: string): Promise<void> => {
    await api.saveTimes(fileId, byPath, source);
    await queries.invalidateQueries({ queryKey: ['times', fileId] });
  };
  const measure = async (): Promise<void> => {
    const nodes = measurable(doc, kinds).map((id) => must(doc.nodes.get(id)));
    stop.current = false;
    setDone({ count: 0, of: nodes.length });
    try {
      const byPath: Record<string, number> = {};
      for (let i = 0; i < nodes.length && !stop.current; i += batch) {
        const some = nodes.slice(i, i + batch);
        const rendered = await api.render(
          some.map((node) => ({ path: nodePath(doc, node), kind: node.kind, values: kinds.functionValues(node) })),
        );
        for (const one of rendered) byPath[one.path] = one.ms;
        setDone({ count: Math.min(nodes.length, i + batch), of: nodes.length });
      }
      if (stop.current) toast('Cancelled. The times are unchanged.', { duration: 2500 });
      else {
        await keep(byPath, 'the render service');
        toast.success(`Measured ${plural(nodes.length, 'node')}.`);
      }
    } catch (error) {
      toast.error('Not measured', { description: (error as Error).message });
    } finally {
      setDone(undefined);
    }
  };
  const take = async (file: File): Promise<void> => {
    try {
      const { times, findings } = readTimes(doc, await file.text());
      if (times.size === 0)
        throw new Error(findings[0]?.message ?? 'The file has no row with a node path and milliseconds.');
      await keep(
        Object.fromEntries([...times].map(([id, time]) => [nodePath(doc, must(doc.nodes.get(id))), time])),
        file.name,
      );
      toast.success(`Read the times of ${plural(times.size, 'node')}.`, {
        ...(findings.length > 0 && {
          description: `${plural(findings.length, 'row')} could not be read. ${must(findings[0]).message}`,
          duration: 9000,
        }),
      });
    } catch (error) {
      toast.error(`“${file.name}” was not read`, { description: (error as Error).message, duration: 9000 });
    }
  };
  const save = (): void =>
    download(`${fileId}.times.csv`, writeTimes(doc, timesByPath(doc, stored?.byPath ?? {}).times), 'text/csv');
  if (done)
    return (
      <span className="flex items-center gap-2">
        <progress className="h-2 min-w-0 flex-1" value={done.count} max={Math.max(1, done.of)} aria-label="Measuring" />
        <span className="text-xs tabular-nums">
          {done.count} of {done.of}
        </span>
        <Button
          onClick={() => {
            stop.current = true;
          }}
        >
          Cancel
        </Button>
      </span>
    );
  return (
    <span className="flex flex-wrap gap-2">
      <Button look="primary" dim={readOnly} onClick={() => void measure()}>
        Measure
      </Button>
      <FileButton
        accept=".csv,text/csv"
        label="Choose a table of times"
        onFile={(file) => void take(file)}
        dim={readOnly}
        title="CSV: node path, milliseconds"
      >
        Import …
      </FileButton>
      <Button dim={stored ? undefined : 'No times yet.'} onClick={save}>
        Export CSV
      </Button>
    </span>
  );
}

import type { Doc } from '@basitax/core/document/doc';
import type { Id } from '@basitax/core/document/ids';
import type { Dependencies, Side } from '@basitax/core/inspect/dependencies';
import type { Gone, Starved } from '@basitax/core/inspect/gone';
import { seenFrom } from '@basitax/core/inspect/reach';
import type { Standing } from '@basitax/core/inspect/standing';
import type { Paths } from '@basitax/core/inspect/ways';
import { portOf } from '@basitax/core/wiring/types';
import { plural } from '@basitax/core/words';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { Button, Check, Segments } from '../../ui/controls.tsx';
import { SidePanel } from '../panels/side.tsx';
import { type Editing, lookAt, remember, useEditing } from '../store.ts';
import { showMarks } from './marks.ts';
import { called, Part, SelectAll, Things, Waiting } from './parts.tsx';
import { ask, useQuestions } from './questions.ts';
import { useTask } from './use-task.ts';

type Shown = 'up' | 'down' | 'ways';

/**
 * What the asked nodes depend on, what depends on them, the ways between two, and what would be hit if they changed or
 * went.
 */
export function DependenciesPanel(): ReactNode {
  const state = useEditing();
  const { doc, kinds, graph, selection } = state;
  const asked = useQuestions((one) => one.of);
  const of = useMemo(() => asked.filter((id) => doc.nodes.has(id)), [asked, doc]);
  const chosen = selection.filter((id) => doc.nodes.has(id));
  const isSame = chosen.length === 0 || (chosen.length === of.length && chosen.every((id) => of.includes(id)));
  const [shown, setShown] = useState<Shown>('down');
  const [dims, setDims] = useState(true);
  const { answer, problem } = useTask('inspectNodes', of.length > 0 ? { ids: of } : undefined);
  const side = shown === 'ways' ? undefined : answer?.dependencies[shown];
  const paths = answer?.paths;
  const isPair = of.length === 2;
  useEffect(() => setShown(isPair ? 'ways' : 'down'), [isPair]);
  const [way, setWay] = useState<readonly Id[]>();
  // biome-ignore lint/correctness/useExhaustiveDependencies: another question has other ways
  useEffect(() => setWay(undefined), [answer]);
  const lit = useMemo(() => {
    if (way) return new Set(seenFrom(doc, graph, [...of, ...way]));
    return answer ? litBy(doc, graph, of, shown === 'ways' ? paths : side) : undefined;
  }, [answer, doc, graph, of, shown, paths, side, way]);
  useEffect(() => {
    const chain = way && seenFrom(doc, graph, way);
    showMarks(lit && (dims || chain) ? { lit, ...(chain && { chain }) } : undefined);
    return () => showMarks();
  }, [dims, lit, way, doc, graph]);
  return (
    <SidePanel
      id="dependencies"
      title="Dependencies"
      about="What depends on what, through remote links, feeds, reroute points and nested graphs."
      footer={
        <Button
          dim={isSame ? (chosen.length === 0 ? 'Select nodes first.' : 'These are the nodes shown.') : undefined}
          onClick={() => ask({ of: chosen })}
        >
          Show {chosen.length > 1 ? `the ${chosen.length} selected nodes` : 'the selected node'}
        </Button>
      }
    >
      {of.length === 0 ? (
        <p className="text-soft">
          Select one or more nodes, then show them here. For two nodes, the paths between them are shown too.
        </p>
      ) : (
        <>
          <Things
            doc={doc}
            kinds={kinds}
            here={graph}
            ids={of}
            label="Asked about"
            after={(id) => <HowItStands is={answer?.dependencies.standing.find((one) => one.id === id)?.is} />}
          />
          {!answer ? (
            <Waiting problem={problem} what="Looking" />
          ) : (
            <>
              <div className="flex flex-wrap items-center gap-2">
                <Segments<Shown>
                  label="Direction"
                  value={shown}
                  choices={[
                    ['up', `Up ${answer.dependencies.up.nodes.length.toLocaleString('en')}`],
                    ['down', `Down ${answer.dependencies.down.nodes.length.toLocaleString('en')}`],
                    ...(isPair ? ([['ways', 'Ways']] as const) : []),
                  ]}
                  onChoose={setShown}
                />
                <Check label="Dim the rest" checked={dims} onChange={setDims} />
              </div>
              {side && <Direction state={state} side={side} direction={shown === 'up' ? 'up' : 'down'} />}
              {shown === 'ways' && <Ways state={state} paths={paths} of={of} />}
              <IfChanged state={state} found={answer.dependencies} />
              <IfGone state={state} gone={answer.dependencies.gone} way={way} onWay={setWay} />
            </>
          )}
        </>
      )}
    </SidePanel>
  );
}

const standingWords: Readonly<Record<Standing, string | undefined>> = {
  used: undefined,
  waits: 'waits for something that is off',
  unused: 'serves no end',
  bypassed: 'bypassed',
  'inside-bypassed': 'inside a bypassed graph',
};

const standingAbout: Readonly<Record<Standing, string>> = {
  used: '',
  waits: 'No end needs it now, but one would if everything that is switched off were on.',
  unused: 'No end needs its output, even with everything switched on.',
  bypassed: 'It computes nothing now.',
  'inside-bypassed': 'It lies in a nested graph that is bypassed, so it computes nothing now.',
};

/** How a node stands, where it is not simply used. */
function HowItStands({ is }: { is: Standing | undefined }): ReactNode {
  const words = is && standingWords[is];
  return (
    words && (
      <span className="shrink-0 rounded border border-line px-1 text-xs text-soft" title={standingAbout[is]}>
        {words}
      </span>
    )
  );
}

/** What would change the result, and which ends, now and with everything switched on. */
function IfChanged({ state, found }: { state: Editing; found: Dependencies }): ReactNode {
  const { doc, kinds, graph } = state;
  const { down, ends, endsIfOn } = found;
  return (
    <Part title="If it changed" aside={plural(ends.length, 'end')}>
      <p className="text-soft">
        {down.nodes.length === 0
          ? 'No other node would change its result now.'
          : `${plural(down.nodes.length, 'node')} would change the result${ends.length > 0 ? ', and these ends:' : '; no end of the file would.'}`}
      </p>
      <Things doc={doc} kinds={kinds} here={graph} ids={ends} label="Ends that would change" />
      {(down.ifOn.length > 0 || endsIfOn.length > 0) && (
        <>
          <p className="text-soft">
            If everything that is switched off were on: {plural(down.ifOn.length, 'node')}
            {endsIfOn.length > 0 ? ` and ${plural(endsIfOn.length, 'end')} more:` : ' more.'}
          </p>
          <Things doc={doc} kinds={kinds} here={graph} ids={endsIfOn} label="Ends that would change if switched on" />
        </>
      )}
    </Part>
  );
}

/** Which ends would lose an input, by which way, and what else would be open or serve nothing. */
function IfGone({
  state,
  gone,
  way,
  onWay,
}: {
  state: Editing;
  gone: Gone;
  way: readonly Id[] | undefined;
  onWay(way: readonly Id[] | undefined): void;
}): ReactNode {
  const { doc, kinds, graph } = state;
  const title = (id: Id): string => called(doc, kinds, id).title;
  return (
    <Part
      title="If it went"
      aside={gone.starved.length > 0 ? plural(gone.starved.length, 'end loses', 'ends lose') : undefined}
    >
      {gone.removed.length > 0 && (
        <>
          <p className="text-warn">{plural(gone.removed.length, 'end goes', 'ends go')} with it:</p>
          <Things doc={doc} kinds={kinds} here={graph} ids={gone.removed} label="Ends that would go" />
        </>
      )}
      {gone.starved.length > 0 && (
        <>
          <p className="text-warn">
            {plural(gone.starved.length, 'end loses', 'ends lose')} something. Choose an input to see its way to the
            end:
          </p>
          <ul aria-label="Ends that would lose an input">
            {gone.starved.slice(0, 50).map(({ end, inputs, count }) => (
              <li key={end} className="border-b border-line py-0.5">
                <span className="font-bold">{title(end)}</span>
                <ul>
                  {inputs.map((input) => (
                    <li key={`${input.node} ${input.port}`}>
                      <button
                        type="button"
                        aria-pressed={way === input.way}
                        className="w-full truncate pl-3 text-left text-sm hover:underline aria-pressed:bg-chosen aria-pressed:font-bold"
                        onClick={() => {
                          onWay(way === input.way ? undefined : input.way);
                          remember();
                          lookAt(seenFrom(doc, graph, input.way));
                        }}
                      >
                        “{portName(doc, input)}”{input.node !== end && ` of ${title(input.node)}`}{' '}
                        <span className="text-xs font-normal text-soft">
                          {input.way.length < 2 ? 'its own input' : `${plural(input.way.length - 1, 'hop')} before it`}
                        </span>
                      </button>
                    </li>
                  ))}
                  {count > inputs.length && (
                    <li className="pl-3 text-xs text-soft">{plural(count - inputs.length, 'input')} more</li>
                  )}
                </ul>
              </li>
            ))}
            {gone.starved.length > 50 && (
              <li className="py-1 text-xs text-soft">{plural(gone.starved.length - 50, 'end')} more</li>
            )}
          </ul>
        </>
      )}
      {gone.otherwise.length > 0 && (
        <>
          <p className="text-soft">
            {plural(gone.otherwise.length, 'end takes', 'ends take')} what heals, and would change the result:
          </p>
          <Things doc={doc} kinds={kinds} here={graph} ids={gone.otherwise} label="Ends that would take what heals" />
        </>
      )}
      {gone.opened.length === 0 ? (
        <p className="text-soft">No input would be left open: all wires heal.</p>
      ) : (
        <details>
          <summary className="text-soft">
            In detail: {plural(gone.opened.length, 'input or link', 'inputs and links')}
          </summary>
          <ul aria-label="What would be open" className="text-warn">
            {gone.opened.slice(0, 50).map((item) => (
              <li key={item.message}>{item.message}</li>
            ))}
          </ul>
        </details>
      )}
      {gone.idle.length > 0 && (
        <>
          <p className="text-soft">
            {plural(gone.idle.length, 'node would serve', 'nodes would serve')} no end any more:
          </p>
          <Things doc={doc} kinds={kinds} here={graph} ids={gone.idle} label="What would serve nothing" />
        </>
      )}
    </Part>
  );
}

const portName = (doc: Doc, { node, port }: Starved): string => portOf(doc.nodes.get(node), port, 'in')?.name ?? port;

/** What stands out: the asked nodes and what was found, as this graph sees it. */
function litBy(doc: Doc, graph: Id, of: readonly Id[], found: Side | Paths | undefined): ReadonlySet<Id> {
  const ids = !found
    ? []
    : 'all' in found
      ? found.all
      : [...found.nodes, ...found.ifOn].map((one) => one.id).concat(found.carriers);
  return new Set(seenFrom(doc, graph, [...of, ...ids]));
}

function Direction({ state, side, direction }: { state: Editing; side: Side; direction: 'up' | 'down' }): ReactNode {
  const { doc, kinds, graph } = state;
  const steps = useMemo(() => new Map([...side.nodes, ...side.ifOn].map((one) => [one.id, one.steps])), [side]);
  const ids = side.nodes.map((one) => one.id);
  return (
    <Part
      title={direction === 'up' ? 'Depends on' : 'What depends on it'}
      aside={ids.length > 0 ? <SelectAll ids={seenFrom(doc, graph, [...ids, ...side.carriers])} /> : undefined}
    >
      <p className="text-soft">
        {ids.length === 0
          ? direction === 'up'
            ? 'It reads nothing now.'
            : 'Nothing reads it now.'
          : `${plural(ids.length, 'node')}, up to ${plural(side.depth, 'step')} away${side.carriers.length > 0 ? `, over ${plural(side.carriers.length, 'thing')} that only carry data` : ''}.`}
      </p>
      <Things
        doc={doc}
        kinds={kinds}
        here={graph}
        ids={ids}
        label={direction === 'up' ? 'Depends on' : 'What depends on it'}
        before={(id) => <Steps of={steps} id={id} />}
      />
      {side.ifOn.length > 0 && (
        <>
          <p className="text-soft">
            {plural(side.ifOn.length, 'more node', 'more nodes')} if everything that is switched off were on:
          </p>
          <Things
            doc={doc}
            kinds={kinds}
            here={graph}
            ids={side.ifOn.map((one) => one.id)}
            label={direction === 'up' ? 'Depends on if switched on' : 'What depends on it if switched on'}
            before={(id) => <Steps of={steps} id={id} />}
          />
        </>
      )}
    </Part>
  );
}

const Steps = ({ of, id }: { of: ReadonlyMap<Id, number>; id: Id }): ReactNode => (
  <span className="w-6 shrink-0 text-right font-mono text-xs text-soft" title="Steps away">
    {of.get(id)}
  </span>
);

function Ways({ state, paths, of }: { state: Editing; paths: Paths | undefined; of: readonly Id[] }): ReactNode {
  const { doc, kinds, graph } = state;
  if (!paths) return <p className="text-soft">No way leads from one to the other, in either direction.</p>;
  const name = (id: Id): string => `“${called(doc, kinds, id).title}”`;
  return (
    <>
      <p>
        {paths.ifOn ? 'None now. If everything that is switched off were on, from ' : 'From '}
        {name(paths.from)} to {name(paths.to)}
        {paths.count === undefined
          ? ': ways without end, since a cycle lies on them.'
          : `: ${plural(paths.count, 'way')}.`}
      </p>
      <Part title="Every way passes" aside={paths.passed.length.toLocaleString('en')}>
        {paths.passed.length === 0 && <p className="text-soft">Nothing lies on all of them.</p>}
        <Things doc={doc} kinds={kinds} here={graph} ids={paths.passed} label="Every way passes" />
      </Part>
      <Part title="A shortest way" aside={plural(paths.shortest.length - 1, 'step')}>
        <Things
          doc={doc}
          kinds={kinds}
          here={graph}
          ids={paths.shortest}
          label="A shortest way"
          before={(id) => <Turn of={paths.shortest} id={id} />}
        />
      </Part>
      <p className="text-xs text-soft">
        {plural(paths.all.length - of.length, 'node')} on all ways together, with what carries data between.
      </p>
    </>
  );
}

const Turn = ({ of, id }: { of: readonly Id[]; id: Id }): ReactNode => (
  <span className="w-6 shrink-0 text-right font-mono text-xs text-soft">{of.indexOf(id) + 1}</span>
);

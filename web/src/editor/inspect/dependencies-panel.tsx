import type { Doc } from '@basitax/core/document/doc';
import type { Id } from '@basitax/core/document/ids';
import type { Paths, Side } from '@basitax/core/inspect/dependencies';
import { seenFrom } from '@basitax/core/inspect/reach';
import { plural } from '@basitax/core/words';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { Button, Check, Segments } from '../../ui/controls.tsx';
import { SidePanel } from '../panels/side.tsx';
import { type Editing, useEditing } from '../store.ts';
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
  const lit = useMemo(
    () => (answer ? litBy(doc, graph, of, shown === 'ways' ? paths : side) : undefined),
    [answer, doc, graph, of, shown, paths, side],
  );
  useEffect(() => {
    showMarks(dims && lit ? { lit } : undefined);
    return () => showMarks();
  }, [dims, lit]);
  return (
    <SidePanel
      id="dependencies"
      title="Dependencies"
      about="What depends on what, through remote links, feeds, reroute points and nested graphs."
      footer={
        <Button
          dim={
            isSame
              ? chosen.length === 0
                ? 'Select nodes first.'
                : 'These are the ones that are asked about.'
              : undefined
          }
          onClick={() => ask({ of: chosen })}
        >
          Ask about the {chosen.length > 1 ? `${chosen.length} selected` : 'selected one'}
        </Button>
      }
    >
      {of.length === 0 ? (
        <p className="text-soft">
          Select one or more nodes and ask about them; of two, the ways between them are shown too.
        </p>
      ) : (
        <>
          <Things doc={doc} kinds={kinds} here={graph} ids={of} label="Asked about" />
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
              <Part title="If it changed" aside={plural(answer.dependencies.ends.length, 'end')}>
                <p className="text-soft">
                  {plural(answer.dependencies.down.nodes.length, 'node')} would compute something else
                  {answer.dependencies.ends.length > 0 ? ', and these ends:' : '; no end of the file would.'}
                </p>
                <Things
                  doc={doc}
                  kinds={kinds}
                  here={graph}
                  ids={answer.dependencies.ends}
                  label="Ends that would change"
                />
              </Part>
              <Part title="If it went">
                {answer.dependencies.gone.opened.length === 0 ? (
                  <p className="text-soft">No input would be left open: all wires heal.</p>
                ) : (
                  <ul aria-label="What would be open" className="text-warn">
                    {answer.dependencies.gone.opened.slice(0, 50).map((item) => (
                      <li key={item.message}>{item.message}</li>
                    ))}
                  </ul>
                )}
                {answer.dependencies.gone.idle.length > 0 && (
                  <>
                    <p className="text-soft">
                      {plural(answer.dependencies.gone.idle.length, 'node would serve', 'nodes would serve')} no end any
                      more:
                    </p>
                    <Things
                      doc={doc}
                      kinds={kinds}
                      here={graph}
                      ids={answer.dependencies.gone.idle}
                      label="What would serve nothing"
                    />
                  </>
                )}
              </Part>
            </>
          )}
        </>
      )}
    </SidePanel>
  );
}

/** What stands out: the asked nodes and what was found, as this graph sees it. */
function litBy(doc: Doc, graph: Id, of: readonly Id[], found: Side | Paths | undefined): ReadonlySet<Id> {
  const ids = !found ? [] : 'all' in found ? found.all : [...found.nodes.map((one) => one.id), ...found.carriers];
  return new Set(seenFrom(doc, graph, [...of, ...ids]));
}

function Direction({ state, side, direction }: { state: Editing; side: Side; direction: 'up' | 'down' }): ReactNode {
  const { doc, kinds, graph } = state;
  const steps = useMemo(() => new Map(side.nodes.map((one) => [one.id, one.steps])), [side]);
  const ids = side.nodes.map((one) => one.id);
  return (
    <Part
      title={direction === 'up' ? 'Depends on' : 'What depends on it'}
      aside={ids.length > 0 ? <SelectAll ids={seenFrom(doc, graph, [...ids, ...side.carriers])} /> : undefined}
    >
      <p className="text-soft">
        {ids.length === 0
          ? direction === 'up'
            ? 'It reads nothing.'
            : 'Nothing reads it.'
          : `${plural(ids.length, 'node')}, up to ${plural(side.depth, 'step')} away${side.carriers.length > 0 ? `, over ${plural(side.carriers.length, 'thing')} that only carry data` : ''}.`}
      </p>
      <Things
        doc={doc}
        kinds={kinds}
        here={graph}
        ids={ids}
        label={direction === 'up' ? 'Depends on' : 'What depends on it'}
        before={(id) => (
          <span className="w-6 shrink-0 text-right font-mono text-xs text-soft" title="Steps away">
            {steps.get(id)}
          </span>
        )}
      />
    </Part>
  );
}

function Ways({ state, paths, of }: { state: Editing; paths: Paths | undefined; of: readonly Id[] }): ReactNode {
  const { doc, kinds, graph } = state;
  if (!paths) return <p className="text-soft">No way leads from one to the other, in neither direction.</p>;
  const name = (id: Id): string => `“${called(doc, kinds, id).title}”`;
  return (
    <>
      <p>
        From {name(paths.from)} to {name(paths.to)}{' '}
        {paths.count === undefined
          ? 'lead ways without end: a cycle lies on them.'
          : paths.count === 1
            ? 'leads one way.'
            : `lead ${paths.count.toLocaleString('en')} ways.`}
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

import type { Change } from '@basitax/core/inspect/compare/compare';
import type { LogTree } from '@basitax/core/script/requests';
import { plural } from '@basitax/core/words';
import { CircleAlert } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { Button, Segments } from '../../ui/controls.tsx';
import { download } from '../download.ts';
import { Consequences, called } from '../inspect/parts.tsx';
import { enterGraph, lookAt, select, useEditing, useEditor } from '../store.ts';
import { type DryRun, takeTouched, useScript } from './script-state.ts';

type Tab = 'changes' | 'console' | 'skipped' | 'files';
const first = 200;
/** Lines that are listed with what they changed. */
const mostLines = 30;

/** What a dry run came to: each change, what was said, who was passed over, what was given out. */
export function ScriptResults(): ReactNode {
  const { done, problem, lines } = useScript();
  const { doc } = useEditing();
  const [chosen, setChosen] = useState<Tab>();
  if (problem)
    return (
      <p role="alert" className="text-warn">
        {problem}
      </p>
    );
  if (!done)
    return (
      <p className="text-soft">
        A dry run shows here what the script would do. Nothing is changed before you apply it.
      </p>
    );
  const { changes, log, report, outputs, failure, over } = done.planned;
  const fallback: Tab = failure
    ? 'console'
    : changes.length > 0
      ? 'changes'
      : outputs.length > 0
        ? 'files'
        : log.length > 0
          ? 'console'
          : 'changes';
  const tab = chosen ?? fallback;
  const count = (n: number): string => n.toLocaleString('en');
  return (
    <section aria-label="What the script does" className="flex min-h-0 flex-1 flex-col gap-2">
      {failure ? (
        <p role="alert" className="flex items-start gap-1.5 text-warn">
          <CircleAlert size={15} className="mt-0.5 shrink-0" aria-hidden="true" />
          <span className="min-w-0 break-words">
            {failure.line !== undefined && <b>Line {failure.line}: </b>}
            {failure.message} {failure.node !== undefined && <NodeLink id={failure.node} />}{' '}
            <span className="text-soft">Nothing was changed.</span>
          </span>
        </p>
      ) : (
        <p role="status">
          {changes.length === 0 ? 'It would change nothing' : `It would make ${plural(changes.length, 'change')}`}, over{' '}
          {plural(over.length, 'node')}
          {lines &&
            `, by ${lines.from === lines.to ? `line ${lines.from}` : `lines ${lines.from} to ${lines.to}`} alone`}
          {doc === done.of ? '.' : ', on an earlier state of the graph.'}
        </p>
      )}
      <Segments<Tab>
        label="What the script did"
        value={tab}
        choices={[
          ['changes', `Changes ${count(changes.length)}`],
          ['console', `Console ${count(log.length)}`],
          ['skipped', `Skipped ${count(report.findings.length)}`],
          ['files', `Files ${count(outputs.length)}`],
        ]}
        onChoose={setChosen}
      />
      <section
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a list that scrolls is reached by key
        tabIndex={0}
        aria-label={`List of ${tab}`}
        className="min-h-0 flex-1 overflow-auto rounded-sm border border-line bg-ticket px-2 py-1"
      >
        {tab === 'changes' && <Changes done={done} />}
        {tab === 'console' && <Console done={done} />}
        {tab === 'skipped' && <Skipped done={done} />}
        {tab === 'files' && <Files done={done} />}
      </section>
    </section>
  );
}

const Nothing = ({ children }: { children: ReactNode }): ReactNode => <p className="py-1 text-soft">{children}</p>;

/** Rows of a list, the first of them until more are wanted. */
function Rows<T>({ label, rows, row }: { label: string; rows: readonly T[]; row: (one: T) => ReactNode }): ReactNode {
  const [most, setMost] = useState(first);
  return (
    <ul aria-label={label}>
      {rows.slice(0, most).map((one, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the list does not change while it is shown
        <li key={i} className="border-b border-line py-0.5 break-words last:border-0">
          {row(one)}
        </li>
      ))}
      {rows.length > most && (
        <li>
          <button type="button" className="py-1 text-xs text-soft underline" onClick={() => setMost(most * 5)}>
            {(rows.length - most).toLocaleString('en')} more
          </button>
        </li>
      )}
    </ul>
  );
}

/** Shows a node where it stands; while a preview is open only in the graph that is shown. */
function reveal(id: string): void {
  const { doc, graph, kinds, preview } = useEditor.getState();
  const at = called(doc, kinds, id).graph;
  if (at === undefined) return;
  if (at !== graph && preview)
    toast('That lies in another graph: apply or drop the preview first.', { duration: 3000 });
  else if (at !== graph) enterGraph(at, [id]);
  else {
    select([id]);
    lookAt('selection');
  }
}

function NodeLink({ id, children }: { id: string; children?: ReactNode }): ReactNode {
  const { doc, kinds } = useEditing();
  const { title, graph } = called(doc, kinds, id);
  return graph === undefined ? (
    children
  ) : (
    <button type="button" className="text-left hover:underline" title={`Go to ${title}`} onClick={() => reveal(id)}>
      {children ?? <b>“{title}”</b>}
    </button>
  );
}

const ChangeLink = ({ change }: { change: Change }): ReactNode => (
  <NodeLink id={change.before ?? change.after ?? ''}>{change.sentence}</NodeLink>
);

function Changes({ done }: { done: DryRun }): ReactNode {
  const { changes } = done.planned;
  const { touched } = done.planned;
  if (changes.length === 0) return <Nothing>Nothing would be changed.</Nothing>;
  return (
    <>
      <p className="flex flex-wrap gap-x-3 py-1 text-xs text-soft">
        {touched.slice(0, mostLines).map((one) => (
          <button
            key={one.line}
            type="button"
            className="underline"
            title={`Select what line ${one.line} changed`}
            onClick={() => takeTouched(one)}
          >
            Line {one.line}: {plural(one.ids.length, 'thing')}
          </button>
        ))}
      </p>
      <Rows
        label="Changes"
        rows={changes}
        row={(change) => (
          <>
            <ChangeLink change={change} />
            <Consequences of={change} row={(one) => <ChangeLink change={one} />} />
          </>
        )}
      />
    </>
  );
}

function Console({ done }: { done: DryRun }): ReactNode {
  const { log } = done.planned;
  if (log.length === 0) return <Nothing>The script said nothing: log(…) writes here.</Nothing>;
  return (
    <Rows
      label="Console"
      rows={log}
      row={(line) =>
        line.values ? (
          <LogTrees values={line.values} isWarning={line.level === 'warn'} />
        ) : (
          <span className={`font-mono text-xs whitespace-pre-wrap ${line.level === 'warn' ? 'text-warn' : ''}`}>
            {line.text}
          </span>
        )
      }
    />
  );
}

/** What was logged together: texts and nodes as they are, lists and objects to be opened. */
const LogTrees = ({ values, isWarning }: { values: readonly LogTree[]; isWarning: boolean }): ReactNode => (
  <div className={`flex flex-wrap gap-x-2 font-mono text-xs ${isWarning ? 'text-warn' : ''}`}>
    {values.map((value, i) => (
      // biome-ignore lint/suspicious/noArrayIndexKey: the list does not change while it is shown
      <Tree key={i} value={value} />
    ))}
  </div>
);

function Tree({ name, value }: { name?: string; value: LogTree }): ReactNode {
  const title = name === undefined ? null : <span className="text-soft">{name}: </span>;
  if (value.is === 'value')
    return (
      <span className="whitespace-pre-wrap">
        {title}
        {value.text}
      </span>
    );
  if (value.is === 'node')
    return (
      <span>
        {title}
        <NodeLink id={value.id}>{value.text}</NodeLink>
      </span>
    );
  return (
    <details className="min-w-0">
      <summary className="cursor-pointer">
        {title}
        {value.text}
      </summary>
      <ul className="border-l border-line pl-3">
        {value.parts.map(([key, part]) => (
          <li key={key}>
            <Tree name={key} value={part} />
          </li>
        ))}
        {value.more > 0 && <li className="text-soft">{value.more.toLocaleString('en')} more</li>}
      </ul>
    </details>
  );
}

function Skipped({ done }: { done: DryRun }): ReactNode {
  const { findings } = done.planned.report;
  if (findings.length === 0) return <Nothing>No node was passed over.</Nothing>;
  return (
    <Rows
      label="Skipped"
      rows={findings}
      row={(item) => <NodeLink id={item.place.at(-1) ?? ''}>{item.message}</NodeLink>}
    />
  );
}

function Files({ done }: { done: DryRun }): ReactNode {
  const { outputs } = done.planned;
  if (outputs.length === 0) return <Nothing>The script gave no file out: output(name, text) does.</Nothing>;
  return (
    <Rows
      label="Files"
      rows={outputs}
      row={({ name, text }) => (
        <span className="flex items-center gap-2">
          <span className="min-w-0 flex-1 truncate font-mono text-xs">{name}</span>
          <span className="text-xs text-soft">{plural(text.split('\n').length - 1, 'line')}</span>
          <Button className="h-6 px-2 text-xs" onClick={() => download(name, text, 'text/plain')}>
            Download
          </Button>
        </span>
      )}
    />
  );
}

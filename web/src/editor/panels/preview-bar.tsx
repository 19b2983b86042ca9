import type { Finding } from '@basitax/core/finding';
import type { Measures } from '@basitax/core/inspect/measure';
import type { Review } from '@basitax/core/inspect/review';
import { losses } from '@basitax/core/operation';
import { operationById } from '@basitax/core/operations';
import type { PortName } from '@basitax/core/structure/nest';
import { inputOpened } from '@basitax/core/wiring/guard';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../ui/controls.tsx';
import { applyPreview, dropPreview, fitSoon, perform } from '../actions.ts';
import { focusCanvas } from '../dialogs.ts';
import { type Preview, useEditor } from '../store.ts';
import { verdicts } from '../verdicts.ts';
import { defaultsOf, OptionField, optionsOf } from './operation-form.tsx';
import { PortNames } from './port-names.tsx';
import { Proposals } from './proposals.tsx';
import { WorstWires } from './worst-wires.tsx';

const rows: readonly { field: keyof Measures; title: string }[] = [
  { field: 'crossings', title: 'crossings' },
  { field: 'throughNodes', title: 'wires through nodes' },
  { field: 'overlaps', title: 'overlaps' },
  { field: 'backward', title: 'backward wires' },
  { field: 'bends', title: 'bends' },
  { field: 'length', title: 'wire length, px' },
  { field: 'windows', title: 'windows crossed' },
];

/** What gets worse is said in a sentence, whatever else gets better. */
const grave: readonly { field: keyof Measures; one: string; many: string }[] = [
  { field: 'crossings', one: 'crossing', many: 'crossings' },
  { field: 'overlaps', one: 'overlap', many: 'overlaps' },
  { field: 'throughNodes', one: 'wire through a node', many: 'wires through nodes' },
];

function worse({ before, after }: Review): string | undefined {
  const rows = grave.flatMap(({ field, one, many }) => {
    const more = after[field] - before[field];
    return more > 0 ? [`${more.toLocaleString('en')} more ${more === 1 ? one : many}`] : [];
  });
  return rows.length === 0 ? undefined : `This makes the graph harder to read: ${rows.join(', ')}.`;
}

/** Options of arranging that mean nothing where the whole graph is arranged. */
const ofSelections: ReadonlySet<string> = new Set(['what', 'hangers']);

/** While this key is held, the graph is shown as it was before. */
const beforeKey = 'b';

/** What an operation would do, before it does it: options to turn, numbers before and after, apply or drop. */
export function PreviewBar(): ReactNode {
  const preview = useEditor((state) => state.preview);
  const job = useEditor((state) => state.job);
  const apply = useRef<HTMLButtonElement>(null);
  const isThere = preview !== undefined;
  useEffect(() => {
    if (!isThere) return;
    apply.current?.focus();
    // what was said before lies where the numbers stand now
    toast.dismiss();
    // afterwards the keyboard is back where it acts
    return focusCanvas;
  }, [isThere]);
  if (!preview && !job) return null;
  return (
    <section
      aria-label="Preview"
      onKeyDown={(event) => {
        if (event.key === 'Escape') dropPreview();
        if (event.key === beforeKey && !isTyping(event.target)) useEditor.setState({ showsBefore: true });
      }}
      onKeyUp={(event) => event.key === beforeKey && useEditor.setState({ showsBefore: false })}
      className="shrink-0 border-t-2 border-accent bg-panel px-4 py-2.5"
    >
      {preview && <Shown preview={preview} apply={apply} waiting={job !== undefined} />}
      {job && (
        <div className={`flex items-center gap-3 text-sm ${preview ? 'mt-2' : ''}`}>
          <span>
            {job.title}
            {job.what && `, ${job.what}`} …
          </span>
          <progress className="h-2 w-48" value={job.fraction} max={1} aria-label={job.title} />
          <Button onClick={job.cancel}>Cancel</Button>
        </div>
      )}
    </section>
  );
}

const isTyping = (target: EventTarget): boolean =>
  target instanceof HTMLInputElement && target.type !== 'checkbox' && target.type !== 'range';

function Shown({
  preview,
  apply,
  waiting,
}: {
  preview: Preview;
  apply: React.RefObject<HTMLButtonElement | null>;
  waiting: boolean;
}): ReactNode {
  const one = preview.operation === undefined ? undefined : operationById(preview.operation);
  const review = preview.planned.review;
  const [options, setOptions] = useState<Record<string, unknown>>({ ...(one && defaultsOf(one)), ...preview.options });
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const turn = (name: string, value: unknown): void => turnAll({ ...options, [name]: value });
  const turnAll = (next: Record<string, unknown>): void => {
    setOptions(next);
    clearTimeout(timer.current);
    if (!one?.options.safeParse(next).success) return;
    if (one.live) void perform(one.id, next, preview.select);
    else timer.current = setTimeout(() => void perform(one.id, next, preview.select), 250);
  };
  const verdict = review && verdicts[review.fingerprint.verdict];
  const warning = review && worse(review);
  const [isSmall, setSmall] = useState(false);
  const isWhole = one?.id === 'arrange' && preview.select.length === 0;
  const doc = useEditor((state) => state.doc);
  const fields = one ? optionsOf(one, doc) : [];
  const linksOption = one?.id === 'arrange' ? fields.find(([name]) => name === 'links')?.[1] : undefined;
  const buttons = (
    <div className="ml-auto flex shrink-0 items-center gap-2">
      <Button
        title="Hold this button, or B, to see the graph as it was"
        onPointerDown={() => useEditor.setState({ showsBefore: true })}
        onPointerUp={() => useEditor.setState({ showsBefore: false })}
        onPointerLeave={() => useEditor.setState({ showsBefore: false })}
      >
        Hold to see before (B)
      </Button>
      <Button
        aria-expanded={!isSmall}
        onClick={() => {
          setSmall(!isSmall);
          if (isWhole) fitSoon();
        }}
      >
        {isSmall ? 'Show options' : 'Hide options'}
      </Button>
      <Button onClick={dropPreview}>Drop (Esc)</Button>
      <Button look="primary" ref={apply} dim={waiting ? 'Wait for the new preview.' : undefined} onClick={applyPreview}>
        Apply (Enter)
      </Button>
    </div>
  );
  // what an act costs is said, whatever else there is to say
  const opens = losses(preview.planned.report).some(({ rule }) => rule === inputOpened);
  if (isSmall)
    return (
      <div className="flex items-center gap-4 text-sm">
        <h2 className="font-bold">{preview.title}</h2>
        <span className={verdict?.look ?? 'text-soft'}>{verdict?.text ?? 'Measuring …'}</span>
        {warning && <span className="font-bold text-warn">{warning}</span>}
        {buttons}
      </div>
    );
  return (
    <div className="flex flex-col gap-2">
      <div className="flex items-center gap-x-4 text-sm">
        <h2 className="text-base font-bold">{preview.title}</h2>
        {/* the line keeps its place while a slider is turned */}
        <p className={`font-bold ${verdict?.look ?? 'text-soft'}`}>{verdict?.text ?? 'Measuring …'}</p>
        {buttons}
      </div>
      <div className="flex items-start gap-x-6">
        <div className="flex w-64 shrink-0 flex-col gap-0.5">
          <p className="text-sm text-soft" role="status">
            {/* what no single operation did may have done more than move */}
            {(!one || opens) && `${preview.planned.report.summary} `}
            {review && review.moves.count > 0
              ? `${review.moves.count.toLocaleString('en')} nodes move, ${review.moves.mean.toLocaleString('en')} px on average, ${review.moves.most.toLocaleString('en')} at the most`
              : one && !opens && preview.planned.report.summary}
          </p>
          {warning && (
            <p role="alert" className="text-sm font-bold text-bad">
              {warning}
            </p>
          )}
        </div>
        {preview.planned.report.findings.length > 0 && <Said findings={preview.planned.report.findings} />}
        {review && <Numbers before={review.before} after={review.after} />}
      </div>
      {isWhole && (
        <Proposals options={options} items={preview.select} onTake={(taken) => turnAll({ ...options, ...taken })} />
      )}
      {one?.id === 'nest' && (
        <PortNames
          preview={preview}
          names={(options.ports ?? []) as readonly PortName[]}
          onChange={(ports) => turn('ports', ports)}
        />
      )}
      {linksOption && (
        <WorstWires
          title={linksOption.title ?? 'Remote links'}
          options={options}
          items={preview.select}
          isTicked={options.links === true}
          onTick={(ticked) => turn('links', ticked)}
        />
      )}
      <div className="flex flex-wrap items-end gap-x-3 gap-y-1.5">
        {fields
          .filter(([name]) => !(linksOption && name === 'links') && (!isWhole || !ofSelections.has(name)))
          .map(([name, schema]) => (
            <OptionField
              key={name}
              name={name}
              schema={schema}
              value={options[name]}
              onChange={(value) => turn(name, value)}
            />
          ))}
      </div>
    </div>
  );
}

/** What could not be kept, by name, before what else is to be known. */
function Said({ findings }: { findings: readonly Finding[] }): ReactNode {
  const rows = [...findings].sort((a, b) => Number(a.severity === 'info') - Number(b.severity === 'info'));
  const lost = rows.filter((item) => item.severity !== 'info').length;
  return (
    <div className="flex min-w-0 max-w-md flex-col">
      <h3 className={`text-sm font-bold ${lost > 0 ? 'text-warn' : ''}`}>{lost > 0 ? `${lost} not kept` : 'Also'}</h3>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a list that scrolls is reached by key */}
      <ul tabIndex={0} aria-label="What could not be kept" className="max-h-28 overflow-auto text-xs">
        {rows.slice(0, 200).map((item, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the list does not change while it is shown
          <li key={i} className={item.severity === 'info' ? 'text-soft' : ''}>
            {item.message}
          </li>
        ))}
      </ul>
    </div>
  );
}

function Numbers({ before, after }: { before: Measures; after: Measures }): ReactNode {
  return (
    <table className="min-w-72 flex-1 text-sm tabular-nums">
      <thead className="sr-only">
        <tr>
          <th>Measure</th>
          <th>Before</th>
          <th>After</th>
        </tr>
      </thead>
      <tbody className="grid grid-cols-[repeat(auto-fill,minmax(18.5rem,1fr))] gap-x-5">
        {rows.map(({ field, title }) => (
          <tr key={field} className="flex items-baseline gap-1.5">
            <td className="w-34 whitespace-nowrap text-soft">{title}</td>
            <td className="w-18 text-right font-mono text-xs">{before[field].toLocaleString('en')}</td>
            <td aria-hidden="true">→</td>
            <td
              className={`w-18 font-mono text-xs ${after[field] < before[field] ? 'font-bold text-good' : after[field] > before[field] ? 'text-warn' : ''}`}
            >
              {after[field].toLocaleString('en')}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

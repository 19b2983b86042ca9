import type { Finding } from '@basitax/core/finding';
import type { Measures } from '@basitax/core/inspect/measure';
import { operationById } from '@basitax/core/operations';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../ui/controls.tsx';
import { applyPreview, dropPreview, perform } from '../actions.ts';
import { focusCanvas } from '../dialogs.ts';
import { type Preview, useEditor } from '../store.ts';
import { verdicts } from '../verdicts.ts';
import { defaultsOf, OptionField, optionsOf } from './operation-form.tsx';

const rows: readonly { field: keyof Measures; title: string }[] = [
  { field: 'crossings', title: 'crossings' },
  { field: 'throughNodes', title: 'wires through nodes' },
  { field: 'overlaps', title: 'overlaps' },
  { field: 'backward', title: 'backward wires' },
  { field: 'bends', title: 'bends' },
  { field: 'length', title: 'wire length, px' },
  { field: 'windows', title: 'windows spanned' },
];

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
    <section aria-label="Preview" onKeyDown={(event) => event.key === 'Escape' && dropPreview()} className="shrink-0 border-t-2 border-accent bg-panel px-4 py-2.5">
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

function Shown({ preview, apply, waiting }: { preview: Preview; apply: React.RefObject<HTMLButtonElement | null>; waiting: boolean }): ReactNode {
  const one = preview.operation === undefined ? undefined : operationById(preview.operation);
  const review = preview.planned.review;
  const [options, setOptions] = useState<Record<string, unknown>>({ ...(one && defaultsOf(one)), ...preview.options });
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const turn = (name: string, value: unknown): void => {
    const next = { ...options, [name]: value };
    setOptions(next);
    clearTimeout(timer.current);
    if (!one?.options.safeParse(next).success) return;
    if (one.live) void perform(one.id, next, preview.select);
    else timer.current = setTimeout(() => void perform(one.id, next, preview.select), 250);
  };
  const verdict = review && verdicts[review.fingerprint.verdict];
  return (
    <div className="flex flex-col gap-2">
      <div className="flex items-start gap-x-6">
        <div className="flex min-w-56 max-w-96 flex-col gap-0.5">
          <h2 className="font-bold">{preview.title}</h2>
          <p className="text-sm text-soft" role="status">
            {/* what no single operation did may have done more than move */}
            {!one && `${preview.planned.report.summary} `}
            {review && review.moves.count > 0
              ? `${review.moves.count.toLocaleString('en')} nodes move, ${review.moves.mean.toLocaleString('en')} px on average, ${review.moves.most.toLocaleString('en')} at the most`
              : one && preview.planned.report.summary}
          </p>
          {/* the line keeps its place while a slider is turned */}
          <p className={`min-h-5 text-sm font-bold ${verdict?.look ?? 'text-soft'}`}>{verdict?.text ?? 'Measuring …'}</p>
        </div>
        {preview.planned.report.findings.length > 0 && <Said findings={preview.planned.report.findings} />}
        {review && <Numbers before={review.before} after={review.after} />}
        <div className="ml-auto flex gap-2">
          <Button onClick={dropPreview}>Drop (Esc)</Button>
          <Button look="primary" ref={apply} dim={waiting ? 'Wait for the new preview.' : undefined} onClick={applyPreview}>
            Apply (Enter)
          </Button>
        </div>
      </div>
      <div className="flex flex-wrap items-end gap-x-3 gap-y-1.5">
        {(one ? optionsOf(one) : []).map(([name, schema]) => (
          <OptionField key={name} name={name} schema={schema} value={options[name]} onChange={(value) => turn(name, value)} />
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
      <ul tabIndex={0} aria-label="What could not be kept" className="max-h-16 overflow-auto text-xs">
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
    <table className="text-sm tabular-nums">
      <thead className="sr-only">
        <tr>
          <th>Measure</th>
          <th>Before</th>
          <th>After</th>
        </tr>
      </thead>
      <tbody className="grid grid-cols-2 gap-x-5">
        {rows.map(({ field, title }) => (
          <tr key={field} className="flex items-baseline gap-1.5">
            <td className="w-36 whitespace-nowrap text-soft">{title}</td>
            <td className="w-16 text-right font-mono text-xs">{before[field].toLocaleString('en')}</td>
            <td aria-hidden="true">→</td>
            <td className={`w-16 font-mono text-xs ${after[field] < before[field] ? 'font-bold text-good' : after[field] > before[field] ? 'text-warn' : ''}`}>
              {after[field].toLocaleString('en')}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

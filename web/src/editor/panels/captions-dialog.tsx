import { operationById } from '@basitax/core/operations';
import { captioned, captionOptions } from '@basitax/core/operations/captions';
import { Refused } from '@basitax/core/said';
import { type CaptionRow, captionRows, patternWords } from '@basitax/core/structure/captions';
import { type ReactNode, useDeferredValue, useMemo, useState } from 'react';
import { Button, Dialog } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { useEditing } from '../store.ts';
import { defaultsOf, OptionField, optionsOf } from './operation-form.tsx';

const operation = operationById('captions');
/** Rows that are shown; all are counted, and all are written. */
const mostShown = 300;
/** How wide the fields are that need more than a sixth of the row. */
const spans: Readonly<Record<string, string>> = {
  target: 'col-span-2',
  pattern: 'col-span-4',
  find: 'col-span-2',
  replace: 'col-span-2',
  regex: 'col-span-2',
  letters: 'col-span-2',
  prefix: 'col-span-2',
  suffix: 'col-span-2',
  order: 'col-span-2',
  mend: 'col-span-6',
};

/** Names, labels or titles of many at once, with each before and after. */
export function CaptionsDialog({ onClose }: { onClose: () => void }): ReactNode {
  const { doc, kinds, graph, selection } = useEditing();
  const [values, setValues] = useState<Record<string, unknown>>(() => ({
    ...defaultsOf(operation),
    target: selection.some((id) => doc.nodes.has(id)) ? 'label' : 'title',
  }));
  // typing stays quick while thousands of rows are worked out behind it
  const latest = useDeferredValue(values);
  const { rows, problem } = useMemo((): { rows: readonly CaptionRow[]; problem?: string } => {
    const parsed = captionOptions.safeParse(latest);
    if (!parsed.success) return { rows: [], problem: parsed.error.issues[0]?.message ?? 'Some options are not valid.' };
    const items = captioned(doc, { graph, items: selection }, parsed.data.target);
    try {
      return { rows: captionRows(doc, kinds, items, parsed.data) };
    } catch (error) {
      if (error instanceof Refused) return { rows: [], problem: error.message };
      throw error;
    }
  }, [doc, kinds, graph, selection, latest]);
  const changes = rows.filter((row) => row.after !== row.before && !row.problem);
  const refused = rows.filter((row) => row.problem);
  // what changes or cannot comes first
  const shown = [...refused, ...changes, ...rows.filter((row) => row.after === row.before && !row.problem)].slice(
    0,
    mostShown,
  );
  const options = optionsOf(operation).filter(([name]) => name !== 'mend' || values.target === 'name');
  return (
    <Dialog
      open
      onClose={onClose}
      size="wide"
      title={operation.title}
      about="The new text is on the right. Nothing changes until you apply it, and you can undo it."
    >
      <form
        className="flex min-h-0 flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (problem !== undefined || changes.length === 0) return;
          onClose();
          void perform('captions', values);
        }}
      >
        <div className="grid shrink-0 grid-cols-6 gap-x-3 gap-y-2">
          {options.map(([name, schema]) => (
            <div
              key={name}
              className={`flex flex-col justify-end [&_input:not([type=checkbox])]:w-full ${spans[name] ?? 'col-span-1'}`}
            >
              <OptionField
                name={name}
                schema={schema}
                value={values[name]}
                onChange={(value) => setValues((old) => ({ ...old, [name]: value }))}
              />
            </div>
          ))}
        </div>
        <p className="shrink-0 text-xs text-soft">
          In a pattern:{' '}
          {Object.entries(patternWords)
            .map(([word, about]) => `{${word}} ${about}`)
            .join(', ')}
          . Regular expressions are those of RE2, with groups as $1, $2.
        </p>
        {problem && (
          <p role="alert" className="text-warn">
            {problem}
          </p>
        )}
        <div className="min-h-24 flex-1 overflow-auto border-y border-line">
          <table className="w-full text-sm" aria-label="Before and after">
            <thead className="sticky top-0 bg-panel text-left text-soft">
              <tr>
                {values.target === 'label' && <th className="w-1/4 py-1 font-normal">Node</th>}
                <th className="w-1/4 py-1 font-normal">Before</th>
                <th className="w-1/3 font-normal">After</th>
                <th className="font-normal">What is said of it</th>
              </tr>
            </thead>
            <tbody>
              {shown.map((row) => (
                <tr key={row.id} className="border-t border-line align-top">
                  {values.target === 'label' && (
                    <td className="py-1 pr-2 break-words text-soft">{doc.nodes.get(row.id)?.name}</td>
                  )}
                  <td className="py-1 pr-2 break-words">{row.before || <span className="text-soft">none</span>}</td>
                  <td
                    className={`py-1 pr-2 break-words ${row.problem ? 'text-soft line-through' : row.after === row.before ? 'text-soft' : 'font-bold'}`}
                  >
                    {row.after || <span className="font-normal text-soft">none</span>}
                  </td>
                  <td className={`py-1 text-xs break-words ${row.problem ? 'text-warn' : 'text-soft'}`}>
                    {row.problem ?? row.remark ?? (row.after === row.before ? 'as it is' : '')}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {rows.length > mostShown && (
            <p className="py-1 text-xs text-soft">
              The first {mostShown} of {rows.length.toLocaleString('en')} are shown.
            </p>
          )}
          {rows.length === 0 && !problem && (
            <p className="py-3 text-center text-soft">Nothing of this type is selected.</p>
          )}
        </div>
        <Button
          type="submit"
          look="primary"
          className="shrink-0"
          dim={problem ?? (changes.length === 0 ? 'Nothing would change.' : undefined)}
        >
          Write {changes.length.toLocaleString('en')}
          {refused.length > 0 && `, leave ${refused.length.toLocaleString('en')} as they are`}
        </Button>
      </form>
    </Dialog>
  );
}

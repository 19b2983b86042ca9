import type { Catalogue } from '@basitax/core/document/catalogue';
import type { Doc } from '@basitax/core/document/doc';
import type { Edit } from '@basitax/core/edit/step';
import type { Finding } from '@basitax/core/finding';
import type { Verdict } from '@basitax/core/inspect/fingerprint';
import { Cancelled } from '@basitax/core/operation';
import { plural } from '@basitax/core/words';
import type { TaskInput, TaskResult } from '@basitax/core/work/tasks';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { useHouseRules } from '../../rules/house.ts';
import { workRunner } from '../../work/runner.ts';
import { verdicts } from '../verdicts.ts';

const meanings: Partial<Record<Verdict, string>> = {
  same: ' What the graph computes has not changed.',
  changed: ' The graph computes something else.',
};

/**
 * What a worker says of the changes, worked out beside the interface; undefined until it has, and where nothing is
 * asked.
 */
function useSaid<T extends 'verdict' | 'addedBy'>(
  task: T,
  asked: TaskInput<T> | undefined,
  base: Doc,
  catalogue: Catalogue,
): TaskResult<T> | undefined {
  const [said, setSaid] = useState<TaskResult<T>>();
  useEffect(() => {
    setSaid(undefined);
    if (!asked) return;
    const abort = new AbortController();
    workRunner
      .run(task, asked, { doc: base, catalogue, signal: abort.signal })
      .then(setSaid, (error: unknown) => !(error instanceof Cancelled) && console.error(error));
    return () => abort.abort();
  }, [task, asked, base, catalogue]);
  return said;
}

/** What is said of an edit before it is saved. */
export interface Checks {
  /** Undefined until it is known. */
  readonly verdict: Verdict | undefined;
  /** The errors that it adds, where house rules are asked on saving; undefined until they are known. */
  readonly added: readonly Finding[] | undefined;
  readonly asksRules: boolean;
  /** The project refuses a save that adds errors, and this one does. */
  readonly isRefused: boolean;
}

/** Asks the fingerprint and the house rules of an edit that was made on `base`. */
export function useChecks(fileId: string, edit: Edit, base: Doc, catalogue: Catalogue): Checks {
  const { rules } = useHouseRules(fileId);
  const { profile } = rules;
  const asksRules = rules.onSave !== 'off';
  const verdict = useSaid(
    'verdict',
    useMemo(() => ({ edit }), [edit]),
    base,
    catalogue,
  );
  const added = useSaid(
    'addedBy',
    useMemo(() => (asksRules ? { edit, profile } : undefined), [asksRules, edit, profile]),
    base,
    catalogue,
  );
  return { verdict, added, asksRules, isRefused: rules.onSave === 'refuse' && (added?.length ?? 0) > 0 };
}

const mostErrors = 6;

export function ChecksSaid({ checks: { verdict, added, asksRules, isRefused } }: { checks: Checks }): ReactNode {
  return (
    <>
      <p className={`text-sm font-bold ${verdict ? verdicts[verdict].look : 'text-soft'}`} role="status">
        {verdict ? `${verdicts[verdict].text}.${meanings[verdict] ?? ''}` : 'Function fingerprint: comparing …'}
      </p>
      {asksRules && (
        <div className="text-sm" role="status">
          {added === undefined ? (
            <p className="text-soft">House rules: looking …</p>
          ) : added.length === 0 ? (
            <p className="text-good">House rules: no new errors.</p>
          ) : (
            <>
              <p className="font-bold text-warn">
                House rules: {plural(added.length, 'new error')}.
                {isRefused && ' This project refuses to save that: mend them, or undo what brought them.'}
              </p>
              <ul className="list-disc pl-5">
                {added.slice(0, mostErrors).map((item) => (
                  <li key={`${item.rule} ${item.place.join()} ${item.message}`}>{item.message}</li>
                ))}
                {added.length > mostErrors && <li>{plural(added.length - mostErrors, 'other')}</li>}
              </ul>
            </>
          )}
        </div>
      )}
    </>
  );
}

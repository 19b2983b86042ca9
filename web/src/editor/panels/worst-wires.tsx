import type { WorstOutput } from '@basitax/core/remote/worst';
import { plural } from '@basitax/core/words';
import type { ReactNode } from 'react';
import { Field } from '../../ui/controls.tsx';
import { measureRunner } from '../../work/runner.ts';
import { plannedSeed } from '../actions.ts';
import { useTask } from '../inspect/use-task.ts';
import { useEditor } from '../store.ts';

/** The tick that takes remote links into the same step, beside what the worst outputs would save by it. */
export function WorstWires({
  title,
  options,
  items,
  isTicked,
  onTick,
}: {
  title: string;
  options: Readonly<Record<string, unknown>>;
  items: readonly string[];
  isTicked: boolean;
  onTick: (ticked: boolean) => void;
}): ReactNode {
  const graph = useEditor((state) => state.graph);
  // beside the proposals and not after them; which outputs hurt does not hang on how long arranging takes, nor on the
  // tick itself
  const { quality: _quality, links: _links, ...others } = options;
  const { answer, problem } = useTask(
    'worst',
    { selection: { graph, items }, seed: plannedSeed, options: others },
    measureRunner,
  );
  return (
    <div className="flex items-center gap-x-4 text-sm whitespace-nowrap">
      <Field label={title} inline>
        <input
          type="checkbox"
          className="order-first size-4 accent-accent"
          checked={isTicked}
          onChange={(event) => onTick(event.target.checked)}
        />
      </Field>
      <p className="min-w-0 text-xs whitespace-normal text-soft tabular-nums" aria-live="polite">
        {problem ??
          (!answer ? (
            'Looking for the worst wires …'
          ) : answer.length === 0 ? (
            'No wire is bad enough to be worth a remote link.'
          ) : (
            <Savings outputs={answer} />
          ))}
      </p>
    </div>
  );
}

function Savings({ outputs }: { outputs: readonly WorstOutput[] }): ReactNode {
  return (
    <>
      {outputs[0]?.isEstimate ? 'What each would save on its own, estimated' : 'What each would save on its own'}:{' '}
      {outputs.map(({ node, port, wires, saves }, i) => (
        <span key={`${node} ${port}`}>
          {i > 0 && '; '}
          <b className="font-bold text-ink">
            {node}.{port}
          </b>{' '}
          ({plural(wires, 'wire')}), {plural(saves.crossings, 'crossing')} and {plural(saves.windows, 'window')}
        </span>
      ))}
      .
    </>
  );
}

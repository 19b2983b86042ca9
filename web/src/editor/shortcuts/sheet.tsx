import type { ReactNode } from 'react';
import { areas } from '../command.ts';
import { commandById } from '../commands.ts';
import { useEditing } from '../store.ts';
import { following, spell } from './bindings.ts';
import { useKeys } from './keys-store.ts';

/** What may follow the first key of a sequence, as soon as it is pressed. */
export function Sheet(): ReactNode {
  const first = useKeys((state) => state.first);
  return first === undefined ? null : <Following first={first} />;
}

function Following({ first }: { first: string }): ReactNode {
  const bindings = useKeys((state) => state.bindings);
  const state = useEditing();
  const acts = following(bindings, first);
  const area = areas.find((one) => one.key === first);
  return (
    <section
      role="status"
      aria-label="Keys that may follow"
      className="absolute inset-x-0 bottom-0 z-20 mx-auto w-max max-w-[96%] rounded-t border border-b-0 border-edge bg-panel px-4 py-3 text-sm shadow-lg"
    >
      <h2 className="mb-2 font-bold">
        <kbd>{spell(first)}</kbd> {area?.title}{' '}
        <span className="font-normal text-soft">· now the second key, or Escape</span>
      </h2>
      <ul className="grid max-h-[50vh] grid-flow-row grid-cols-2 gap-x-6 overflow-auto xl:grid-cols-3">
        {acts.map(({ key, act }) => {
          const command = commandById(act);
          const reason = command?.dim(state);
          return (
            <li
              key={key}
              className={`flex min-w-0 items-baseline gap-2 py-0.5 ${reason ? 'text-soft' : ''}`}
              title={reason}
            >
              <kbd className="w-7 shrink-0 rounded-sm border border-line bg-ticket text-center font-mono text-xs">
                {spell(key)}
              </kbd>
              <span className={reason ? 'line-through decoration-line' : ''}>{command?.title}</span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

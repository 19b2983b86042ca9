import type { GraphNode } from '@basitax/core/document/schema';
import type { ReactNode } from 'react';
import { Button, Field } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { openDialog } from '../dialogs.ts';
import { Draft } from './draft.tsx';

const captionTitles = {
  usual: 'Label or name, and kind',
  name: 'Name',
  label: 'Label',
  kind: 'Kind',
  nothing: 'Nothing',
} as const;

/** The value that all have, or undefined where they differ. */
function shared<T>(values: readonly T[]): T | undefined {
  return values.every((value) => value === values[0]) ? values[0] : undefined;
}

/**
 * How the given nodes are shown: open or closed, which ports, caption, picture. `all`: they are all of the graph, and
 * nothing is selected.
 */
export function DetailSection({
  nodes,
  locked,
  all = false,
}: {
  nodes: readonly GraphNode[];
  locked: boolean;
  all?: boolean;
}): ReactNode {
  const ids = all ? undefined : nodes.map((node) => node.id);
  const closed = shared(nodes.map((node) => node.closed === true));
  const some = shared(nodes.map((node) => node.show !== undefined));
  const main = shared(nodes.map((node) => node.show?.main === true)) ?? false;
  const text = shared(nodes.map((node) => node.show?.text ?? '')) ?? '';
  const caption = shared(nodes.map((node) => node.caption ?? 'usual'));
  const pictured = nodes.filter((node) => node.picture !== undefined);
  const isHidden = shared(pictured.map((node) => node.pictureOff === true));
  const ports = (next: { ports?: 'all' | 'some'; main?: boolean; text?: string }): void =>
    void perform('show-ports', { ports: 'some', main, text, ...next }, ids);
  return (
    <section aria-label="Detail" className="flex flex-col gap-2">
      <h3 className="font-bold">{all ? 'Detail of all nodes' : 'Detail'}</h3>
      <Choice
        label="Node"
        value={closed === undefined ? 'mixed' : closed ? 'closed' : 'open'}
        choices={{ open: 'Open', closed: 'Closed' }}
        locked={locked}
        onChoose={(value) => void perform(value === 'closed' ? 'close' : 'open', {}, ids)}
      />
      <Choice
        label="Ports"
        value={some === undefined ? 'mixed' : some ? 'some' : 'all'}
        choices={{ all: 'All', some: 'Wired and chosen' }}
        locked={locked}
        onChoose={(value) => ports({ ports: value as 'all' | 'some' })}
      />
      {some && (
        <div className="ml-2 flex flex-col gap-1.5 border-l border-line pl-2">
          <Field label="Main ports" inline>
            <input
              type="checkbox"
              className="order-first size-4 accent-accent"
              checked={main}
              disabled={locked}
              onChange={(event) => ports({ main: event.target.checked })}
            />
          </Field>
          <Field label="Ports with this in their name">
            <Draft value={text} locked={locked} onTake={async (value) => ports({ text: value })} />
          </Field>
        </div>
      )}
      <Choice
        label="Caption"
        value={caption ?? 'mixed'}
        choices={captionTitles}
        locked={locked}
        onChoose={(value) => void perform('caption', { caption: value }, ids)}
      />
      <div className="flex items-center gap-2">
        <span className="mr-auto text-soft">Picture</span>
        {pictured.length > 0 && (
          <Button
            className="h-7"
            dim={locked ? 'Nothing can be changed now.' : undefined}
            onClick={() => void perform(isHidden === true ? 'show-pictures' : 'hide-pictures', {}, ids)}
          >
            {isHidden === true ? 'Show' : 'Hide'}
          </Button>
        )}
        {!all && (
          <Button
            className="h-7"
            dim={locked ? 'Nothing can be changed now.' : undefined}
            onClick={() => openDialog({ operation: 'set-picture' })}
          >
            {pictured.length > 0 ? 'Change' : 'Set'}
          </Button>
        )}
        {all && pictured.length === 0 && <span className="text-soft">none</span>}
      </div>
    </section>
  );
}

function Choice<T extends string>({
  label,
  value,
  choices,
  locked,
  onChoose,
}: {
  label: string;
  value: T | 'mixed';
  choices: Readonly<Record<T, string>>;
  locked: boolean;
  onChoose: (value: T) => void;
}): ReactNode {
  return (
    <label className="flex items-center gap-2">
      <span className="w-16 shrink-0 text-soft">{label}</span>
      <select
        aria-label={label}
        className="h-8 min-w-0 flex-1 rounded-sm border border-edge bg-ticket px-1.5"
        value={value}
        disabled={locked}
        onChange={(event) => onChoose(event.target.value as T)}
      >
        {value === 'mixed' && (
          <option value="mixed" disabled>
            mixed
          </option>
        )}
        {(Object.entries(choices) as [T, string][]).map(([id, title]) => (
          <option key={id} value={id}>
            {title}
          </option>
        ))}
      </select>
    </label>
  );
}

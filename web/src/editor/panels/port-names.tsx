import { caption, type Doc, indexOf } from '@basitax/core/document/doc';
import { nameShape } from '@basitax/core/document/names';
import type { GraphNode, Port } from '@basitax/core/document/schema';
import { apply } from '@basitax/core/edit/step';
import type { PortName } from '@basitax/core/structure/nest';
import { type ReactNode, useMemo, useState } from 'react';
import { TextInput } from '../../ui/controls.tsx';
import { type Preview, useEditor } from '../store.ts';

/**
 * The ports that a graph to be nested will have, each with what it carries from where or for whom; their names can be
 * changed before it is done.
 */
export function PortNames({
  preview,
  names,
  onChange,
}: {
  preview: Preview;
  names: readonly PortName[];
  onChange(names: readonly PortName[]): void;
}): ReactNode {
  const doc = useEditor((state) => state.doc);
  const { edit, report } = preview.planned;
  const after = useMemo(() => apply(doc, edit), [doc, edit]);
  const host = after.nodes.get(report.select?.[0] ?? '');
  if (!host || host.ports.length === 0) return null;
  return (
    <div className="flex gap-x-8 text-sm">
      {(['in', 'out'] as const).map((direction) => {
        const ports = host.ports.filter((port) => port.direction === direction);
        return (
          ports.length > 0 && (
            <fieldset key={direction} className="flex min-w-0 flex-1 flex-col gap-1">
              <legend className="font-bold">{direction === 'in' ? 'Inputs' : 'Outputs'}</legend>
              <ul className="flex max-h-28 flex-col gap-1 overflow-auto">
                {ports.map((port, row) => (
                  <li key={port.id} className="grid grid-cols-[minmax(8rem,14rem)_1fr] items-center gap-2">
                    <NameField
                      key={port.name}
                      label={`Name of the ${direction === 'in' ? 'input' : 'output'} ${port.name}`}
                      name={port.name}
                      onTake={(name) =>
                        onChange([
                          ...names.filter((one) => one.direction !== direction || one.row !== row),
                          { direction, row, name },
                        ])
                      }
                    />
                    <span className="truncate text-xs text-soft">{otherSide(after, host, port)}</span>
                  </li>
                ))}
              </ul>
            </fieldset>
          )
        );
      })}
    </div>
  );
}

/** A name that is taken with Enter or on leaving, where it can be one. */
function NameField({ label, name, onTake }: { label: string; name: string; onTake(name: string): void }): ReactNode {
  const [problem, setProblem] = useState<string>();
  const take = (text: string): void => {
    const why = text === name ? undefined : nameShape(text)?.message;
    setProblem(why);
    if (text !== name && why === undefined) onTake(text);
  };
  return (
    <TextInput
      className={`font-mono ${problem ? 'border-bad' : ''}`}
      aria-label={label}
      aria-invalid={problem !== undefined}
      title={problem}
      defaultValue={name}
      onBlur={(event) => take(event.target.value)}
      onKeyDown={(event) => {
        // the names stay open: what is previewed is applied by its own button
        event.stopPropagation();
        if (event.key === 'Enter') take(event.currentTarget.value);
      }}
    />
  );
}

/** Where a port of the new graph gets what it carries, or who takes it, outside. */
function otherSide(doc: Doc, host: GraphNode, port: Port): string {
  const title = (id: string): string => {
    const node = doc.nodes.get(id);
    return node ? `“${caption(node)}”` : '';
  };
  if (port.direction === 'in') {
    const wire = indexOf(doc).wireInto(host.id, port.id);
    return wire ? `from ${title(wire.from.node)}` : '';
  }
  const takers = indexOf(doc).wiresOutOf(host.id, port.id);
  const [first] = takers;
  return first ? `to ${title(first.to.node)}${takers.length > 1 ? ` and ${takers.length - 1} more` : ''}` : '';
}

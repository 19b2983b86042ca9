import type { ParameterSpec } from '@basitax/core/document/catalogue';
import type { Json } from '@basitax/core/document/json';
import { isExpression } from '@basitax/core/document/kinds';
import type { GraphNode } from '@basitax/core/document/schema';
import type { ReactNode } from 'react';
import { Field } from '../../ui/controls.tsx';
import { setParameter } from '../actions.ts';
import { Draft } from './draft.tsx';

/** One parameter of a node, by its type. */
export function ParameterField({ node, spec, value, locked }: { node: GraphNode; spec: ParameterSpec; value: Json | undefined; locked: boolean }): ReactNode {
  const shown = value ?? spec.default;
  const set = (next: Json | undefined): Promise<void> => setParameter([node.id], spec.id, next);
  const label = spec.title;
  // what was set is told from what is the default
  const hint = [spec.unit, value === undefined ? undefined : 'set'].filter(Boolean).join(', ') || undefined;
  if (isExpression(shown)) {
    return (
      <Field label={label} hint="expression">
        <code className="truncate font-mono text-xs">{shown.expression.map((part) => (typeof part === 'string' ? part : `${part.node}.${part.parameter}`)).join('')}</code>
      </Field>
    );
  }
  if (spec.type === 'boolean') {
    return (
      <Field label={label} hint={hint} inline>
        <input type="checkbox" className="order-first size-4 accent-accent" checked={shown === true} disabled={locked} onChange={(event) => void set(event.target.checked)} />
      </Field>
    );
  }
  if (spec.type === 'choice') {
    return (
      <Field label={label} hint={hint}>
        <select className="h-8 rounded-sm border border-edge bg-ticket px-2" value={String(shown)} disabled={locked} onChange={(event) => void set(event.target.value)}>
          {spec.choices?.map((choice) => (
            <option key={choice}>{choice}</option>
          ))}
        </select>
      </Field>
    );
  }
  if (spec.type === 'color') {
    return (
      <Field label={label} inline>
        <input type="color" className="order-first h-7 w-10" value={String(shown)} disabled={locked} onChange={(event) => void set(event.target.value)} />
        <code className="font-mono text-xs">{String(shown)}</code>
      </Field>
    );
  }
  const isText = spec.type === 'text' || spec.type === 'path' || spec.type === 'expression';
  const parse = (text: string): Json | undefined => {
    if (text === '' && !isText) return undefined;
    if (isText) return text === spec.default ? undefined : text;
    if (spec.type === 'vector')
      return text
        .split(/[\s,]+/)
        .filter(Boolean)
        .map(Number);
    return Number(text);
  };
  return (
    <Field label={label} hint={hint}>
      <Draft mono value={Array.isArray(shown) ? shown.join(', ') : String(shown)} locked={locked} onTake={(text) => set(parse(text))} />
    </Field>
  );
}

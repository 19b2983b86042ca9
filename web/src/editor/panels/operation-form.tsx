import type { Doc } from '@basitax/core/document/doc';
import { hasReadings } from '@basitax/core/document/expressions';
import type { Operation } from '@basitax/core/operation';
import { operations } from '@basitax/core/operations';
import { feedsOf } from '@basitax/core/wiring/feeds';
import { type ReactNode, useState } from 'react';
import { z } from 'zod';
import { Button, Dialog, Field, TextInput } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { useEditing } from '../store.ts';
import { NamedSelect, NodeSelect, PictureField, PlaceSelect, ScopeSelect } from './choosers.tsx';
import { ColorField } from './color-field.tsx';

export interface OptionSchema {
  readonly type?: string;
  readonly title?: string;
  readonly unit?: string;
  readonly hint?: string;
  readonly description?: string;
  readonly default?: unknown;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly step?: number;
  readonly enum?: readonly string[];
  /** The part of the range that a slider covers. */
  readonly slider?: readonly [number, number];
  /** What the value is chosen from, where that is in the document. */
  readonly choose?:
    | 'frame'
    | 'graph'
    | 'picture'
    | 'query'
    | 'kind'
    | 'input'
    | 'output'
    | 'shared'
    | 'beacon'
    | 'color'
    | 'set'
    | 'shared-kind'
    | 'scope';
  /** Asked for only in files that have these. */
  readonly only?: 'feeds' | 'expressions';
  /** Text of several lines. */
  readonly long?: boolean;
}

/**
 * The options of an operation as JSON Schema says them: what forms are made from. Ends of wires are not typed: they are
 * chosen on the canvas. With a document, those alone that mean something in it.
 */
export function optionsOf(one: Operation, doc?: Doc): [string, OptionSchema][] {
  const has = (only: OptionSchema['only']): boolean =>
    !doc || only === undefined || (only === 'feeds' ? feedsOf(doc).length > 0 : hasReadings(doc));
  return optionsIn(one.options).filter(
    ([, option]) => option.type !== 'object' && option.type !== 'array' && has(option.only),
  );
}

/** The same of any schema of options, whatever their types. */
export function optionsIn(options: z.ZodType): [string, OptionSchema][] {
  const schema = z.toJSONSchema(options, { io: 'input', unrepresentable: 'any' }) as {
    properties?: Record<string, OptionSchema>;
  };
  return Object.entries(schema.properties ?? {});
}

interface FieldProps {
  readonly label: string;
  readonly hint: string | undefined;
  readonly schema: OptionSchema;
  readonly value: unknown;
  readonly onChange: (value: unknown) => void;
}

function YesNoField({ label, hint, value, onChange }: FieldProps): ReactNode {
  return (
    <Field label={label} hint={hint} inline>
      <input
        type="checkbox"
        className="order-first size-4 accent-accent"
        checked={value === true}
        onChange={(event) => onChange(event.target.checked)}
      />
    </Field>
  );
}

/** A number, with a slider where both its ends are known and near. */
function NumberField({ label, hint, schema, value, onChange }: FieldProps): ReactNode {
  const isShort = schema.minimum !== undefined && schema.maximum !== undefined && schema.maximum <= 1;
  const slider = schema.slider ?? (isShort ? ([schema.minimum, schema.maximum] as const) : undefined);
  return (
    <Field label={label} hint={hint}>
      <span className="flex items-center gap-2">
        {slider && (
          <input
            type="range"
            aria-label={label}
            className="w-28 accent-accent"
            min={slider[0]}
            max={slider[1]}
            step={schema.step ?? 0.1}
            value={Number(value ?? 0)}
            onChange={(event) => onChange(Number(event.target.value))}
          />
        )}
        <TextInput
          type="number"
          aria-label={label}
          className="w-24 font-mono"
          min={schema.minimum}
          max={schema.maximum}
          step={schema.step ?? 'any'}
          value={value === undefined ? '' : String(value)}
          onChange={(event) => onChange(event.target.value === '' ? undefined : Number(event.target.value))}
        />
      </span>
    </Field>
  );
}

/** One of what the file or its catalogue has; a colour, a picture. */
function ChosenField({ label, hint, schema, value, onChange }: FieldProps): ReactNode {
  const text = String(value ?? '');
  switch (schema.choose) {
    case 'color':
      return <ColorField label={label} value={text || undefined} none="None" onTake={onChange} />;
    case 'picture':
      return (
        <Field label={label} hint={hint}>
          <PictureField value={value as string | undefined} onChange={onChange} />
        </Field>
      );
    case 'frame':
    case 'graph':
      return (
        <Field label={label} hint={hint}>
          <PlaceSelect what={schema.choose} value={text} onChange={onChange} />
        </Field>
      );
    case 'scope':
      return (
        <Field label={label} hint={hint}>
          <ScopeSelect value={text} onChange={onChange} />
        </Field>
      );
    case 'set':
    case 'shared-kind':
      return (
        <Field label={label} hint={hint}>
          <NamedSelect what={schema.choose} value={text} onChange={onChange} />
        </Field>
      );
    case 'kind':
    case 'input':
    case 'output':
    case 'shared':
      return (
        <Field label={label} hint={hint}>
          <NodeSelect what={schema.choose} value={text} onChange={onChange} />
        </Field>
      );
    default:
      return <TextField label={label} hint={hint} schema={schema} value={value} onChange={onChange} />;
  }
}

function EnumField({ label, hint, schema, value, onChange }: FieldProps): ReactNode {
  return (
    <Field label={label}>
      <select
        title={hint}
        className="h-8 rounded-sm border border-line bg-ticket px-1.5 text-sm"
        aria-label={label}
        value={String(value ?? '')}
        onChange={(event) => onChange(event.target.value)}
      >
        {schema.enum?.map((one) => (
          <option key={one} value={one}>
            {one}
          </option>
        ))}
      </select>
    </Field>
  );
}

function TextField({ label, hint, schema, value, onChange }: FieldProps): ReactNode {
  return (
    <Field label={label} hint={hint}>
      {schema.long ? (
        <textarea
          rows={6}
          className="min-w-0 resize-y rounded-sm border border-edge bg-ticket px-2 py-1 font-mono text-sm"
          value={String(value ?? '')}
          onChange={(event) => onChange(event.target.value)}
        />
      ) : (
        <TextInput value={String(value ?? '')} onChange={(event) => onChange(event.target.value)} />
      )}
    </Field>
  );
}

/** What has no field of its own, as JSON; text that is none yet is kept while it is typed. */
function JsonField({ label, hint, value, onChange }: FieldProps): ReactNode {
  return (
    <Field label={label} hint={hint ?? 'JSON'}>
      <TextInput
        className="font-mono"
        defaultValue={value === undefined ? '' : JSON.stringify(value)}
        onChange={(event) => {
          try {
            onChange(event.target.value === '' ? undefined : JSON.parse(event.target.value));
          } catch {
            onChange(event.target.value);
          }
        }}
      />
    </Field>
  );
}

function fieldFor(schema: OptionSchema): (props: FieldProps) => ReactNode {
  if (schema.type === 'boolean') return YesNoField;
  if (schema.type === 'number' || schema.type === 'integer') return NumberField;
  if (schema.choose !== undefined) return ChosenField;
  if (schema.enum && !schema.long) return EnumField;
  return schema.long || schema.type === 'string' ? TextField : JsonField;
}

/** One field for one option, whatever its type; values of other types are typed as JSON. */
export function OptionField({
  name,
  schema,
  value,
  onChange,
}: {
  name: string;
  schema: OptionSchema;
  value: unknown;
  onChange: (value: unknown) => void;
}): ReactNode {
  const Shown = fieldFor(schema);
  const label = schema.title ?? name;
  return <Shown label={label} hint={schema.unit ?? schema.hint} schema={schema} value={value} onChange={onChange} />;
}

export const defaultsOf = (one: Operation): Record<string, unknown> =>
  Object.fromEntries(
    optionsOf(one).flatMap(([name, schema]) => (schema.default === undefined ? [] : [[name, schema.default]])),
  );

/** Asks for the options of an operation before it is done. */
export function OperationDialog({
  id,
  items,
  onClose,
}: {
  id: string;
  items?: readonly string[] | undefined;
  onClose: () => void;
}): ReactNode {
  const one = operations.find((candidate) => candidate.id === id);
  const { doc } = useEditing();
  const [values, setValues] = useState<Record<string, unknown>>(() => (one ? defaultsOf(one) : {}));
  if (!one) return null;
  const complete = one.options.safeParse(values).success;
  return (
    <Dialog open onClose={onClose} title={one.title} about={one.about}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (!complete) return;
          onClose();
          void perform(one.id, values, items);
        }}
      >
        {optionsOf(one, doc).map(([name, schema]) => (
          <OptionField
            key={name}
            name={name}
            schema={schema}
            value={values[name]}
            onChange={(value) => setValues((old) => ({ ...old, [name]: value }))}
          />
        ))}
        <Button type="submit" look="primary" dim={complete ? undefined : 'Fill in what is missing'}>
          {one.preview === 'first' ? 'Show what it does' : one.title}
        </Button>
      </form>
    </Dialog>
  );
}

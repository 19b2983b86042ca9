import type { Json } from '@basitax/core/document/json';
import type { ScriptOptionSpec, ScriptOptions, ScriptValues } from '@basitax/core/script/options';
import type { ReactNode } from 'react';
import { OptionField, type OptionSchema } from '../panels/operation-form.tsx';

const types = { number: 'number', integer: 'integer', 'yes or no': 'boolean' } as const;

/** An option of a script as forms of operations know theirs. */
function schemaOf(name: string, { type, title, hint, unit, min, max, choices }: ScriptOptionSpec): OptionSchema {
  return {
    type: type in types ? types[type as keyof typeof types] : 'string',
    title: title ?? name,
    ...(unit !== undefined && { unit }),
    ...(hint !== undefined && { hint }),
    ...(min !== undefined && { minimum: min }),
    ...(max !== undefined && { maximum: max }),
    ...(choices !== undefined && { enum: choices }),
    ...((type === 'color' || type === 'kind') && { choose: type }),
  };
}

/** The form that a script’s options make. */
export function ScriptOptionFields({
  options,
  values,
  onChange,
}: {
  options: ScriptOptions;
  values: ScriptValues;
  onChange: (values: ScriptValues) => void;
}): ReactNode {
  const names = Object.entries(options);
  if (names.length === 0) return null;
  return (
    <fieldset className="flex flex-wrap items-end gap-x-4 gap-y-2 rounded-sm border border-line px-2.5 pt-1 pb-2.5">
      <legend className="px-1 text-xs text-soft">Options</legend>
      {names.map(([name, option]) => (
        <OptionField
          key={name}
          name={name}
          schema={schemaOf(name, option)}
          value={values[name] ?? option.default}
          onChange={(value) => {
            const { [name]: _old, ...rest } = values;
            onChange(value === undefined ? rest : { ...rest, [name]: value as Json });
          }}
        />
      ))}
    </fieldset>
  );
}

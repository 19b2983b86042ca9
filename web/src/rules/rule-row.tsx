import type { Profile } from '@basitax/core/rules/profile-schema';
import type { Rule } from '@basitax/core/rules/rule';
import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { OptionField, type OptionSchema, optionsIn } from '../editor/panels/operation-form.tsx';
import { Field, Select, TextInput } from '../ui/controls.tsx';

type Setting = Profile['rules'][string];

const severities = { error: 'Error', warning: 'Warning', info: 'Hint', off: 'Off' } as const;
export const severityWords: Readonly<Record<string, string>> = severities;

/** A list of words, with commas between: typed freely, told when it is left. */
function Words({
  label,
  hint,
  value,
  onChange,
}: {
  label: string;
  hint: string | undefined;
  value: readonly string[];
  onChange: (value: string[]) => void;
}): ReactNode {
  const [text, setText] = useState(value.join(', '));
  const words = (): string[] =>
    text
      .split(',')
      .map((word) => word.trim())
      .filter(Boolean);
  return (
    <Field label={label} hint={hint ?? 'with commas between'}>
      <TextInput value={text} onChange={(event) => setText(event.target.value)} onBlur={() => onChange(words())} />
    </Field>
  );
}

/** A house rule as a project has it: how grave, about what, with which limits. */
export function RuleRow({
  rule,
  setting,
  isOn,
  dim,
  onChange,
}: {
  rule: Rule;
  setting: Setting | undefined;
  /** Looked for as things stand, whoever says so. */
  isOn: boolean;
  dim: boolean;
  /** Undefined: as if nobody had said anything. */
  onChange: (setting: Setting | undefined) => void;
}): ReactNode {
  const [scoped, setScoped] = useState(setting?.where !== undefined);
  const options = rule.options ? optionsIn(rule.options) : [];
  const value = setting === undefined ? 'usual' : (setting.severity ?? 'on');
  const usual = rule.optional ? 'Default: off' : `Default: ${severities[rule.severity].toLowerCase()}`;
  const choose = (next: string): void => {
    const { severity: _old, ...rest } = setting ?? {};
    if (next === 'usual') onChange(undefined);
    else onChange(next === 'on' ? rest : { ...rest, severity: next as NonNullable<Setting['severity']> });
  };
  const set = (name: string, next: unknown): void => {
    const { [name]: _old, ...others } = setting?.options ?? {};
    const all = next === undefined ? others : { ...others, [name]: next };
    const { options: _options, ...rest } = setting ?? {};
    onChange(Object.keys(all).length > 0 ? { ...rest, options: all as NonNullable<Setting['options']> } : rest);
  };
  return (
    <li
      className={`grid grid-cols-[1fr_11rem] gap-x-4 gap-y-2 border-t border-line py-2.5 ${isOn ? '' : 'opacity-70'}`}
    >
      <div>
        <Link to={`/rules/${rule.id}`} className="font-bold underline decoration-line underline-offset-2">
          {rule.title}
        </Link>
        <p className="text-sm text-soft">{rule.why}</p>
      </div>
      <Select
        aria-label={`Severity: ${rule.title}`}
        disabled={dim}
        value={value}
        onChange={(event) => choose(event.target.value)}
      >
        <option value="usual">{usual}</option>
        {rule.optional && <option value="on">On, as {severities[rule.severity].toLowerCase()}</option>}
        {value === 'on' && !rule.optional && (
          <option value="on">On, as {severities[rule.severity].toLowerCase()}</option>
        )}
        {Object.entries(severities).map(([id, title]) => (
          <option key={id} value={id}>
            {title}
          </option>
        ))}
      </Select>
      {isOn && (
        <fieldset disabled={dim} className="col-span-2 flex flex-wrap items-end gap-x-4 gap-y-1">
          <legend className="sr-only">How {rule.title} is set</legend>
          {options.map(([name, schema]) => {
            const now = setting?.options?.[name] ?? schema.default;
            if (schema.type === 'array')
              return (
                <Words
                  key={`${name} ${JSON.stringify(now)}`}
                  label={labelOf(name)}
                  hint={schema.description}
                  value={(now as string[] | undefined) ?? []}
                  onChange={(next) => set(name, next.length > 0 ? next : undefined)}
                />
              );
            return (
              <OptionField
                key={name}
                name={name}
                schema={{ ...schema, title: labelOf(name), ...hintOf(schema) }}
                value={now}
                onChange={(next) => set(name, next === schema.default ? undefined : next)}
              />
            );
          })}
          {scoped ? (
            <Field label="Only about" hint="nodes like this query; empty for all">
              <TextInput
                className="w-64 font-mono"
                value={setting?.where ?? ''}
                maxLength={2000}
                placeholder="kind:read"
                onChange={(event) => {
                  const { where: _old, ...rest } = setting ?? {};
                  onChange(event.target.value === '' ? rest : { ...rest, where: event.target.value });
                }}
              />
            </Field>
          ) : (
            <button
              type="button"
              className="text-xs text-soft underline disabled:hidden"
              aria-label={`Only some nodes: ${rule.title}`}
              onClick={() => setScoped(true)}
            >
              Only some nodes …
            </button>
          )}
        </fieldset>
      )}
    </li>
  );
}

const hintOf = (schema: OptionSchema): { hint?: string } =>
  schema.description === undefined ? {} : { hint: schema.description };
const labelOf = (name: string): string =>
  name.replace(/([A-Z])/g, ' $1').replace(/^./, (letter) => letter.toUpperCase());

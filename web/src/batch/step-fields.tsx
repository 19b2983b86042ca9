import { type Mapping, mappingSchema } from '@basitax/core/batch/mapping';
import type { RuleStep, Step } from '@basitax/core/batch/recipe';
import { jsonAs } from '@basitax/core/formats/json-as';
import { must } from '@basitax/core/must';
import { operations } from '@basitax/core/operations';
import { profileSchema } from '@basitax/core/rules/profile-schema';
import { rules } from '@basitax/core/rules/rules';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import type { z } from 'zod';
import { api } from '../api/client.ts';
import { defaultsOf, OptionField, type OptionSchema, optionsOf } from '../editor/panels/operation-form.tsx';
import { ScriptOptionFields } from '../editor/script/script-options.tsx';
import { synonyms } from '../editor/synonyms.ts';
import { Choice } from '../ui/choice.tsx';
import { Button, Check, Field, FileButton, TextInput } from '../ui/controls.tsx';

/** The form of a step. */
export function StepFields({ step, onChange }: { step: Step; onChange: (step: Step) => void }): ReactNode {
  switch (step.do) {
    case 'operation':
      return <OperationFields step={step} onChange={onChange} />;
    case 'script':
      return <ScriptFields step={step} onChange={onChange} />;
    case 'fix':
      return <RuleFields step={step} onChange={onChange} />;
    case 'check':
      return (
        <>
          <RuleFields step={step} onChange={onChange} />
          <Field label="The file is left unchanged">
            <select
              className={selectLook}
              value={step.stop}
              onChange={(event) => onChange({ ...step, stop: event.target.value as typeof step.stop })}
            >
              <option value="error">where an error is found</option>
              <option value="warning">where an error or warning is found</option>
              <option value="never">never; only list findings</option>
            </select>
          </Field>
        </>
      );
    case 'only':
      return (
        <>
          <Field label="Nodes like" hint="query">
            <TextInput
              className="w-64 font-mono text-xs"
              value={step.where}
              onChange={(event) => onChange({ ...step, where: event.target.value })}
            />
          </Field>
          <Field label="At least">
            <TextInput
              type="number"
              min={1}
              className="w-20"
              value={step.least}
              onChange={(event) => onChange({ ...step, least: Math.max(1, Number(event.target.value) || 1) })}
            />
          </Field>
        </>
      );
    case 'keep':
      return (
        <Field label="Fingerprint of">
          <select
            className={selectLook}
            value={step.what}
            onChange={(event) => onChange({ ...step, what: event.target.value as typeof step.what })}
          >
            <option value="everything">everything</option>
            <option value="ends">the ends</option>
          </select>
        </Field>
      );
    case 'better':
      return (
        <Field label="By at least" hint="points; 0: it must not fall">
          <TextInput
            type="number"
            min={0}
            max={100}
            step={0.5}
            className="w-24"
            value={step.by}
            onChange={(event) => onChange({ ...step, by: Math.min(100, Math.max(0, Number(event.target.value) || 0)) })}
          />
        </Field>
      );
    case 'found':
    case 'no-new':
      return (
        <>
          <RuleFields step={step} onChange={onChange} />
          <Field label="Severity at least">
            <select
              className={selectLook}
              value={step.severity}
              onChange={(event) => onChange({ ...step, severity: event.target.value as typeof step.severity })}
            >
              <option value="error">an error</option>
              <option value="warning">a warning or error</option>
              <option value="info">anything</option>
            </select>
          </Field>
        </>
      );
    case 'upgrade':
      return <UpgradeFields step={step} onChange={onChange} />;
  }
}

const selectLook = 'h-8 rounded-sm border border-line bg-ticket px-1.5 text-sm';

type Where = Extract<Step, { do: 'operation' | 'script' }>;

/** Which nodes a step is about. */
function WhereFields<T extends Where>({
  step,
  onChange,
  none,
}: {
  step: T;
  onChange: (step: T) => void;
  none: string;
}): ReactNode {
  return (
    <>
      <Field label="Nodes like" hint={none}>
        <TextInput
          className="w-56 font-mono text-xs"
          placeholder="query"
          value={step.where}
          onChange={(event) => onChange({ ...step, where: event.target.value })}
        />
      </Field>
      <Field label="In">
        <select
          className={selectLook}
          value={step.graphs}
          onChange={(event) => onChange({ ...step, graphs: event.target.value as T['graphs'] })}
        >
          <option value="all">all graphs of the file</option>
          <option value="outermost">the outermost graph</option>
        </select>
      </Field>
    </>
  );
}

const areas = [...new Set(operations.map((one) => one.area))];
/** What only makes another selection, or hangs on what lies under a pointer, is nothing for many files. */
const forFiles = operations.filter((one) => !one.selects && one.id !== 'paste' && one.id !== 'move');

function OperationFields({
  step,
  onChange,
}: {
  step: Step & { do: 'operation' };
  onChange: (step: Step) => void;
}): ReactNode {
  const one = operations.find((candidate) => candidate.id === step.operation);
  const plain = ({ choose: _choose, ...schema }: OptionSchema): OptionSchema => schema;
  return (
    <>
      <Field label="Operation">
        <Choice
          className="w-64"
          value={step.operation}
          choices={areas.flatMap((area) =>
            forFiles
              .filter((candidate) => candidate.area === area)
              .map(({ id, title, about }) => ({
                value: id,
                title,
                about,
                group: must(area[0]).toUpperCase() + area.slice(1),
                words: [synonyms[id] ?? ''],
              })),
          )}
          onChoose={(id) => {
            const next = must(operations.find((candidate) => candidate.id === id));
            onChange({ ...step, operation: next.id, options: defaultsOf(next) as typeof step.options });
          }}
        />
      </Field>
      <WhereFields step={step} onChange={onChange} none="empty: all" />
      {one && <p className="w-full text-xs text-soft">{one.about}</p>}
      {(one ? optionsOf(one) : []).map(([name, schema]) => (
        <OptionField
          key={`${step.operation} ${name}`}
          name={name}
          schema={plain(schema)}
          value={step.options[name] ?? schema.default}
          onChange={(value) => {
            const { [name]: _old, ...rest } = step.options;
            onChange({ ...step, options: value === undefined ? rest : { ...rest, [name]: value as never } });
          }}
        />
      ))}
    </>
  );
}

function ScriptFields({
  step,
  onChange,
}: {
  step: Step & { do: 'script' };
  onChange: (step: Step) => void;
}): ReactNode {
  const library = useQuery({ queryKey: ['library', 'script'], queryFn: () => api.library('script') });
  const id = step.script?.id;
  const version = useQuery({
    queryKey: ['library-version', id, step.script?.version],
    queryFn: () => api.libraryVersion(must(id), must(step.script).version),
    enabled: id !== undefined,
  });
  const plain = Object.fromEntries(
    Object.entries(version.data?.options ?? {}).map(([name, option]) => [
      name,
      option.type === 'kind' ? { ...option, type: 'text' as const, hint: option.hint ?? 'id of a kind' } : option,
    ]),
  );
  return (
    <>
      <Field label="Script" problem={library.error?.message}>
        <Choice
          className="w-64"
          value={id ?? ''}
          none="Choose one from the library"
          mustChoose
          choices={(library.data ?? []).map((item) => ({
            value: item.id,
            title: `${item.title}, version ${item.version}`,
            about: item.about,
          }))}
          onChoose={(chosen) => {
            const item = library.data?.find((one) => one.id === chosen);
            if (item)
              onChange({
                ...step,
                script: { id: item.id, version: item.version },
                title: item.title,
                values: {},
                source: undefined,
              });
          }}
        />
      </Field>
      <WhereFields step={step} onChange={onChange} none="empty: all" />
      {version.data?.about && <p className="w-full text-xs text-soft">{version.data.about}</p>}
      <ScriptOptionFields
        options={plain}
        values={step.values}
        onChange={(values) => onChange({ ...step, values: values as typeof step.values })}
      />
    </>
  );
}

function RuleFields<T extends RuleStep>({ step, onChange }: { step: T; onChange: (step: T) => void }): ReactNode {
  const { problem, read } = useJsonFile(profileSchema, 'profile of house rules', (profile) =>
    onChange({ ...step, profile }),
  );
  const turn = (id: string, on: boolean): void =>
    onChange({ ...step, rules: on ? [...step.rules, id] : step.rules.filter((one) => one !== id) });
  const { profile } = step;
  const set = profile && Object.keys(profile.rules).length;
  return (
    <>
      <Field label="Profile of the house" hint=".json" problem={problem}>
        <span className="flex items-center gap-2">
          <FileButton accept=".json" label="Choose a profile of house rules" onFile={read}>
            Choose …
          </FileButton>
          {profile && <Button onClick={() => onChange({ ...step, profile: undefined })}>Without</Button>}
          <span className="text-xs text-soft">
            {profile
              ? `${profile.title ?? 'without a title'}: ${set === 1 ? 'one rule' : `${set} rules`} set`
              : 'none: the rules below'}
          </span>
        </span>
      </Field>
      {!profile && (
        <fieldset className="w-full">
          <legend className="mb-1 text-sm text-soft">
            House rules (if you choose none, those that are on by default)
          </legend>
          <div className="grid grid-cols-3 gap-x-4 gap-y-1">
            {rules.map((rule) => (
              <Check
                key={rule.id}
                label={rule.title}
                checked={step.rules.includes(rule.id)}
                onChange={(on) => turn(rule.id, on)}
              />
            ))}
          </div>
        </fieldset>
      )}
    </>
  );
}

/** Takes a JSON file of a shape that a person chooses; says what is wrong with another one. */
function useJsonFile<T extends z.ZodType>(
  schema: T,
  what: string,
  take: (value: z.output<T>) => void,
): { problem: string | undefined; read: (file: File) => void } {
  const [problem, setProblem] = useState<string>();
  const read = async (file: File): Promise<void> => {
    try {
      take(jsonAs(schema, await file.text(), what));
      setProblem(undefined);
    } catch (error) {
      setProblem(`${file.name}: ${(error as Error).message}`);
    }
  };
  return { problem, read: (file) => void read(file) };
}

function UpgradeFields({
  step,
  onChange,
}: {
  step: Step & { do: 'upgrade' };
  onChange: (step: Step) => void;
}): ReactNode {
  const catalogues = useQuery({ queryKey: ['catalogues'], queryFn: api.catalogues });
  const { problem, read } = useJsonFile(mappingSchema, 'mapping', (mapping: Mapping) => onChange({ ...step, mapping }));
  const count = Object.keys(step.mapping.kinds).length;
  return (
    <>
      <Field label="Catalogue" problem={catalogues.error?.message}>
        <select
          className={selectLook}
          value={`${step.to.id} ${step.to.version}`}
          onChange={(event) => {
            const [id, version] = event.target.value.split(' ') as [string, string];
            onChange({ ...step, to: { id, version: Number(version) } });
          }}
        >
          <option value={`${step.to.id} ${step.to.version}`} disabled>
            Choose a version
          </option>
          {(catalogues.data?.versions ?? []).map(({ id, version }) => (
            <option key={`${id} ${version}`} value={`${id} ${version}`}>
              {id}, version {version}
            </option>
          ))}
        </select>
      </Field>
      <Field label="Changed defaults">
        <select
          className={selectLook}
          value={step.mapping.defaults}
          onChange={(event) =>
            onChange({ ...step, mapping: { ...step.mapping, defaults: event.target.value as 'keep' } })
          }
        >
          <option value="keep">keep what was computed</option>
          <option value="take">take the new ones</option>
        </select>
      </Field>
      <Field label="Mapping file" hint=".json" problem={problem}>
        <span className="flex items-center gap-2">
          <FileButton accept=".json" label="Choose a mapping file" onFile={read}>
            Choose …
          </FileButton>
          <span className="text-xs text-soft">{count === 0 ? 'none: kinds keep their names' : `${count} kinds`}</span>
        </span>
      </Field>
    </>
  );
}

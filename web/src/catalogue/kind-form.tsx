import {
  type Catalogue,
  type KindSpec,
  type ParameterSpec,
  type PortSpec,
  parameterTypes,
} from '@basitax/core/document/catalogue';
import type { Json } from '@basitax/core/document/json';
import { seenWords } from '@basitax/core/learn/seen-words';
import { ArrowDown, ArrowUp, Copy, Plus, Trash2 } from 'lucide-react';
import type { ReactNode } from 'react';
import { Draft } from '../editor/panels/draft.tsx';
import { Button, Check, Field } from '../ui/controls.tsx';
import { addKind, putKind } from './draft.ts';

export const selectLook = 'h-8 min-w-0 rounded-sm border border-edge bg-ticket px-1.5 text-sm';

const moved = <T,>(rows: readonly T[], from: number, to: number): T[] => {
  const copy = [...rows];
  copy.splice(to, 0, ...copy.splice(from, 1));
  return copy;
};

/** One kind: what it is called, its ports, its parameters, what passes when it is bypassed. */
export function KindForm({
  kind,
  catalogue,
  locked,
  onChosen,
}: {
  kind: KindSpec;
  catalogue: Catalogue;
  locked: boolean;
  onChosen: (id: string | undefined) => void;
}): ReactNode {
  const put = (part: Partial<KindSpec>): void => putKind(kind.id, { ...kind, ...part });
  const take = (part: Partial<KindSpec>): Promise<void> => {
    put(part);
    return Promise.resolve();
  };
  const inputs = kind.ports.filter((port) => port.direction === 'in');
  const outputs = kind.ports.filter((port) => port.direction === 'out');
  return (
    <article aria-label={kind.title} className="flex flex-col gap-4">
      <header className="flex items-center gap-2">
        <h2 className="mr-auto text-lg font-bold">{kind.title}</h2>
        <code className="font-mono text-xs text-soft">{kind.id}</code>
        {!locked && (
          <>
            <Button onClick={() => onChosen(addKind(kind))}>
              <Copy size={14} /> Copy
            </Button>
            <Button
              onClick={() => {
                putKind(kind.id, undefined);
                onChosen(undefined);
              }}
            >
              <Trash2 size={14} /> Remove
            </Button>
          </>
        )}
      </header>
      <div className="grid grid-cols-[2fr_5rem_1fr_1fr] gap-3">
        <Field label="Title">
          <Draft value={kind.title} locked={locked} onTake={(title) => take({ title })} />
        </Field>
        <Field label="Code">
          <Draft mono value={kind.code} locked={locked} onTake={(code) => take({ code })} />
        </Field>
        <Field label="Category">
          <select
            className={selectLook}
            value={kind.category}
            disabled={locked}
            onChange={(event) => put({ category: event.target.value })}
          >
            {catalogue.categories.map((category) => (
              <option key={category.id} value={category.id}>
                {category.title}
              </option>
            ))}
          </select>
        </Field>
        <Field label="Reads files" hint="endings">
          <Draft
            mono
            value={kind.reads.join(', ')}
            locked={locked}
            onTake={(text) => take({ reads: text.split(/[\s,.]+/).filter(Boolean) })}
          />
        </Field>
      </div>
      <span className="flex gap-6">
        <Check
          label="An end: files are made for its result"
          checked={kind.end}
          disabled={locked}
          onChange={(end) => put({ end })}
        />
        <Check
          label="The name of a node matters"
          checked={kind.nameMatters}
          disabled={locked}
          onChange={(nameMatters) => put({ nameMatters })}
        />
      </span>
      <Ports kind={kind} catalogue={catalogue} locked={locked} put={put} />
      {outputs.length > 0 && inputs.length > 0 && (
        <section aria-label="When bypassed" className="flex flex-wrap gap-3">
          {outputs.map((output) => (
            <Field key={output.id} label={`Bypassed, ${output.name} passes`}>
              <select
                className={selectLook}
                value={kind.pass[output.id] ?? ''}
                disabled={locked}
                onChange={(event) => {
                  const { [output.id]: _, ...rest } = kind.pass;
                  put({ pass: event.target.value === '' ? rest : { ...rest, [output.id]: event.target.value } });
                }}
              >
                <option value="">the first that fits</option>
                {inputs.map((input) => (
                  <option key={input.id} value={input.id}>
                    {input.name}
                  </option>
                ))}
              </select>
            </Field>
          ))}
        </section>
      )}
      <ParameterTable kind={kind} locked={locked} put={put} />
    </article>
  );
}

interface PartProps {
  readonly kind: KindSpec;
  readonly locked: boolean;
  put(part: Partial<KindSpec>): void;
}

/** Up, down and away, for a row of a table. */
function RowTools({
  name,
  i,
  count,
  onMove,
  onRemove,
}: {
  name: string;
  i: number;
  count: number;
  onMove: (to: number) => void;
  onRemove: () => void;
}): ReactNode {
  return (
    <span className="flex">
      <Button
        look="quiet"
        square
        className="size-7"
        aria-label={`${name} up`}
        dim={i === 0 ? 'It is the first.' : undefined}
        onClick={() => onMove(i - 1)}
      >
        <ArrowUp size={13} />
      </Button>
      <Button
        look="quiet"
        square
        className="size-7"
        aria-label={`${name} down`}
        dim={i === count - 1 ? 'It is the last.' : undefined}
        onClick={() => onMove(i + 1)}
      >
        <ArrowDown size={13} />
      </Button>
      <Button look="quiet" square className="size-7" aria-label={`Remove ${name}`} onClick={onRemove}>
        <Trash2 size={13} />
      </Button>
    </span>
  );
}

function Ports({ kind, catalogue, locked, put }: PartProps & { catalogue: Catalogue }): ReactNode {
  const set = (i: number, part: Partial<PortSpec>): void =>
    put({ ports: kind.ports.map((port, k) => (k === i ? { ...port, ...part } : port)) });
  const add = (direction: 'in' | 'out'): void => {
    const stem = direction;
    let id: string = stem;
    for (let n = 2; kind.ports.some((port) => port.id === id && port.direction === direction); n++) id = `${stem}${n}`;
    put({
      ports: [
        ...kind.ports,
        {
          id,
          name: id,
          type: catalogue.types[0]?.id ?? 'any',
          direction,
          many: false,
          main: kind.ports.length < 2,
          feedable: false,
        },
      ],
    });
  };
  return (
    <section aria-label="Ports" className="flex flex-col gap-1">
      <h3 className="flex items-center gap-2 font-bold">
        Ports
        {!locked && (
          <>
            <Button className="h-6 px-1.5 text-xs font-normal" onClick={() => add('in')}>
              <Plus size={12} /> input
            </Button>
            <Button className="h-6 px-1.5 text-xs font-normal" onClick={() => add('out')}>
              <Plus size={12} /> output
            </Button>
          </>
        )}
      </h3>
      {kind.ports.length === 0 && <p className="text-soft">It has no ports yet.</p>}
      {kind.ports.map((port, i) => (
        <div
          // biome-ignore lint/suspicious/noArrayIndexKey: while an id is typed nothing else tells a port
          key={i}
          className="grid grid-cols-[4rem_6.5rem_1fr_9rem_14rem_5.5rem] items-center gap-2 border-t border-line py-1"
        >
          <span className="text-soft">{port.direction === 'in' ? 'input' : 'output'}</span>
          <Draft
            mono
            label={`Id of port ${port.id}`}
            value={port.id}
            locked={locked}
            onTake={async (id) => set(i, { id })}
          />
          <Draft
            label={`Name of port ${port.id}`}
            value={port.name}
            locked={locked}
            onTake={async (name) => set(i, { name })}
          />
          <select
            aria-label={`Type of port ${port.id}`}
            className={selectLook}
            value={port.type}
            disabled={locked}
            onChange={(event) => set(i, { type: event.target.value })}
          >
            <option value="any">Anything</option>
            {catalogue.types.map((type) => (
              <option key={type.id} value={type.id}>
                {type.title}
              </option>
            ))}
          </select>
          <span className="flex gap-3">
            <Check label="main" checked={port.main} disabled={locked} onChange={(main) => set(i, { main })} />
            {port.direction === 'in' && (
              <>
                <Check label="grows" checked={port.many} disabled={locked} onChange={(many) => set(i, { many })} />
                <Check
                  label="by feed"
                  checked={port.feedable}
                  disabled={locked}
                  onChange={(feedable) => set(i, { feedable })}
                />
              </>
            )}
          </span>
          {!locked && (
            <RowTools
              name={`port ${port.id}`}
              i={i}
              count={kind.ports.length}
              onMove={(to) => put({ ports: moved(kind.ports, i, to) })}
              onRemove={() =>
                put({
                  ports: kind.ports.filter((_, k) => k !== i),
                  pass: Object.fromEntries(
                    Object.entries(kind.pass).filter(([a, b]) => a !== port.id && b !== port.id),
                  ),
                })
              }
            />
          )}
        </div>
      ))}
    </section>
  );
}

const startValues: Record<ParameterSpec['type'], Json> = {
  number: 0,
  integer: 0,
  boolean: false,
  choice: '',
  text: '',
  color: '#808080',
  vector: [0, 0, 0],
  path: '',
  expression: '',
};

/** Text of a default as the type reads it: none where it is empty; undefined where it is no such value. */
function readDefault(spec: ParameterSpec, text: string): Json | undefined {
  if (text.trim() === '') return spec.type === 'text' || spec.type === 'path' ? '' : null;
  if (spec.type === 'number' || spec.type === 'integer') return Number.isNaN(Number(text)) ? undefined : Number(text);
  if (spec.type === 'boolean') return text.trim() === 'true' || text.trim() === 'on' || text.trim() === 'yes';
  if (spec.type === 'vector')
    return text
      .split(/[\s,]+/)
      .filter(Boolean)
      .map(Number);
  return text;
}

function ParameterTable({ kind, locked, put }: PartProps): ReactNode {
  const set = (i: number, part: Partial<ParameterSpec>): void =>
    put({
      parameters: kind.parameters.map((spec, k) => {
        if (k !== i) return spec;
        const whole: Record<string, unknown> = { ...spec, ...part };
        for (const [field, value] of Object.entries(part)) if (value === undefined) delete whole[field];
        return whole as ParameterSpec;
      }),
    });
  const add = (): void => {
    let id = 'value';
    for (let n = 2; kind.parameters.some((spec) => spec.id === id); n++) id = `value${n}`;
    put({
      parameters: [
        ...kind.parameters,
        { id, title: 'Value', type: 'number', default: 0, main: false, cosmetic: false },
      ],
    });
  };
  const number = (text: string): number | undefined =>
    text.trim() === '' || Number.isNaN(Number(text)) ? undefined : Number(text);
  return (
    <section aria-label="Parameters" className="flex flex-col gap-1">
      <h3 className="flex items-center gap-2 font-bold">
        Parameters
        {!locked && (
          <Button className="h-6 px-1.5 text-xs font-normal" onClick={add}>
            <Plus size={12} /> parameter
          </Button>
        )}
      </h3>
      {kind.parameters.length === 0 && <p className="text-soft">It has no parameters.</p>}
      {kind.parameters.length > 0 && (
        <div aria-hidden="true" className="grid grid-cols-[7rem_1fr_7rem_1fr_5.5rem] gap-x-2 text-xs text-soft">
          <span>id</span>
          <span>title</span>
          <span>type</span>
          <span>default</span>
        </div>
      )}
      {kind.parameters.map((spec, i) => (
        <div
          // biome-ignore lint/suspicious/noArrayIndexKey: while an id is typed nothing else tells a parameter
          key={i}
          className="grid grid-cols-[7rem_1fr_7rem_1fr_5.5rem] items-center gap-x-2 gap-y-1 border-t border-line py-1.5"
        >
          <Draft
            mono
            label={`Id of parameter ${spec.id}`}
            value={spec.id}
            locked={locked}
            onTake={async (id) => set(i, { id })}
          />
          <Draft
            label={`Title of parameter ${spec.id}`}
            value={spec.title}
            locked={locked}
            onTake={async (title) => set(i, { title })}
          />
          <select
            aria-label={`Type of parameter ${spec.id}`}
            className={selectLook}
            value={spec.type}
            disabled={locked}
            onChange={(event) => {
              const type = event.target.value as ParameterSpec['type'];
              set(i, {
                type,
                default: startValues[type],
                ...(type === 'choice' && { choices: ['first'], default: 'first' }),
              });
            }}
          >
            {parameterTypes.map((type) => (
              <option key={type}>{type}</option>
            ))}
          </select>
          <Draft
            mono
            label={`Default of parameter ${spec.id}`}
            value={Array.isArray(spec.default) ? spec.default.join(', ') : String(spec.default ?? '')}
            locked={locked}
            onTake={async (text) => set(i, { default: readDefault(spec, text) ?? spec.default })}
          />
          {locked ? (
            <span />
          ) : (
            <RowTools
              name={`parameter ${spec.id}`}
              i={i}
              count={kind.parameters.length}
              onMove={(to) => put({ parameters: moved(kind.parameters, i, to) })}
              onRemove={() => put({ parameters: kind.parameters.filter((_, k) => k !== i) })}
            />
          )}
          <span className="col-span-5 flex flex-wrap items-center gap-3 text-xs">
            {(spec.type === 'number' || spec.type === 'integer') && (
              <>
                {(['min', 'max', 'step'] as const).map((field) => (
                  <span key={field} className="flex w-28 items-center gap-1 text-soft">
                    {field}
                    <Draft
                      mono
                      label={`${field} of ${spec.id}`}
                      value={String(spec[field] ?? '')}
                      locked={locked}
                      onTake={async (text) => set(i, { [field]: number(text) })}
                    />
                  </span>
                ))}
                <span className="flex w-28 items-center gap-1 text-soft">
                  unit
                  <Draft
                    label={`Unit of ${spec.id}`}
                    value={spec.unit ?? ''}
                    locked={locked}
                    onTake={async (unit) => set(i, { unit: unit || undefined })}
                  />
                </span>
              </>
            )}
            {spec.type === 'choice' && (
              <span className="flex flex-1 items-center gap-1 text-soft">
                choices
                <Draft
                  label={`Choices of ${spec.id}`}
                  value={(spec.choices ?? []).join(', ')}
                  locked={locked}
                  onTake={async (text) => set(i, { choices: text.split(/\s*,\s*/).filter(Boolean) })}
                />
              </span>
            )}
            {spec.seen && <span className="text-soft">{seenWords(spec)}</span>}
            <Check label="main" checked={spec.main} disabled={locked} onChange={(main) => set(i, { main })} />
            <Check
              label="changes nothing that is computed"
              checked={spec.cosmetic}
              disabled={locked}
              onChange={(cosmetic) => set(i, { cosmetic })}
            />
          </span>
        </div>
      ))}
    </section>
  );
}

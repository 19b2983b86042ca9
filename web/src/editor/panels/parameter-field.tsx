import type { ParameterSpec } from '@basitax/core/document/catalogue';
import { type Json, sameJson } from '@basitax/core/document/json';
import { isExpression, type Kinds } from '@basitax/core/document/kinds';
import type { GraphNode } from '@basitax/core/document/schema';
import { seenWords } from '@basitax/core/learn/seen-words';
import { must } from '@basitax/core/must';
import { expressionText, readExpression } from '@basitax/core/structure/expression';
import { useQuery } from '@tanstack/react-query';
import { RotateCcw } from 'lucide-react';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../../api/client.ts';
import { Button } from '../../ui/controls.tsx';
import { useDraft } from '../../ui/use-draft.ts';
import { setParameter } from '../actions.ts';
import { pathOf } from '../assets.ts';
import { useEditor } from '../store.ts';
import { Draft } from './draft.tsx';

interface FieldProps {
  readonly nodes: readonly GraphNode[];
  readonly spec: ParameterSpec;
  readonly kinds: Kinds;
  readonly locked: boolean;
}

/** What a field works on: the value that all nodes share, or that they differ, and the way to write it. */
interface Shown {
  readonly spec: ParameterSpec;
  readonly value: Json | undefined;
  readonly isMixed: boolean;
  readonly locked: boolean;
  set(next: Json | undefined): Promise<void>;
}

/** A value as a field shows it: nothing where nothing is set and the kind has no default. */
const textOf = (value: Json | undefined): string => (value === null || value === undefined ? '' : String(value));
/** What stands in a field that shows no value. */
const insteadOf = (value: Json | undefined, isMixed: boolean): string | undefined =>
  isMixed ? 'mixed' : value === null ? 'not set' : undefined;

/** Words that stand beside the title: unit, range, and whether it was set. */
function hintOf(spec: ParameterSpec, isSet: boolean): string {
  const range =
    spec.min !== undefined || spec.max !== undefined ? `${spec.min ?? '−∞'} to ${spec.max ?? '∞'}` : undefined;
  return [spec.unit, range, isSet ? 'set' : undefined].filter(Boolean).join(', ');
}

/**
 * One parameter of one or several nodes, by its type; where they differ that is shown, and writing makes them the same.
 */
export function ParameterField({ nodes, spec, kinds, locked }: FieldProps): ReactNode {
  const values = nodes.map((node) => kinds.value(node, spec.id) ?? spec.default);
  const isSet = nodes.some((node) => node.params?.[spec.id] !== undefined);
  const isMixed = values.some((value) => !sameJson(value, values[0]));
  const ids = nodes.map((node) => node.id);
  const set = (next: Json | undefined): Promise<void> => setParameter(ids, spec.id, next);
  const value = isMixed ? undefined : values[0];
  const shown: Shown = { spec, value, isMixed, locked, set };
  const hint = [hintOf(spec, isSet), isExpression(value) ? 'expression' : ''].filter(Boolean).join(', ');
  return (
    <div className="group flex flex-col gap-0.5 text-sm">
      <span className="flex min-h-5 items-center gap-1 text-soft">
        <span className="min-w-0 truncate" title={[spec.title, seenWords(spec)].filter(Boolean).join(': ')}>
          {spec.title}
        </span>
        {hint && <span className="text-xs whitespace-nowrap">({hint})</span>}
        {isMixed && <span className="rounded-xs bg-accent-wash px-1 text-xs text-ink">mixed</span>}
        {isSet && !locked && (
          <Button
            look="quiet"
            square
            className="ml-auto size-5"
            aria-label={`Reset ${spec.title}`}
            title="Back to the default"
            onClick={() => void set(undefined)}
          >
            <RotateCcw size={12} />
          </Button>
        )}
      </span>
      {isExpression(value) || (isMixed && values.some(isExpression)) ? (
        <ExpressionField shown={shown} nodes={nodes} kinds={kinds} />
      ) : (
        <PlainField shown={shown} nodes={nodes} kinds={kinds} />
      )}
    </div>
  );
}

function PlainField({ shown, nodes, kinds }: { shown: Shown; nodes: readonly GraphNode[]; kinds: Kinds }): ReactNode {
  switch (shown.spec.type) {
    case 'boolean':
      return <BooleanField {...shown} />;
    case 'choice':
      return <ChoiceField {...shown} />;
    case 'color':
      return <ColorValue {...shown} />;
    case 'vector':
      return <VectorField {...shown} />;
    case 'path':
      return <PathField {...shown} isRead={nodes.some((node) => (kinds.kind(node.kind)?.reads.length ?? 0) > 0)} />;
    case 'number':
    case 'integer':
      return <NumberField shown={shown} nodes={nodes} kinds={kinds} />;
    default:
      return <TextField shown={shown} nodes={nodes} kinds={kinds} />;
  }
}

function BooleanField({ spec, value, isMixed, locked, set }: Shown): ReactNode {
  const box = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (box.current) box.current.indeterminate = isMixed || value === null;
  }, [isMixed, value]);
  return (
    <label className="flex items-center gap-2">
      <input
        ref={box}
        type="checkbox"
        aria-label={spec.title}
        className="size-4 accent-accent"
        checked={value === true}
        disabled={locked}
        onChange={(event) => void set(event.target.checked)}
      />
      <span className="text-soft">
        {isMixed ? 'mixed' : value === null ? 'not set' : value === true ? 'on' : 'off'}
      </span>
    </label>
  );
}

function ChoiceField({ spec, value, isMixed, locked, set }: Shown): ReactNode {
  return (
    <select
      aria-label={spec.title}
      className="h-8 min-w-0 rounded-sm border border-edge bg-ticket px-2"
      value={isMixed ? '' : textOf(value)}
      disabled={locked}
      onChange={(event) => void set(event.target.value)}
    >
      {(isMixed || value === null) && (
        <option value="" disabled>
          {insteadOf(value, isMixed)}
        </option>
      )}
      {spec.choices?.map((choice) => (
        <option key={choice}>{choice}</option>
      ))}
    </select>
  );
}

function ColorValue({ spec, value, isMixed, locked, set }: Shown): ReactNode {
  const [chosen, setChosen] = useDraft(String(value ?? '#888888'));
  return (
    <span className="flex items-center gap-2">
      <input
        type="color"
        aria-label={`${spec.title}, chosen`}
        className="h-7 w-10"
        value={chosen}
        disabled={locked}
        onChange={(event) => setChosen(event.target.value)}
        // one step of the history for a walk through the colours
        onBlur={() => chosen !== String(value ?? '#888888') && void set(chosen)}
      />
      <Draft
        mono
        label={spec.title}
        value={isMixed ? '' : textOf(value)}
        placeholder={insteadOf(value, isMixed)}
        locked={locked}
        onTake={(text) => set(text === '' ? undefined : text)}
      />
    </span>
  );
}

const axes = ['x', 'y', 'z', 'w'];

function VectorField({ spec, value, isMixed, locked, set }: Shown): ReactNode {
  const size = Array.isArray(value) ? value.length : Array.isArray(spec.default) ? spec.default.length : 3;
  const parts = Array.isArray(value) ? value : [];
  return (
    <span className="grid gap-1" style={{ gridTemplateColumns: `repeat(${Math.min(size, 4)}, minmax(0, 1fr))` }}>
      {Array.from({ length: size }, (_, i) => (
        <Draft
          // biome-ignore lint/suspicious/noArrayIndexKey: a component is its place
          key={i}
          mono
          label={`${spec.title}, ${axes[i] ?? i + 1}`}
          value={isMixed ? '' : String(parts[i] ?? (value === null ? '' : 0))}
          placeholder={insteadOf(value, isMixed)}
          locked={locked}
          onTake={(text) =>
            set(Array.from({ length: size }, (_none, k) => (k === i ? Number(text) : Number(parts[k] ?? 0))))
          }
        />
      ))}
    </span>
  );
}

/** The path; where it is read, whether there is anything at it, and a way to find where a file of that name lies. */
function PathField({ spec, value, isMixed, locked, set, isRead }: Shown & { readonly isRead: boolean }): ReactNode {
  const path = typeof value === 'string' ? value : '';
  const there = useQuery({
    queryKey: ['asset', path],
    queryFn: () => api.assetExists(path),
    enabled: path !== '' && !isMixed && isRead,
    retry: false,
    staleTime: 60_000,
  });
  const name = path.split('/').pop() ?? '';
  return (
    <>
      <Draft
        mono
        label={spec.title}
        value={isMixed ? '' : path}
        placeholder={insteadOf(value, isMixed)}
        locked={locked}
        onTake={(text) => set(text === '' || text === spec.default ? undefined : text)}
      />
      {path !== '' && !isMixed && isRead && (
        <span className="flex items-center gap-2 text-xs">
          <span role="status" className={there.data === false ? 'text-warn' : 'text-soft'}>
            {there.isPending
              ? 'looking …'
              : there.isError
                ? 'cannot be checked now'
                : there.data
                  ? 'is in the asset store'
                  : 'is not in the asset store'}
          </span>
          {there.data === false && !locked && (
            <Button
              className="h-6 px-1.5 text-xs"
              onClick={() => void pathOf(name).then((found) => (found === undefined ? undefined : set(found)))}
            >
              Find “{name.length > 20 ? `${name.slice(0, 19)}…` : name}”
            </Button>
          )}
        </span>
      )}
    </>
  );
}

interface Typed {
  readonly shown: Shown;
  readonly nodes: readonly GraphNode[];
  readonly kinds: Kinds;
}

/** What begins with = is an expression, whatever the type of the parameter. */
async function takeTyped(
  { shown, nodes, kinds }: Typed,
  text: string,
  plain: (text: string) => Json | undefined,
): Promise<void> {
  if (!text.trim().startsWith('=')) {
    await shown.set(plain(text));
    return;
  }
  const [first] = nodes;
  const read = readExpression(useEditor.getState().doc, kinds, must(first), text.trim().slice(1).trim());
  if (typeof read === 'string')
    toast.error(`${shown.spec.title} was not changed`, { description: read, duration: 6000 });
  else await shown.set(read as unknown as Json);
}

function NumberField({ shown, nodes, kinds }: Typed): ReactNode {
  const { spec, value, isMixed, locked, set } = shown;
  const { min, max } = spec;
  const hasSlider = min !== undefined && max !== undefined && !isMixed && typeof value === 'number';
  const [sliding, setSliding] = useState<number>();
  const step = spec.step ?? (spec.type === 'integer' ? 1 : ((max ?? 1) - (min ?? 0)) / 100);
  const end = (): void => {
    if (sliding !== undefined && sliding !== value) void set(sliding);
    setSliding(undefined);
  };
  return (
    <span className={hasSlider ? 'grid grid-cols-[1fr_5.5rem] items-center gap-2' : 'grid'}>
      {/* the text comes first for the keyboard, the slider for the eye */}
      <Draft
        mono
        label={spec.title}
        value={isMixed ? '' : sliding === undefined ? textOf(value) : String(Math.round(sliding * 1e6) / 1e6)}
        placeholder={insteadOf(value, isMixed)}
        locked={locked}
        onTake={(text) =>
          takeTyped({ shown, nodes, kinds }, text, (plain) => (plain.trim() === '' ? undefined : Number(plain)))
        }
      />
      {hasSlider && (
        <input
          type="range"
          aria-label={`${spec.title}, slider`}
          className="order-first min-w-0 accent-accent"
          min={min}
          max={max}
          step={step}
          value={sliding ?? value}
          disabled={locked}
          onChange={(event) => setSliding(Number(event.target.value))}
          onPointerUp={end}
          onKeyUp={end}
          onBlur={end}
        />
      )}
    </span>
  );
}

function TextField({ shown, nodes, kinds }: Typed): ReactNode {
  const { spec, value, isMixed, locked } = shown;
  return (
    <Draft
      mono
      long={spec.type === 'expression'}
      label={spec.title}
      value={isMixed ? '' : textOf(value)}
      placeholder={insteadOf(value, isMixed)}
      locked={locked}
      onTake={(text) =>
        takeTyped({ shown, nodes, kinds }, text, (plain) => (plain === spec.default ? undefined : plain))
      }
    />
  );
}

/** An expression as text; without the = in front it becomes a plain value again. */
function ExpressionField({ shown, nodes, kinds }: Typed): ReactNode {
  const { doc } = useEditor.getState();
  const { spec, value, isMixed, locked } = shown;
  const plain = (text: string): Json | undefined =>
    text.trim() === '' ? undefined : spec.type === 'number' || spec.type === 'integer' ? Number(text) : text;
  return (
    <Draft
      mono
      long
      label={spec.title}
      value={isMixed || !isExpression(value) ? '' : `= ${expressionText(doc, value)}`}
      placeholder={insteadOf(value, isMixed)}
      locked={locked}
      onTake={(text) => takeTyped({ shown, nodes, kinds }, text, plain)}
    />
  );
}

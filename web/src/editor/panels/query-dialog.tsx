import type { Kinds } from '@basitax/core/document/kinds';
import { fieldById, queryFields } from '@basitax/core/query/fields';
import {
  type Compare,
  checkQuery,
  compares,
  parseQuery,
  type Query,
  QueryError,
  select as selectBy,
  writeQuery,
} from '@basitax/core/query/query';
import { Plus, X } from 'lucide-react';
import { type ReactNode, useMemo, useState } from 'react';
import { Choice } from '../../ui/choice.tsx';
import { Button, Dialog, Field, TextInput } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { closeToCanvas } from '../dialogs.ts';
import { type Editing, useEditing } from '../store.ts';

/** One line of the form. */
interface Term {
  readonly key: number;
  readonly not: boolean;
  /** Empty: the text stands in name, label or kind. */
  readonly field: string;
  readonly compare: Compare;
  readonly value: string;
}

const compareTitles: Record<Compare, string> = {
  ':': 'contains',
  '=': 'is',
  '!=': 'is not',
  '<': 'is less than',
  '<=': 'is at most',
  '>': 'is more than',
  '>=': 'is at least',
};
let keys = 0;
const emptyTerm = (): Term => ({ key: keys++, not: false, field: '', compare: ':', value: '' });

function queryOf(terms: readonly Term[], join: 'and' | 'or'): Query {
  const parts = terms
    .filter((term) => term.value.trim() !== '')
    .map((term): Query => {
      const of: Query =
        term.field === ''
          ? { type: 'text', value: term.value }
          : { type: 'field', field: term.field, compare: term.compare, value: term.value, at: 0 };
      return term.not ? { type: 'not', of } : of;
    });
  return parts.length === 0 ? { type: 'all' } : parts.reduce((left, right) => ({ type: join, left, right }));
}

/** What is wrong with a query, or how many nodes it finds. */
export function queryVerdict(text: string, { doc, kinds, graph }: Editing): { problem?: string; count: number } {
  try {
    checkQuery(parseQuery(text), doc, kinds);
    return { count: selectBy(text, doc, kinds, graph).length };
  } catch (error) {
    if (error instanceof QueryError) return { problem: error.message, count: 0 };
    throw error;
  }
}

/** Every parameter of the catalogue by its id, with whether it is a number wherever it stands. */
function parametersOf(kinds: Kinds): ReadonlyMap<string, boolean> {
  const found = new Map<string, boolean>();
  for (const { id, type } of kinds.all().flatMap((kind) => kind.parameters))
    found.set(id, (found.get(id) ?? true) && (type === 'number' || type === 'integer'));
  return new Map([...found].sort(([a], [b]) => (a < b ? -1 : 1)));
}

let lastText = '';

/** Selecting by query: typed, or put together from a form that writes it. */
export function QueryDialog({ onClose }: { onClose: () => void }): ReactNode {
  const state = useEditing();
  const [text, setText] = useState(lastText);
  const [join, setJoin] = useState<'and' | 'or'>('and');
  const [terms, setTerms] = useState<readonly Term[]>(() => [emptyTerm()]);
  const { problem, count } = useMemo(() => queryVerdict(text, state), [text, state]);
  const parameters = useMemo(() => parametersOf(state.kinds), [state.kinds]);
  const change = (next: readonly Term[], how = join): void => {
    setTerms(next);
    setJoin(how);
    setText(writeQuery(queryOf(next, how)));
  };
  const select = (add: boolean): void => {
    if (problem) return;
    lastText = text;
    closeToCanvas();
    void perform('select-by-query', { query: text, add });
  };
  return (
    <Dialog
      open
      onClose={onClose}
      size="wide"
      title="Select by query"
      about="Choose what to look for in this graph. The query is written for you; you can also type it."
    >
      <form
        className="flex min-h-0 flex-col gap-3 overflow-auto"
        onSubmit={(event) => {
          event.preventDefault();
          select(false);
        }}
      >
        <fieldset className="flex flex-col gap-1.5">
          <legend className="sr-only">Conditions</legend>
          {terms.map((term, i) => (
            <TermRow
              key={term.key}
              term={term}
              join={i === 0 ? undefined : join}
              parameters={parameters}
              onJoin={(how) => change(terms, how)}
              onChange={(next) => change(terms.map((other) => (other === term ? next : other)))}
              onRemove={terms.length > 1 ? () => change(terms.filter((other) => other !== term)) : undefined}
            />
          ))}
          <Button className="self-start" onClick={() => change([...terms, emptyTerm()])}>
            <Plus size={15} />
            Another condition
          </Button>
        </fieldset>
        <Field label="Query" problem={problem}>
          <TextInput
            className="font-mono"
            value={text}
            spellCheck={false}
            onChange={(event) => setText(event.target.value)}
            placeholder='kind:blur size>4 or frame:"far kelp"'
          />
        </Field>
        <Help />
        <div className="flex items-center gap-2">
          <p role="status" className="mr-auto text-sm text-soft">
            {problem ? 'The query cannot be read yet.' : `${count.toLocaleString('en')} nodes of this graph fit.`}
          </p>
          <Button dim={problem} onClick={() => select(true)}>
            Add to the selection
          </Button>
          <Button type="submit" look="primary" dim={problem}>
            Select
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** The language in a few lines, for whoever types. */
function Help(): ReactNode {
  const lines: readonly (readonly [string, string])[] = [
    ['plankton', 'Name, label or kind holds the text'],
    ['kind:blur', 'A field holds a text; kind=blur is exactly that'],
    ['size>4', 'A parameter by its name; also <, <=, >=, != and ='],
    ['frame:"far kelp"', 'Quotes round what has spaces'],
    ['kind:glow bypassed=yes', 'Both; a space is “and”'],
    ['kind:glow or (kind:blur not size=4)', 'or, not, and brackets'],
  ];
  return (
    <details className="text-sm">
      <summary className="cursor-pointer text-soft">How a query is written</summary>
      <dl className="mt-1.5 grid grid-cols-[auto_1fr] gap-x-4 gap-y-0.5">
        {lines.map(([query, about]) => (
          <div key={query} className="contents">
            <dt className="font-mono text-xs">{query}</dt>
            <dd className="text-soft">{about}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-1.5 text-soft">
        Fields: {queryFields.map((field) => field.id).join(', ')}; any other word before a sign is a parameter.
      </p>
    </details>
  );
}

/** What a query calls a parameter. */
const fieldOf = (parameter: string): string =>
  fieldById(parameter) ? `parameter.${parameter}` : parameter.toLowerCase();

const boxLook = 'h-8 rounded-sm border border-edge bg-ticket px-1.5 text-sm';

function TermRow({
  term,
  join,
  parameters,
  onJoin,
  onChange,
  onRemove,
}: {
  term: Term;
  join: 'and' | 'or' | undefined;
  parameters: ReadonlyMap<string, boolean>;
  onJoin: (join: 'and' | 'or') => void;
  onChange: (term: Term) => void;
  onRemove: (() => void) | undefined;
}): ReactNode {
  const field = fieldById(term.field);
  const isYesOrNo = field?.type === 'yes or no';
  const choose = (id: string): void => {
    const next = fieldById(id);
    const isNumber = next
      ? next.type === 'number'
      : [...parameters].some(([own, number]) => number && fieldOf(own) === id);
    onChange({
      ...term,
      field: id,
      compare: isNumber ? '>=' : next?.type === 'yes or no' ? '=' : ':',
      value: next?.type === 'yes or no' ? 'yes' : '',
    });
  };
  return (
    <div className="grid grid-cols-[4rem_3.5rem_1fr_8rem_1fr_2rem] items-center gap-1.5">
      {join === undefined ? (
        <span className="text-sm text-soft">Nodes</span>
      ) : (
        <select
          aria-label="And or or"
          className={boxLook}
          value={join}
          onChange={(event) => onJoin(event.target.value as 'and' | 'or')}
        >
          <option value="and">and</option>
          <option value="or">or</option>
        </select>
      )}
      <label className="flex items-center gap-1 text-sm">
        <input
          type="checkbox"
          className="size-4 accent-accent"
          checked={term.not}
          onChange={(event) => onChange({ ...term, not: event.target.checked })}
        />
        not
      </label>
      <Choice
        label="Field"
        value={term.field}
        none="Name, label or kind"
        choices={[
          ...queryFields.map((one) => ({ value: one.id, title: one.title, group: 'Fields' })),
          ...[...parameters.keys()].map((id) => ({ value: fieldOf(id), title: id, group: 'Parameters' })),
        ]}
        onChoose={choose}
      />
      <select
        aria-label="Comparison"
        className={boxLook}
        value={term.compare}
        disabled={term.field === '' || isYesOrNo}
        onChange={(event) => onChange({ ...term, compare: event.target.value as Compare })}
      >
        {compares.map((compare) => (
          <option key={compare} value={compare}>
            {compareTitles[compare]}
          </option>
        ))}
      </select>
      {isYesOrNo ? (
        <select
          aria-label="Value"
          className={boxLook}
          value={term.value}
          onChange={(event) => onChange({ ...term, value: event.target.value })}
        >
          <option value="yes">yes</option>
          <option value="no">no</option>
        </select>
      ) : (
        <TextInput
          aria-label="Value"
          autoFocus={join === undefined}
          value={term.value}
          onChange={(event) => onChange({ ...term, value: event.target.value })}
        />
      )}
      {onRemove ? (
        <Button look="quiet" square aria-label="Remove this condition" onClick={onRemove}>
          <X size={15} />
        </Button>
      ) : (
        <span />
      )}
    </div>
  );
}

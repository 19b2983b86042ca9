import {
  type Attributes,
  attributesIn,
  attributesOf,
  attributeValue,
  textOfValue,
} from '@basitax/core/document/attributes';
import type { AttributeBearer, AttributeType } from '@basitax/core/document/schema';
import { type FormatId, factsOf, formatIds } from '@basitax/core/formats/endings';
import { Plus, X } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { Button, SearchInput, TextInput } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { mayEdit, whyNoEdit } from '../may-edit.ts';
import type { Editing } from '../store.ts';
import { Draft } from './draft.tsx';

const types: Readonly<Record<AttributeType, string>> = {
  text: 'text',
  number: 'number',
  integer: 'whole number',
  boolean: 'true or false',
  json: 'JSON',
  xml: 'XML',
};

/** Attributes from which on a filter is offered. */
const many = 8;

/**
 * What other programs and people say of one thing beside: its attributes, to be changed, removed and added. Nothing
 * where it has none, but for the way to add one.
 */
export function AttributeSection({
  of,
  id,
  record,
  state,
}: {
  of: AttributeBearer;
  /** Nothing where it is the graph that is shown. */
  id: string | undefined;
  record: object;
  state: Editing;
}): ReactNode {
  const [isAdding, setAdding] = useState(false);
  const [filter, setFilter] = useState('');
  const items = id === undefined ? [] : [id];
  const own: Attributes = attributesOf(record);
  const known = attributesIn(state.doc, of).filter(
    (one) => Object.hasOwn(own, one.name) || attributeValue(state.doc, of, record, one.name) !== undefined,
  );
  const locked = !mayEdit(state);
  const shown = known.filter((one) => one.name.toLowerCase().includes(filter.trim().toLowerCase()));
  return (
    <section className="flex flex-col gap-1.5" aria-label="Attributes">
      <span className="flex items-center">
        <h3 className="mr-auto font-bold">Attributes</h3>
        <Button
          look="quiet"
          square
          className="size-7"
          aria-label="Add an attribute"
          title="Add an attribute: a value under a name, for other programs and for people"
          dim={whyNoEdit(state)}
          onClick={() => setAdding(true)}
        >
          <Plus size={14} />
        </Button>
      </span>
      {isAdding && <Adding items={items} onClose={() => setAdding(false)} />}
      {known.length > many && (
        <SearchInput label="Filter attributes" placeholder="Filter" className="h-7" value={filter} onText={setFilter} />
      )}
      {shown.map((one) => {
        const isOwn = Object.hasOwn(own, one.name);
        const value = attributeValue(state.doc, of, record, one.name);
        const from = formatIds.includes(one.from as FormatId) ? ` from ${factsOf(one.from as FormatId).title}` : '';
        return (
          <div key={one.name} className="grid grid-cols-[6.5rem_1fr_auto] items-center gap-1">
            <span
              className="truncate text-soft"
              title={`${one.title ?? one.name}: ${types[one.holds]}${from}${isOwn ? '' : ', the value that all have where they have none'}`}
            >
              {one.name}
            </span>
            <Draft
              value={value === undefined ? '' : textOfValue(value, one.holds)}
              locked={locked}
              label={`Attribute ${one.name}`}
              onTake={(text) => perform('attribute', { name: one.name, value: text }, items)}
            />
            <Button
              look="quiet"
              square
              className="size-6"
              aria-label={`Remove the attribute ${one.name}`}
              title="Remove"
              dim={whyNoEdit(state) ?? (isOwn ? undefined : 'It has only the default value.')}
              onClick={() => void perform('attribute-remove', { name: one.name }, items)}
            >
              <X size={13} />
            </Button>
          </div>
        );
      })}
      {shown.length === 0 && known.length > 0 && <p className="text-soft">No attribute has such a name.</p>}
    </section>
  );
}

/** A name and a value, taken with Enter. */
function Adding({ items, onClose }: { items: readonly string[]; onClose: () => void }): ReactNode {
  const [name, setName] = useState('');
  const [value, setValue] = useState('');
  const take = async (): Promise<void> => {
    if (name.trim() !== '') await perform('attribute', { name, value }, items);
    onClose();
  };
  return (
    <form
      className="grid grid-cols-[6.5rem_1fr_auto] items-center gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        void take();
      }}
      onKeyDown={(event) => event.key === 'Escape' && onClose()}
    >
      <TextInput
        autoFocus
        className="h-7"
        aria-label="Name of the attribute"
        placeholder="Name"
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <TextInput
        className="h-7"
        aria-label="Value of the attribute"
        placeholder="Value"
        value={value}
        onChange={(event) => setValue(event.target.value)}
      />
      <Button type="submit" className="h-7 px-2 text-xs" dim={name.trim() === '' ? 'Name the attribute.' : undefined}>
        Add
      </Button>
    </form>
  );
}

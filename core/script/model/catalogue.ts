import type { ScriptCatalogue, ScriptKind, ScriptKindPort, ScriptParameter, ScriptValue } from '../api.ts';
import type { KindRow, ParameterRow, PortRow } from '../bridge.ts';
import { ask, kinds } from './store.ts';
import { strict } from './strict.ts';

// Runs inside the sandbox: kinds and their parameters, asked for when somebody wants to know.

/** A parameter as its kind declares it; one that no kind declares is what its value is. */
export function parameterOf(id: string, spec: ParameterRow | undefined, value: ScriptValue): ScriptParameter {
  const type = typeof value === 'number' ? 'number' : typeof value === 'boolean' ? 'boolean' : 'text';
  const { title, unit, min, max, step, choices } = spec ?? { title: id };
  return {
    id,
    title,
    type: spec?.type ?? (Array.isArray(value) ? 'vector' : type),
    unit,
    min,
    max,
    step,
    choices,
    default: spec ? (spec.default as ScriptValue) : value,
  };
}

const asked = new Map<string, KindRow | null>();

function rowOf(id: string): KindRow | undefined {
  const known = kinds[id] ?? asked.get(id);
  if (known !== undefined) return known ?? undefined;
  const row = ask({ do: 'kind', id }) as unknown as KindRow | null;
  asked.set(id, row);
  return row ?? undefined;
}

function kindOf(id: string, row: KindRow): ScriptKind {
  const ports = (direction: PortRow['direction']): ScriptKindPort[] =>
    row.ports
      .filter((port) => port.direction === direction)
      .map(({ id: port, name, type }) => strict({ id: port, name, type }, 'A port of a kind'));
  return strict(
    {
      id,
      title: row.title,
      category: row.category,
      isEnd: row.isEnd,
      get parameters() {
        return Object.entries(row.parameters).map(([parameter, spec]) =>
          strict(parameterOf(parameter, spec, null), 'A parameter'),
        );
      },
      get inputs() {
        return ports('in');
      },
      get outputs() {
        return ports('out');
      },
    },
    'A kind',
  );
}

const kind = (id: string): ScriptKind | undefined => {
  const row = rowOf(String(id));
  return row && kindOf(String(id), row);
};

export const catalogue: ScriptCatalogue = strict(
  {
    get kinds() {
      return (ask({ do: 'kinds' }) as string[]).flatMap((id) => kind(id) ?? []);
    },
    kind,
  },
  'The catalogue',
);

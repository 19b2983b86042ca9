import type { ParameterSpec } from '@basitax/core/document/catalogue';
import type { Kinds } from '@basitax/core/document/kinds';
import type { GraphNode } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { settingNames, settingOf } from '@basitax/core/operations/settings';
import { plural } from '@basitax/core/words';
import { Lock, LockOpen, RotateCcw } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { Button, Field, SearchInput } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { useDialogs } from '../dialogs.ts';
import { ParameterField } from './parameter-field.tsx';

interface Common {
  readonly spec: ParameterSpec;
  readonly nodes: readonly GraphNode[];
}

/**
 * The parameters of some nodes, each with the nodes that have it with the same type: first those that all have. O(nodes
 * · parameters).
 */
function commonParameters(kinds: Kinds, nodes: readonly GraphNode[]): Common[] {
  const found = new Map<string, { spec: ParameterSpec; nodes: GraphNode[] }>();
  for (const node of nodes) {
    for (const spec of kinds.parameters(node.kind)) {
      const key = `${spec.id} ${spec.type} ${spec.unit ?? ''}`;
      const common = found.get(key) ?? { spec, nodes: [] };
      common.nodes.push(node);
      found.set(key, common);
    }
  }
  return [...found.values()].sort((a, b) => b.nodes.length - a.nodes.length);
}

const isLockedFor = (locked: boolean, nodes: readonly GraphNode[]): boolean =>
  locked || nodes.every((node) => node.locked);
/** Parameters from which on a filter is offered. */
const many = 5;

/** Parameters of one or several nodes at once, with a filter, settings, a lock, and the way back to the defaults. */
export function Parameters({
  nodes,
  kinds,
  locked,
}: {
  nodes: readonly GraphNode[];
  kinds: Kinds;
  locked: boolean;
}): ReactNode {
  const [text, setText] = useState('');
  const common = commonParameters(kinds, nodes);
  const unknown =
    nodes.length === 1
      ? Object.keys(must(nodes[0]).params ?? {}).filter((id) => !kinds.parameter(must(nodes[0]).kind, id))
      : [];
  if (common.length === 0 && unknown.length === 0) return null;
  const fits = (title: string): boolean => title.toLowerCase().includes(text.trim().toLowerCase());
  const shown = common.filter(({ spec }) => fits(spec.title) || fits(spec.id));
  const isLocked = isLockedFor(locked, nodes);
  return (
    <section className="flex flex-col gap-2" aria-label="Parameters">
      <span className="flex items-center gap-1">
        <h3 className="mr-auto font-bold">Parameters</h3>
        <Tools nodes={nodes} locked={locked} />
      </span>
      <Settings nodes={nodes} locked={isLocked} />
      {common.length > many && (
        <SearchInput label="Filter parameters" placeholder="Filter" className="h-7" value={text} onText={setText} />
      )}
      {shown.map(({ spec, nodes: having }) => (
        <div key={`${spec.id} ${spec.type} ${spec.unit ?? ''}`}>
          <ParameterField nodes={having} spec={spec} kinds={kinds} locked={isLockedFor(locked, having)} />
          {having.length < nodes.length && (
            <span className="text-xs text-soft">
              of {having.length} of the {nodes.length} nodes
            </span>
          )}
        </div>
      ))}
      {shown.length === 0 && common.length > 0 && <p className="text-soft">No parameter has that name.</p>}
      {unknown.filter(fits).map((id) => (
        <Field key={id} label={id} hint="not in the catalogue">
          <code className="truncate font-mono text-xs">{JSON.stringify(must(nodes[0]).params?.[id])}</code>
        </Field>
      ))}
    </section>
  );
}

function Tools({ nodes, locked }: { nodes: readonly GraphNode[]; locked: boolean }): ReactNode {
  const ids = nodes.map((node) => node.id);
  const isLocked = nodes.every((node) => node.locked);
  const no = locked ? 'Nothing can be changed now.' : undefined;
  return (
    <>
      <Button
        look="quiet"
        square
        className="size-7"
        aria-pressed={isLocked}
        aria-label={isLocked ? 'Unlock the parameters' : 'Lock the parameters'}
        title={isLocked ? 'Unlock the parameters' : 'Lock the parameters'}
        dim={no}
        onClick={() => void perform(isLocked ? 'unlock' : 'lock', {}, ids)}
      >
        {isLocked ? <Lock size={14} /> : <LockOpen size={14} />}
      </Button>
      <Button
        look="quiet"
        square
        className="size-7"
        aria-label="Reset the present setting"
        title="Reset the present setting"
        dim={no ?? (nodes.some((node) => node.params) ? undefined : 'All have their defaults.')}
        onClick={() => void perform('reset', {}, ids)}
      >
        <RotateCcw size={14} />
      </Button>
    </>
  );
}

/** The settings that all nodes have; another one is chosen, or made of the present one. */
function Settings({ nodes, locked }: { nodes: readonly GraphNode[]; locked: boolean }): ReactNode {
  const ids = nodes.map((node) => node.id);
  const names = settingNames(must(nodes[0])).filter((name) => nodes.every((node) => settingNames(node).includes(name)));
  const present = nodes.every((node) => settingOf(node) === settingOf(must(nodes[0])))
    ? settingOf(must(nodes[0]))
    : undefined;
  const act = (operation: string, title: string): ReactNode => (
    <Button
      className="h-6 px-1.5 text-xs"
      dim={locked ? 'Nothing can be changed now.' : undefined}
      onClick={() => useDialogs.setState({ opened: { operation, items: ids } })}
    >
      {title}
    </Button>
  );
  return (
    <span className="grid grid-cols-[1fr_auto_auto_auto] items-center gap-1">
      <select
        aria-label="Setting"
        className="col-span-4 h-7 min-w-0 rounded-sm border border-edge bg-ticket px-1.5"
        value={present ?? ''}
        disabled={locked}
        onChange={(event) => void perform('setting-choose', { name: event.target.value }, ids)}
      >
        {present === undefined && (
          <option value="" disabled>
            mixed settings
          </option>
        )}
        {names.map((name) => (
          <option key={name} value={name}>
            Setting: {name}
          </option>
        ))}
      </select>
      <span className="text-xs text-soft">
        {present === undefined ? `${names.length} in common` : plural(names.length, 'setting')}
      </span>
      {act('setting-add', 'New')}
      {act('setting-rename', 'Rename')}
      {names.length > 1 && act('setting-remove', 'Remove')}
    </span>
  );
}

import type { GraphNode } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { ArrowDown, ArrowUp } from 'lucide-react';
import type { ReactNode } from 'react';
import { toast } from 'sonner';
import { api } from '../../api/client.ts';
import { Button } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { openDialog } from '../dialogs.ts';
import { type Editing, enterGraph } from '../store.ts';
import { Draft } from './draft.tsx';

const no = (locked: boolean): string | undefined => (locked ? 'Nothing can be changed now.' : undefined);

/** What a nested graph and its ports can have done to them. */
export function NestedSection({ node, locked }: { node: GraphNode; locked: boolean }): ReactNode {
  return (
    <section aria-label="What it holds" className="flex flex-col gap-2">
      <div className="grid grid-cols-2 gap-1.5">
        <Button onClick={() => enterGraph(must(node.inner))}>Enter</Button>
        <Button onClick={() => openDialog({ peek: node.id })}>Peek inside</Button>
        <Button dim={no(locked)} onClick={() => void perform('unnest', {}, [node.id])}>
          Unnest
        </Button>
        <Button dim={no(locked)} onClick={() => openDialog({ publish: node.id })}>
          Publish …
        </Button>
      </div>
      {(['in', 'out'] as const).map((direction) => {
        const ports = node.ports.filter((port) => port.direction === direction && port.of === undefined);
        return (
          ports.length > 0 && (
            <div key={direction}>
              <h3 className="mb-1 text-soft">{direction === 'in' ? 'Inputs' : 'Outputs'}</h3>
              <ul className="flex flex-col gap-1">
                {ports.map((port, i) => (
                  <li key={port.id} className="grid grid-cols-[1fr_auto_auto] items-center gap-1">
                    <Draft
                      label={`Name of the port ${port.name}`}
                      value={port.name}
                      locked={locked}
                      onTake={(name) => perform('rename', { name }, [port.id])}
                    />
                    <Button
                      look="quiet"
                      square
                      className="size-6"
                      aria-label={`${port.name} up`}
                      dim={no(locked) ?? (i === 0 ? 'It is the first.' : undefined)}
                      onClick={() => void perform('port-place', { port: port.id, by: -1 }, [node.id])}
                    >
                      <ArrowUp size={13} />
                    </Button>
                    <Button
                      look="quiet"
                      square
                      className="size-6"
                      aria-label={`${port.name} down`}
                      dim={no(locked) ?? (i === ports.length - 1 ? 'It is the last.' : undefined)}
                      onClick={() => void perform('port-place', { port: port.id, by: 1 }, [node.id])}
                    >
                      <ArrowDown size={13} />
                    </Button>
                  </li>
                ))}
              </ul>
            </div>
          )
        );
      })}
    </section>
  );
}

/** A node of a shared kind: its version, and the ways to a newer one or to a graph of its own. */
export function SharedSection({
  node,
  state,
  locked,
}: {
  node: GraphNode;
  state: Editing;
  locked: boolean;
}): ReactNode {
  const shared = state.kinds.kind(node.kind)?.shared;
  if (!shared) return null;
  const newest = state.kinds.newestShared(shared.name)?.shared?.version ?? shared.version;
  const makeOwn = async (): Promise<void> => {
    try {
      await perform('make-own', { body: await api.sharedBody(shared.name, shared.version) }, [node.id]);
    } catch (error) {
      toast.error('What the version holds could not be read', { description: (error as Error).message });
    }
  };
  return (
    <section aria-label="Shared kind" className="flex flex-col gap-1.5">
      <p>
        Shared kind <code className="font-mono text-xs">{shared.name}</code>, version {shared.version}
        {newest > shared.version ? `; the newest is ${newest}` : ', the newest'}.
      </p>
      <div className="grid grid-cols-2 gap-1.5">
        <Button
          dim={no(locked) ?? (newest > shared.version ? undefined : 'It is the newest.')}
          onClick={() => void perform('update-shared', { name: shared.name }, [node.id])}
        >
          Update
        </Button>
        <Button dim={no(locked)} onClick={() => void makeOwn()}>
          Make it own
        </Button>
      </div>
    </section>
  );
}

import { caption } from '@basitax/core/document/doc';
import type { Point } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { must } from '@basitax/core/must';
import { toast } from 'sonner';
import { perform, setParameter } from '../actions.ts';
import { pathOf } from '../assets.ts';
import { chooseOne } from '../dialogs.ts';
import { useEditor } from '../store.ts';
import { takeDrops } from './drop.ts';
import type { Host } from './press.ts';

const { getState } = useEditor;

/** How far apart nodes of several files stand, in graph pixels. */
const apart = 110;

/**
 * Takes files that are dropped on the canvas: on a node for its path, on the ground for a node that reads them. Returns
 * a way to stop.
 */
export const takeFiles = (host: Host): (() => void) =>
  takeDrops(host, {
    type: 'Files',
    effect: 'link',
    take({ files }, at, hit) {
      const node = hit?.type === 'node' ? hit.id : hit?.type === 'port' ? hit.node.id : undefined;
      void takeAll(
        [...files].map((file) => file.name),
        at,
        node,
      );
      return files.length > 0;
    },
  });

/** One after the other, since each may have to be asked about. */
async function takeAll(names: readonly string[], at: Point, node: Id | undefined): Promise<void> {
  for (const [i, name] of names.entries()) {
    const path = await pathOf(name);
    if (path === undefined) continue;
    if (node === undefined) await makeReader(name, path, { x: at.x, y: at.y + i * apart });
    else await setPath(node, path);
  }
}

async function setPath(id: Id, path: string): Promise<void> {
  const { doc, kinds } = getState();
  const node = doc.nodes.get(id);
  const spec = node && kinds.pathParameter(node.kind);
  if (node && spec) await setParameter([id], spec.id, path);
  else if (node)
    toast.error(`“${caption(node)}” takes no file`, {
      description: `${kinds.title(node.kind)} has no path. Drop the file on the ground for a node that reads it.`,
      duration: 6000,
    });
}

async function makeReader(name: string, path: string, at: Point): Promise<void> {
  const { kinds } = getState();
  const readers = kinds.readers(name);
  if (readers.length === 0) {
    toast.error(`No kind of node reads “${name}”`, {
      description: 'Drop it on a node that has a path.',
      duration: 6000,
    });
    return;
  }
  const chosen =
    readers.length === 1
      ? 0
      : await chooseOne(
          `What reads “${name}”?`,
          readers.map((kind) => ({ label: kind.title, hint: kinds.category(kind.id).title })),
        );
  const kind = chosen === undefined ? undefined : readers[chosen];
  if (kind)
    await perform(
      'add-node',
      {
        kind: kind.id,
        where: 'by itself',
        x: Math.round(at.x),
        y: Math.round(at.y),
        params: { [must(kinds.pathParameter(kind.id)).id]: path },
      },
      [],
    );
}

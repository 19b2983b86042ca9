import { builtin } from '@basitax/core/document/builtin';
import { type Doc, graphPath, selectedNodes } from '@basitax/core/document/doc';
import { ticket, titleOf } from '@basitax/core/document/geometry';
import type { Kinds } from '@basitax/core/document/kinds';
import type { GraphNode } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { setsOf } from '@basitax/core/structure/sets';
import { effectiveWiring } from '@basitax/core/wiring/effective';
import { scopesAround, scopeTitle } from '@basitax/core/wiring/feeds';
import { addableKinds } from '@basitax/core/wiring/fitting';
import { sharable } from '@basitax/core/wiring/share';
import { plural } from '@basitax/core/words';
import { type ReactNode, useMemo, useState } from 'react';
import { Choice } from '../../ui/choice.tsx';
import { Button } from '../../ui/controls.tsx';
import { useEditing } from '../store.ts';

/** A graph of the document by its path, or a frame by its title. */
export function PlaceSelect({
  what,
  value,
  onChange,
}: {
  what: 'frame' | 'graph';
  value: string;
  onChange: (value: string) => void;
}): ReactNode {
  const { doc, graph } = useEditing();
  const pathOf = (id: string): string =>
    graphPath(doc, id)
      .map((one, i) => (i === 0 ? 'Outermost graph' : (doc.graphs.get(one)?.name ?? one)))
      .join(' / ');
  const choices =
    what === 'graph'
      ? [...doc.graphs.keys()].filter((id) => id !== graph).map((id) => ({ value: id, title: pathOf(id) }))
      : [...doc.frames.values()].map((frame) => ({
          value: frame.id,
          title: `${titleOf(frame)}${frame.graph === graph ? '' : `, in ${pathOf(frame.graph)}`}`,
        }));
  choices.sort((a, b) => (a.title < b.title ? -1 : 1));
  return (
    <Choice
      none={what === 'graph' ? 'Choose a graph' : 'No frame'}
      choices={choices}
      value={value}
      onChoose={onChange}
    />
  );
}

/** What a feed can supply: the frames and graphs around it, each with how many inputs that would be. */
export function ScopeSelect({ value, onChange }: { value: string; onChange: (value: string) => void }): ReactNode {
  const { doc, kinds, graph, selection, preview } = useEditing();
  // what is previewed may be of something else than what is selected
  const [feed] = selectedNodes(doc, { graph, items: preview?.select ?? selection });
  const choices = useMemo(() => (feed?.kind === builtin.feed ? scopesOf(doc, kinds, feed) : []), [doc, kinds, feed]);
  return (
    <Choice
      none="What it stands in"
      choices={choices.map(({ id, title }) => ({ value: id, title }))}
      value={value}
      onChoose={onChange}
    />
  );
}

/** The scopes around a feed, the nearest first, with what it would supply in each. */
export function scopesOf(doc: Doc, kinds: Kinds, feed: GraphNode): { id: string; title: string }[] {
  return [...scopesAround(doc, feed)].map((scope) => {
    const tried = { ...doc, nodes: new Map(doc.nodes).set(feed.id, { ...feed, covers: scope }) };
    const count = effectiveWiring(tried, kinds).suppliedBy(feed.id).length;
    const what = doc.frames.has(scope) ? 'frame' : 'graph';
    return { id: scope, title: `the ${what} “${scopeTitle(doc, scope)}”: ${plural(count, 'input')}` };
  });
}

const inFile = 'In this file';

/**
 * What the selection allows: a kind of node by its category, a port of the selected node, a parameter that all selected
 * nodes have and a node could give.
 */
export function NodeSelect({
  what,
  value,
  onChange,
}: {
  what: 'kind' | 'input' | 'output' | 'shared';
  value: string;
  onChange: (value: string | undefined) => void;
}): ReactNode {
  const { doc, kinds, graph, selection } = useEditing();
  const nodes = selectedNodes(doc, { graph, items: selection });
  const used = useMemo(() => new Set([...doc.nodes.values()].map((node) => node.kind)), [doc]);
  const choices =
    what === 'kind'
      ? addableKinds(kinds).map((kind) => ({
          id: kind.id,
          title: kind.title,
          // what the file uses already is the likeliest
          group: used.has(kind.id) ? inFile : kinds.category(kind.id).title,
        }))
      : what === 'input' || what === 'output'
        ? (nodes[0]?.ports ?? [])
            .filter((port) => port.direction === (what === 'input' ? 'in' : 'out'))
            .map((port) => ({ id: port.id, title: port.name, group: '' }))
        : sharable(kinds, nodes).map((spec) => ({ id: spec.id, title: spec.title, group: '' }));
  const sorted = [...choices].sort(
    (a, b) =>
      Number(b.group === inFile) - Number(a.group === inFile) ||
      (a.group < b.group ? -1 : a.group > b.group ? 1 : 0) ||
      (what === 'kind' ? (a.title < b.title ? -1 : 1) : 0),
  );
  const none = {
    kind: 'Choose a kind',
    input: 'The first that can be',
    output: 'The first main one',
    shared: choices.length === 0 ? 'None that a node could give' : 'Choose a parameter',
  }[what];
  return (
    <Choice
      none={none}
      mustChoose={what === 'kind'}
      choices={sorted.map(({ id, title, group }) => ({ value: id, title, group }))}
      value={value}
      onChoose={(id) => onChange(id === '' ? undefined : id)}
    />
  );
}

/** A named set of the file, or a shared kind of the team. */
export function NamedSelect({
  what,
  value,
  onChange,
}: {
  what: 'set' | 'shared-kind';
  value: string;
  onChange: (value: string) => void;
}): ReactNode {
  const { doc, kinds } = useEditing();
  const choices =
    what === 'set'
      ? setsOf(doc).map(({ id, name }) => ({ value: id, title: name }))
      : kinds
          .sharedNames()
          .map((name) => ({ value: name, title: `${must(kinds.newestShared(name)).title} (${name})` }));
  const none = choices.length === 0 ? 'None yet' : what === 'set' ? 'Choose a set' : 'Choose a shared kind';
  return <Choice none={none} choices={choices} value={value} onChoose={onChange} />;
}

/** Twice the size that it is drawn in, so that it is sharp on dense screens; cut to its shape. */
async function shrink(file: File): Promise<string> {
  const image = await createImageBitmap(file);
  const canvas = document.createElement('canvas');
  const [width, height] = [ticket.pictureWidth * 2, ticket.pictureHeight * 2];
  Object.assign(canvas, { width, height });
  const scale = Math.max(width / image.width, height / image.height);
  const [w, h] = [image.width * scale, image.height * scale];
  must(canvas.getContext('2d')).drawImage(image, (width - w) / 2, (height - h) / 2, w, h);
  image.close();
  return canvas.toDataURL('image/jpeg', 0.82);
}

/** A picture from a file, made small here: nothing but the small one goes into the document. */
export function PictureField({
  value,
  onChange,
}: {
  value: string | undefined;
  onChange: (value: string | undefined) => void;
}): ReactNode {
  const [problem, setProblem] = useState<string>();
  return (
    <span className="flex items-center gap-3">
      {value ? (
        <img src={value} alt="As it will be" width={ticket.pictureWidth} height={ticket.pictureHeight} />
      ) : (
        <span
          className="grid place-items-center border border-dashed border-line text-xs text-soft"
          style={{ width: ticket.pictureWidth, height: ticket.pictureHeight }}
        >
          none
        </span>
      )}
      <span className="flex min-w-0 flex-col gap-1">
        <input
          type="file"
          accept="image/png,image/jpeg,image/webp"
          aria-label="Choose a picture"
          className="w-60 text-xs file:mr-2 file:h-7 file:cursor-pointer file:rounded-sm file:border file:border-line file:bg-panel file:px-2 file:text-ink"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (!file) return;
            setProblem(undefined);
            shrink(file).then(onChange, () =>
              setProblem(`${file.name} is not a picture that can be read; choose a PNG, JPEG or WebP.`),
            );
          }}
        />
        {value && (
          <Button className="h-6 self-start px-2 text-xs" onClick={() => onChange(undefined)}>
            Take it away
          </Button>
        )}
        {problem && (
          <span role="alert" className="text-xs text-warn">
            {problem}
          </span>
        )}
      </span>
    </span>
  );
}

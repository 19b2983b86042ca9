import { type Doc, indexOf } from '@basitax/core/document/doc';
import { storedText, writeDoc } from '@basitax/core/document/file';
import { rectOf } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { Kinds } from '@basitax/core/document/kinds';
import { jsonPatch } from '@basitax/core/formats/json-patch';
import { type Change, type Comparison, withConsequences } from '@basitax/core/inspect/compare/compare';
import { type Layer, layers } from '@basitax/core/inspect/compare/layers';
import { must } from '@basitax/core/must';
import { Cancelled } from '@basitax/core/operation';
import { plural } from '@basitax/core/words';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { api } from '../../api/client.ts';
import { openFile } from '../../api/opening.ts';
import { Choice } from '../../ui/choice.tsx';
import { Button } from '../../ui/controls.tsx';
import { adviceRunner } from '../../work/runner.ts';
import { download } from '../download.ts';
import { SidePanel } from '../panels/side.tsx';
import { enterGraph, lookAt, remember, showGraph, useEditing } from '../store.ts';
import { verdicts } from '../verdicts.ts';
import { type Differences, showMarks } from './marks.ts';
import { Consequences, called, changeKey, Waiting, whereIs } from './parts.tsx';
import { ask, useQuestions } from './questions.ts';

const titles: Readonly<Record<Layer, string>> = { function: 'Function', words: 'Words', layout: 'Layout' };
const abouts: Readonly<Record<Layer, string>> = {
  function: 'what is computed',
  words: 'names, labels, notes, values that change nothing',
  layout: 'places, frames, routes, looks',
};

/** The document that is compared with, and its kinds. */
interface Other {
  readonly doc: Doc;
  readonly kinds: Kinds;
}

async function fetchOther({ file, revision }: { file: string; revision: number }): Promise<Other> {
  const { doc, catalogue } = await openFile(file, revision);
  return { doc, kinds: new Kinds(catalogue) };
}

/** What differs from another revision or file: as a list and on the canvas, function apart from words and layout. */
export function ComparePanel(): ReactNode {
  const { doc, graph, fileId, revision, catalogue } = useEditing();
  const chosen = useQuestions((one) => one.other);
  const other = useQuery({
    queryKey: ['other', chosen],
    queryFn: () => fetchOther(must(chosen)),
    enabled: chosen !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
  });
  const [found, setFound] = useState<{ answer?: Comparison; problem?: string }>({});
  useEffect(() => {
    setFound({});
    if (!other.data) return;
    const abort = new AbortController();
    adviceRunner
      .run(
        'compare',
        { before: storedText(other.data.doc) ?? writeDoc(other.data.doc), catalogue: other.data.kinds.catalogue },
        { doc, catalogue, signal: abort.signal },
      )
      .then(
        (answer) => setFound({ answer }),
        (error: unknown) => error instanceof Cancelled || setFound({ problem: (error as Error).message }),
      );
    return () => abort.abort();
  }, [other.data, doc, catalogue]);
  const [shown, setShown] = useState<ReadonlySet<Layer>>(new Set(layers));
  const { answer } = found;
  const before = other.data;
  useEffect(() => {
    showMarks(
      answer && before
        ? { differences: differencesOf(withConsequences(answer.changes), before, doc, graph, shown) }
        : undefined,
    );
    return () => showMarks();
  }, [answer, before, doc, graph, shown]);
  const patch = (): void => {
    if (before)
      download(
        `${fileId}.patch.json`,
        JSON.stringify(jsonPatch(before.doc, doc), null, 2),
        'application/json-patch+json',
      );
  };
  return (
    <SidePanel
      id="compare"
      title="Compare"
      about="What differs between this file, with your changes, and another revision or file."
      footer={
        <Button
          dim={before ? undefined : 'Choose what to compare with first.'}
          title="A JSON Patch (RFC 6902) that leads from the other to this one"
          onClick={patch}
        >
          Export as JSON Patch
        </Button>
      }
    >
      <Chooser fileId={fileId} revision={revision} chosen={chosen} />
      {chosen === undefined ? (
        <p className="text-soft">Choose a revision of this file, or another file.</p>
      ) : other.isError || found.problem ? (
        <Waiting problem={other.error?.message ?? found.problem} what="" />
      ) : !answer || !before ? (
        <Waiting problem={undefined} what="Comparing" />
      ) : (
        <>
          <Verdict comparison={answer} />
          <fieldset className="flex min-w-0 flex-col gap-1">
            <legend className="sr-only">What is shown</legend>
            {layers.map((layer) => (
              <label key={layer} className="flex items-baseline gap-2">
                <input
                  type="checkbox"
                  className="size-4 self-center accent-accent"
                  checked={shown.has(layer)}
                  onChange={() => {
                    const next = new Set(shown);
                    if (!next.delete(layer)) next.add(layer);
                    setShown(next);
                  }}
                />
                <span className="font-bold">{titles[layer]}</span>
                <span className="min-w-0 flex-1 truncate text-xs text-soft">{abouts[layer]}</span>
                <span className="tabular-nums">{answer.counts[layer].toLocaleString('en')}</span>
              </label>
            ))}
          </fieldset>
          {answer.changes.length === 0 && <p className="text-soft">They are the same.</p>}
          {layers
            .filter((layer) => shown.has(layer) && answer.counts[layer] > 0)
            .map((layer) => (
              <Changes
                key={layer}
                layer={layer}
                changes={answer.changes.filter((change) => change.layer === layer)}
                before={before}
              />
            ))}
        </>
      )}
    </SidePanel>
  );
}

function Chooser({
  fileId,
  revision,
  chosen,
}: {
  fileId: string;
  revision: number;
  chosen: { file: string; revision: number } | undefined;
}): ReactNode {
  const files = useQuery({ queryKey: ['files'], queryFn: api.files });
  const file = chosen?.file ?? fileId;
  const revisions = useQuery({ queryKey: ['revisions', file], queryFn: () => api.revisions(file) });
  return (
    <div className="grid grid-cols-[auto_1fr] items-center gap-2">
      <label htmlFor="compare-file" className="text-soft">
        File
      </label>
      <Choice
        id="compare-file"
        label="File"
        value={file}
        choices={(files.data ?? []).map((one) => ({
          value: one.id,
          title: one.id === fileId ? `This file: ${one.title}` : one.title,
        }))}
        onChoose={(id) => {
          const next = files.data?.find((one) => one.id === id);
          if (next) ask({ other: { file: next.id, revision: next.head.number } });
        }}
      />
      <label htmlFor="compare-revision" className="text-soft">
        Revision
      </label>
      <Choice
        id="compare-revision"
        label="Revision"
        value={chosen === undefined ? '' : String(chosen.revision)}
        none="Choose one"
        mustChoose
        choices={(revisions.data ?? []).map((one) => ({
          value: String(one.number),
          title: `${one.number}${file === fileId && one.number === revision ? ' (opened)' : ''}: ${one.message}`,
        }))}
        onChoose={(number) => ask({ other: { file, revision: Number(number) } })}
      />
    </div>
  );
}

function Verdict({ comparison }: { comparison: Comparison }): ReactNode {
  const { matched, fingerprint } = comparison;
  return (
    <p>
      <span className={`block font-bold ${verdicts[fingerprint.verdict].look}`}>
        {verdicts[fingerprint.verdict].text}
      </span>
      <span className="text-xs text-soft">
        {plural(matched.byId, 'node')} matched by id
        {matched.byLikeness > 0 && `, ${matched.byLikeness.toLocaleString('en')} by likeness`}.
      </span>
    </p>
  );
}

const first = 60;

function Changes({ layer, changes, before }: { layer: Layer; changes: readonly Change[]; before: Other }): ReactNode {
  const { doc, kinds, graph } = useEditing();
  const [most, setMost] = useState(first);
  const home = useMemo(
    () => new Map<Id, Id>([...before.doc.graphs.keys()].map((id) => [id, doc.graphs.has(id) ? id : doc.head.root])),
    [before, doc],
  );
  const go = (change: Change): void => {
    if (change.nodes) {
      // those of the graph that is shown, or else of that of the first
      const graphOf = (id: Id): Id | undefined => called(doc, kinds, id).graph;
      const at = change.nodes.some((id) => graphOf(id) === graph) ? graph : graphOf(change.nodes[0] ?? '');
      if (at !== undefined)
        enterGraph(
          at,
          change.nodes.filter((id) => graphOf(id) === at),
        );
      return;
    }
    if (change.after !== undefined) {
      const at = called(doc, kinds, change.after).graph;
      if (at !== undefined) enterGraph(at, [change.after]);
      return;
    }
    // what went is looked for where it stood
    const gone = change.before === undefined ? undefined : called(before.doc, before.kinds, change.before).graph;
    remember();
    if (gone !== undefined && showGraph(home.get(gone) ?? doc.head.root, [])) lookAt('all');
  };
  return (
    <section aria-label={titles[layer]}>
      <h3 className="font-bold">{titles[layer]}</h3>
      <ul>
        {changes.slice(0, most).map((change) => (
          <li key={changeKey(change)} className="border-b border-line py-0.5">
            <Sentence change={change} here={graph} onGo={go} />
            <Consequences of={change} row={(one) => <Sentence change={one} here={graph} onGo={go} />} />
          </li>
        ))}
      </ul>
      {changes.length > most && (
        <button type="button" className="py-1 text-xs text-soft underline" onClick={() => setMost(most * 5)}>
          {(changes.length - most).toLocaleString('en')} more
        </button>
      )}
    </section>
  );
}

/** A change as a sentence that leads to where it is. */
function Sentence({ change, here, onGo }: { change: Change; here: Id; onGo(change: Change): void }): ReactNode {
  const { doc, kinds } = useEditing();
  const at = change.after === undefined ? undefined : called(doc, kinds, change.after).graph;
  const where = whereIs(doc, at, here);
  return (
    <button type="button" className="w-full text-left break-words hover:underline" onClick={() => onGo(change)}>
      <span className="mr-1.5 text-xs text-soft">{change.type}</span>
      {change.sentence}
      {where !== '' && <span className="text-xs text-soft"> In {where}.</span>}
    </button>
  );
}

/** What is drawn of the changes in the graph that is shown. */
function differencesOf(
  changes: readonly Change[],
  before: Other,
  doc: Doc,
  graph: Id,
  shown: ReadonlySet<Layer>,
): Differences {
  const some = changes.filter((change) => shown.has(change.layer));
  const changed = new Map<Id, Layer>();
  for (const { type, layer, after, before: old } of some) {
    if (after === undefined || type === 'added' || (old === undefined && type !== 'note')) continue;
    const known = changed.get(after);
    if (known === undefined || layers.indexOf(layer) < layers.indexOf(known)) changed.set(after, layer);
  }
  const rect = (id: Id) => {
    const node = before.doc.nodes.get(id);
    return node && { node, rect: rectOf(before.doc, before.kinds, node) };
  };
  return {
    graph,
    added: new Set(
      some.flatMap((change) => (change.type === 'added' && change.after !== undefined ? [change.after] : [])),
    ),
    changed,
    removed: some.flatMap((change) => {
      const old = change.type === 'removed' && change.before !== undefined ? rect(change.before) : undefined;
      return old && old.node.graph === graph
        ? [{ id: old.node.id, rect: old.rect, title: old.node.label || old.node.name }]
        : [];
    }),
    moved: some.flatMap((change) => {
      const old =
        change.type === 'moved' && change.before !== undefined && change.after !== undefined
          ? rect(change.before)
          : undefined;
      return old ? [{ id: must(change.after), from: old.rect }] : [];
    }),
    rewired: new Set(
      some.flatMap(({ type, after, part }) =>
        type === 'rewired' && after !== undefined && part !== undefined
          ? [indexOf(doc).wireInto(after, part)?.id ?? []].flat()
          : [],
      ),
    ),
  };
}

import { Kinds } from '@basitax/core/document/kinds';
import { diff } from '@basitax/core/edit/diff';
import { createContext } from '@basitax/core/operation';
import { operate } from '@basitax/core/operations';
import { openSession, reduce, type Session, type SessionStep } from '@basitax/core/session/session';
import { catalogue } from '@basitax/demo/catalogue';
import { bigScene } from './scene.ts';
import { spread } from './trace.ts';

const kinds = new Kinds(catalogue);

interface Row {
  readonly act: string;
  readonly steps: number;
  /**
   * Milliseconds: of doing it, and median and 95th percentile of taking it back and doing it again; each beside a copy
   * of all tables as reference.
   */
  readonly doing: number;
  readonly undo: string;
  readonly redo: string;
  readonly ofCopy: string;
  /** The same with a revision of others between, of a label on each tenth node. */
  readonly undoOverOthers: string;
}

const next = (session: Session, step: SessionStep): Session => {
  const reduced = reduce(session, step);
  if (reduced.failure !== undefined) throw new Error(reduced.failure);
  return reduced.session;
};

const timed = <T>(what: () => T): [T, number] => {
  const start = performance.now();
  const result = what();
  return [result, performance.now() - start];
};

/** Undo and redo of large acts on 10,000 nodes and 15,000 wires. */
export async function session(): Promise<Row[]> {
  const doc = bigScene(10_000, 15_000);
  const items = [...doc.nodes.keys()];
  const acts: [string, string, readonly string[], object][] = [
    ['nudge all', 'nudge', items, { direction: 'down' }],
    ['arrange all', 'arrange', [], {}],
    ['delete a half', 'delete-with-wires', items.slice(0, 5000), {}],
    ['label all', 'label', items, { label: 'Depth' }],
    ['nudge one', 'nudge', items.slice(0, 1), { direction: 'down' }],
  ];
  return acts.map(([act, id, chosen, options]): Row => {
    const start = openSession({ fileId: 'f', title: 'Scene', kinds, revision: 1, doc });
    const { edit } = operate(id, createContext(kinds, 1), doc, { graph: doc.head.root, items: chosen }, options);
    if (edit.steps.length === 0) throw new Error(`${act} does nothing.`);
    const [done, doing] = timed(() => next(start, { type: 'do', title: act, edit }));
    const [undos, redos]: [number[], number[]] = [[], []];
    let now = done;
    for (let i = 0; i < 12; i++) {
      const [undone, back] = timed(() => next(now, { type: 'undo' }));
      const [again, forth] = timed(() => next(undone, { type: 'redo' }));
      undos.push(back);
      redos.push(forth);
      now = again;
    }
    const [, copy] = timed(() => [doc.nodes, doc.wires, doc.frames].map((table) => new Map<string, unknown>(table)));
    const theirs = {
      ...doc,
      nodes: new Map([...doc.nodes].map(([key, node], i) => [key, i % 10 === 0 ? { ...node, label: 'Theirs' } : node])),
    };
    const taken = next(done, { type: 'take in', revision: 2, theirs, title: 'Theirs' });
    const over = Array.from({ length: 9 }, () => timed(() => next(taken, { type: 'undo' }))[1]);
    const said = (values: readonly number[]): string =>
      `${spread(values).median.toFixed(1)} / ${spread(values).p95.toFixed(1)}`;
    return {
      act,
      steps: diff(doc, done.doc).steps.length,
      doing: Math.round(doing),
      undo: said(undos),
      redo: said(redos),
      ofCopy: (spread(undos).median / copy).toFixed(1),
      undoOverOthers: said(over),
    };
  });
}

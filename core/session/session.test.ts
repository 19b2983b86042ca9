import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Doc } from '../document/doc.ts';
import { seededRandom } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { problems } from '../document/validate.ts';
import { diff } from '../edit/diff.ts';
import { resolve } from '../edit/resolve.ts';
import { apply, type Edit } from '../edit/step.ts';
import { strictKinds } from '../tests/acts.ts';
import { docFromSeed, plainDoc, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { actedWidely } from '../tests/random-act.ts';
import { lastSerial, mostActs } from './history.ts';
import {
  type Failure,
  isDirty,
  meetIn,
  openSession,
  reduce,
  type Saving,
  type Session,
  type SessionStep,
  unsavedActs,
} from './session.ts';

const open = (doc: Doc, kinds: Kinds = testKinds): Session =>
  openSession({ fileId: 'f', title: 'File', kinds, revision: 1, doc });

/** The next session; a failure is an error of the test. */
function next(session: Session, step: SessionStep): Session {
  const reduced = reduce(session, step);
  if (reduced.failure !== undefined) throw new Error(`${step.type}: ${reduced.failure}`);
  return reduced.session;
}
const failure = (session: Session, step: SessionStep): Failure | undefined => reduce(session, step).failure;
const acted = (session: Session, seed: number): Session => {
  const { doc, title } = actedWidely(session.doc, seed, session.kinds);
  return next(session, { type: 'do', title, edit: diff(session.doc, doc) });
};
const titled = (session: Session, id: string, label: string): Session => {
  const node = session.doc.nodes.get(id)!;
  const nodes = new Map(session.doc.nodes).set(id, { ...node, label });
  return next(session, { type: 'do', title: label, edit: diff(session.doc, { ...session.doc, nodes }) });
};
const all = (session: Session, type: 'undo' | 'redo'): Session => {
  let now = session;
  for (;;) {
    const reduced = reduce(now, { type });
    if (reduced.failure !== undefined) return now;
    now = reduced.session;
  }
};

const scene = fc.record({
  seed: fc.nat(1_000_000),
  size: fc.integer({ min: 2, max: 14 }),
  isStrict: fc.boolean(),
  acts: fc.array(fc.nat(1_000_000), { minLength: 1, maxLength: 4 }),
});
const begun = ({ seed, size, isStrict }: { seed: number; size: number; isStrict: boolean }): Session =>
  open(docFromSeed(seed, size, { acyclic: isStrict }), isStrict ? strictKinds : testKinds);

describe('a history', () => {
  it('undoes to the beginning and does all again, and goes to any act', () => {
    fc.assert(
      fc.property(scene, (who) => {
        const start = begun(who);
        const states = [start];
        for (const seed of who.acts) states.push(acted(states.at(-1)!, seed));
        const end = states.at(-1)!;
        const back = all(end, 'undo');
        expect([plainDoc(back.doc), isDirty(back)]).toEqual([plainDoc(start.doc), false]);
        expect(plainDoc(all(back, 'redo').doc)).toEqual(plainDoc(end.doc));
        for (const state of states)
          expect(plainDoc(next(back, { type: 'go', to: lastSerial(state) }).doc)).toEqual(plainDoc(state.doc));
      }),
      { numRuns: 60 },
    );
  });

  it('forgets the oldest acts beyond a thousand, and says from where on', () => {
    let session = open(sketchDoc().node('a', 'src').doc);
    for (let i = 0; i < mostActs + 5; i++) session = titled(session, 'a', `Label ${i}`);
    expect([session.past.length, session.floor, isDirty(session)]).toEqual([mostActs, 5, true]);
    const back = all(session, 'undo');
    expect([back.doc.nodes.get('a')?.label, isDirty(back), unsavedActs(back).length]).toEqual(['Label 4', true, 0]);
  });

  it('refuses with a reason what cannot be done', () => {
    const session = open(sketchDoc().node('a', 'src').doc);
    const stale: Edit = { steps: [{ type: 'set', table: 'nodes', id: 'a', path: ['x'], from: 7, to: 8 }] };
    expect([
      failure(session, { type: 'undo' }),
      failure(session, { type: 'redo' }),
      failure(session, { type: 'send' }),
      failure(session, { type: 'go', to: 4 }),
      failure(session, { type: 'show', graph: 'nowhere', items: [] }),
      failure(session, { type: 'do', title: 'Stale', edit: stale }),
      failure(session, { type: 'take in', revision: 1, theirs: session.doc, title: 'Old' }),
      failure(next(titled(session, 'a', 'A'), { type: 'send' }), { type: 'send' }),
    ]).toEqual(['nothing', 'nothing', 'nothing', 'gone', 'gone', 'stale', 'old', 'busy']);
  });
});

describe('what others saved', () => {
  it('stays when one undoes all of one’s own, and redo brings one’s own back where it can be', () => {
    let partly = 0;
    fc.assert(
      fc.property(
        scene,
        fc.array(fc.nat(1_000_000), { minLength: 1, maxLength: 3 }),
        fc.nat(4),
        (who, others, undone) => {
          const start = begun(who);
          const theirs = others.reduce(acted, start).doc;
          let mine = who.acts.reduce(acted, start);
          for (let i = 0; i < Math.min(undone, mine.past.length - 1); i++) mine = next(mine, { type: 'undo' });
          const met = meetIn(mine, theirs);
          const taken = next(mine, { type: 'take in', revision: 2, theirs, title: 'Revision 2' });
          expect(plainDoc(taken.doc)).toEqual(plainDoc(apply(theirs, met.rebased.edit)));
          const back = all(taken, 'undo');
          expect(problems(back.doc)).toEqual([]);
          // where both touched the same, theirs stands; what hung on it may have gone another way
          if (met.rebased.conflicts.length === 0) expect(plainDoc(back.doc)).toEqual(plainDoc(theirs));
          else partly++;
          const again = next(back, { type: 'go', to: lastSerial(taken) });
          expect(plainDoc(again.doc)).toEqual(plainDoc(taken.doc));
        },
      ),
      { numRuns: 200 },
    );
    expect(partly).toBeGreaterThan(5);
  });

  it('stays when a large act is undone and done again over it, whether both touched the same or not', () => {
    const pad = sketchDoc();
    for (let i = 0; i < 600; i++) pad.node(`n${i}`, 'src', { x: i * 10, y: 0 });
    const start = open(pad.doc);
    const edit = {
      steps: [...pad.doc.nodes.values()].map(({ id, x }) => ({
        type: 'set' as const,
        table: 'nodes' as const,
        id,
        path: ['x'],
        from: x,
        to: x + 5,
      })),
    };
    const mine = next(start, { type: 'do', title: 'Nudge', edit });
    const changed = (field: 'label' | 'x', value: string | number) => ({
      ...pad.doc,
      nodes: new Map(
        [...pad.doc.nodes].map(([id, node], i) => [id, i % 10 === 0 ? { ...node, [field]: value } : node]),
      ),
    });
    for (const theirs of [changed('label', 'Theirs'), changed('x', 7)]) {
      const taken = next(mine, { type: 'take in', revision: 2, theirs, title: 'Revision 2' });
      const back = next(taken, { type: 'undo' });
      expect(plainDoc(back.doc)).toEqual(plainDoc(theirs));
      const again = next(back, { type: 'redo' });
      expect(plainDoc(again.doc)).toEqual(plainDoc(taken.doc));
      expect(plainDoc(next(again, { type: 'undo' }).doc)).toEqual(plainDoc(theirs));
      // with others’ changes while it is undone, too
      const later = {
        ...theirs,
        nodes: new Map(theirs.nodes).set('n1', { ...theirs.nodes.get('n1')!, label: 'Later' }),
      };
      const both = next(back, { type: 'take in', revision: 3, theirs: later, title: 'Revision 3' });
      const done = next(both, { type: 'redo' });
      expect([done.doc.nodes.get('n1')?.label, done.doc.nodes.get('n1')?.x]).toEqual(['Later', 15]);
      expect(plainDoc(next(done, { type: 'undo' }).doc)).toEqual(plainDoc(later));
    }
  });

  it('is undone past by name only: choices where both met are an act of their own', () => {
    const start = open(sketchDoc().node('a', 'src').node('b', 'src').doc);
    const mine = titled(titled(start, 'b', 'Mine too'), 'a', 'Mine');
    const theirs = titled(start, 'a', 'Theirs').doc;
    const met = meetIn(mine, theirs);
    const { edit } = resolve(met, met.rebased, new Set([0]));
    const taken = next(mine, { type: 'take in', revision: 2, theirs, title: 'Revision 2', choices: edit });
    const labels = (session: Session) => ['a', 'b'].map((id) => session.doc.nodes.get(id)?.label);
    expect(labels(taken)).toEqual(['Mine', 'Mine too']);
    const undone = next(taken, { type: 'undo' });
    expect(labels(undone)).toEqual(['Theirs', 'Mine too']);
    const more = reduce(undone, { type: 'undo' });
    expect(more.failure).toBeUndefined();
    if (more.failure === undefined) {
      expect(more.left.map((one) => one.kind)).toEqual(['value']);
      expect(labels(more.session)).toEqual(['Theirs', 'Mine too']);
      expect(labels(next(more.session, { type: 'undo' }))).toEqual(['Theirs', undefined]);
      // nothing of one's own is left: there is nothing to save, also after doing again what no longer does anything
      const back = all(taken, 'undo');
      expect([isDirty(back), isDirty(next(next(back, { type: 'redo' }), { type: 'undo' }))]).toEqual([false, false]);
    }
  });

  it('makes one’s new names others, and undo takes those back whole', () => {
    const start = open(sketchDoc().node('a', 'src').doc);
    const add = (id: string): Session => {
      const node = { ...start.doc.nodes.get('a')!, id, name: 'Moon' };
      return next(start, {
        type: 'do',
        title: 'Add',
        edit: { steps: [{ type: 'add', table: 'nodes', id, value: node as never }] },
      });
    };
    const taken = next(add('m'), { type: 'take in', revision: 2, theirs: add('t').doc, title: 'Revision 2' });
    const names = (session: Session) => [...session.doc.nodes.values()].map((node) => node.name).sort();
    expect(names(taken)).toEqual(['Moon', 'Moon2', 'a']);
    expect([names(next(taken, { type: 'undo' })), names(all(next(taken, { type: 'undo' }), 'redo'))]).toEqual([
      ['Moon', 'a'],
      ['Moon', 'Moon2', 'a'],
    ]);
  });
});

describe('a save', () => {
  it('holds what was sent: what is done while it is on its way is unsaved after it, and what belongs to another file changes nothing', () => {
    fc.assert(
      fc.property(scene, fc.array(fc.nat(1_000_000), { maxLength: 3 }), (who, during) => {
        const before = who.acts.reduce(acted, begun(who));
        fc.pre(diff(before.base, before.doc).steps.length > 0);
        const sent = next(before, { type: 'send' });
        const saving = sent.saving!;
        const busy = during.reduce(acted, sent);
        const stored = next(busy, { type: 'stored', saving, revision: 2, title: 'File' });
        expect(stored.doc).toBe(busy.doc);
        expect(plainDoc(stored.base)).toEqual(plainDoc(before.doc));
        expect(isDirty(stored)).toBe(busy.past.length > before.past.length);
        expect(unsavedActs(stored).length).toBe(busy.past.length - before.past.length);
        const other = { ...open(before.doc), fileId: 'g' };
        expect(next(other, { type: 'stored', saving, revision: 2, title: 'File' })).toBe(other);
        expect(
          next(next(busy, { type: 'unsent', saving }), { type: 'stored', saving, revision: 2, title: 'File' }).revision,
        ).toBe(1);
      }),
      { numRuns: 80 },
    );
  });

  it('of two to five people, in any order, with lost answers and late ones, ends with one document for all, and nothing that was saved is gone', () => {
    const counts = { saves: 0, met: 0, lost: 0 };
    fc.assert(
      fc.property(scene, fc.integer({ min: 2, max: 5 }), fc.integer(), (who, people, order) => {
        const random = seededRandom(order);
        const start = begun(who);
        const server = { revision: 1, doc: start.doc };
        const sessions = Array.from({ length: people }, () => start);
        const seen = (p: number, session: Session): void => {
          sessions[p] = session;
        };
        const takeIn = (p: number): void => {
          const session = sessions[p]!;
          if (session.saving || session.revision === server.revision) return;
          const met = meetIn(session, server.doc);
          counts.met += met.rebased.conflicts.length;
          const chosen = new Set([...met.rebased.conflicts.keys()].filter(() => random() < 0.5));
          const choices = chosen.size > 0 ? { choices: resolve(met, met.rebased, chosen).edit } : {};
          seen(
            p,
            next(session, {
              type: 'take in',
              revision: server.revision,
              theirs: server.doc,
              title: 'Theirs',
              ...choices,
            }),
          );
        };
        const send = (p: number): void => {
          const reduced = reduce(sessions[p]!, { type: 'send' });
          if (reduced.failure === undefined) seen(p, reduced.session);
        };
        const arrive = (p: number, isLost: boolean): void => {
          const { saving } = sessions[p]!;
          if (!saving) return;
          if (saving.revision !== server.revision) {
            seen(p, next(sessions[p]!, { type: 'unsent', saving }));
            takeIn(p);
            return;
          }
          // what the server is sent is the difference, and it is never refused
          server.doc = apply(server.doc, diff(saving.base, saving.doc));
          server.revision++;
          counts.saves++;
          expect(problems(server.doc)).toEqual([]);
          counts.lost += Number(isLost);
          seen(
            p,
            next(
              sessions[p]!,
              isLost
                ? { type: 'unsent', saving }
                : { type: 'stored', saving: saving as Saving, revision: server.revision, title: 'File' },
            ),
          );
        };
        for (let i = 0; i < 24; i++) {
          const p = Math.floor(random() * people);
          const what = random();
          if (what < 0.45) seen(p, acted(sessions[p]!, Math.floor(random() * 1e6)));
          else if (what < 0.55) {
            const reduced = reduce(sessions[p]!, { type: random() < 0.6 ? 'undo' : 'redo' });
            if (reduced.failure === undefined) seen(p, reduced.session);
          } else if (what < 0.7) send(p);
          else if (what < 0.9) arrive(p, random() < 0.15);
          else takeIn(p);
        }
        for (let round = 0; round < 2; round++)
          for (let p = 0; p < people; p++) {
            arrive(p, false);
            takeIn(p);
            send(p);
            arrive(p, false);
          }
        for (let p = 0; p < people; p++) takeIn(p);
        for (const session of sessions) {
          expect(plainDoc(session.doc)).toEqual(plainDoc(server.doc));
          expect([isDirty(session) && diff(session.base, session.doc).steps.length > 0, session.revision]).toEqual([
            false,
            server.revision,
          ]);
        }
      }),
      { numRuns: 60 },
    );
    expect(Math.min(counts.saves, counts.met, counts.lost)).toBeGreaterThan(0);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { z } from 'zod';
import type { Doc } from '../document/doc.ts';
import { parseDoc, writeDoc } from '../document/file.ts';
import { diff } from '../edit/diff.ts';
import { apply, type Edit, invert } from '../edit/step.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { measureDoc } from '../inspect/measure.ts';
import { scoreOfDoc } from '../inspect/readability.ts';
import { countUses } from '../inspect/uses.ts';
import { CalmRoutes } from '../route/calm.ts';
import { checkRules } from '../rules/rules.ts';
import { docArbitrary, testKinds as kinds, sketchDoc } from '../tests/arbitrary.ts';
import { acted } from '../tests/random-act.ts';
import { fileTasks } from './file-tasks.ts';
import type { Revised } from './revised.ts';
import { revisionTasks } from './revision-tasks.ts';
import type { Task } from './task.ts';
import type { Tools } from './tools.ts';

const tools = (doc?: Doc): Tools => ({ kinds, doc, progress: () => {}, calm: new CalmRoutes() });
/** A task as a worker does it: its input is checked first. */
const done =
  <Schema extends z.ZodType, Result>(task: Task<Schema, Result>) =>
  (raw: unknown, given: Tools): Result => {
    const made = task.run(task.input.parse(raw), given);
    if (made instanceof Promise) throw new Error('This task is not done at once.');
    return made;
  };
const [inspect, note, judge] = [done(revisionTasks.inspect), done(revisionTasks.note), done(revisionTasks.judge)];
const [revise, bring, read] = [done(revisionTasks.revise), done(revisionTasks.bring), done(fileTasks.read)];
const accepted = (made: ReturnType<typeof revise>): Revised => {
  if ('refusal' in made) throw new Error(made.refusal);
  return made;
};

describe('what is stored of a revision', () => {
  it('is noted and judged apart, and both together are what is inspected', () => {
    fc.assert(
      fc.property(docArbitrary(15), (doc) => {
        const whole = inspect({}, tools(doc));
        expect({ ...note({}, tools(doc)), judged: judge({}, tools(doc)) }).toEqual(whole);
        expect(whole.fingerprint).toEqual(fingerprint(doc, kinds));
        expect(whole.size).toEqual({ nodes: doc.nodes.size, wires: doc.wires.size, frames: doc.frames.size });
        expect(whole.uses).toEqual(countUses(doc, kinds));
        expect(whole.judged).toMatchObject({ measures: measureDoc(doc, kinds), score: scoreOfDoc(doc, kinds) });
      }),
      { numRuns: 40 },
    );
  });

  it('counts what the house rules find, each rule by itself, and by a profile only what that asks for', () => {
    fc.assert(
      fc.property(docArbitrary(15), (doc) => {
        const { found } = judge({}, tools(doc));
        const all = checkRules(doc, kinds);
        const counted = (severity: string): number => all.filter((one) => one.severity === severity).length;
        expect(found.counts).toEqual({ error: counted('error'), warning: counted('warning'), info: counted('info') });
        expect(Object.values(found.byRule).reduce((sum, count) => sum + count, 0)).toBe(all.length);
        const one = judge({ profile: { others: 'off', rules: { overlap: { severity: 'error' } } } }, tools(doc)).found;
        expect(Object.keys(one.byRule).every((rule) => rule === 'overlap')).toBe(true);
        expect([one.counts.warning, one.counts.info, one.counts.error]).toEqual([0, 0, found.byRule.overlap ?? 0]);
      }),
      { numRuns: 30 },
    );
  });

  it('of an edit is the document after it as text, and what that is known by; measured now or later', async () => {
    await fc.assert(
      fc.asyncProperty(docArbitrary(15), fc.integer({ min: 1, max: 1e6 }), async (doc, seed) => {
        const after = await acted(doc, seed);
        const edit = diff(doc, after);
        const made = revise({ edit }, tools(doc));
        if ('refusal' in made) return;
        expect(writeDoc(parseDoc(made.text).doc)).toBe(writeDoc(apply(doc, edit)));
        const later = accepted(revise({ edit, later: true }, tools(doc)));
        expect(later.judged).toBeUndefined();
        const { judged, ...rest } = made;
        expect(later).toEqual(rest);
        expect(judged).toEqual(judge({}, tools(apply(doc, edit))));
      }),
      { numRuns: 40 },
    );
  });

  it('by an edit and its inverse, or by going back to the text, is the first again', async () => {
    await fc.assert(
      fc.asyncProperty(docArbitrary(12), fc.integer({ min: 1, max: 1e6 }), async (doc, seed) => {
        const made = revise({ edit: diff(doc, await acted(doc, seed)), later: true }, tools(doc));
        if ('refusal' in made) return;
        const { doc: after } = parseDoc(made.text);
        const inverse = revise({ edit: invert(made.edit), later: true }, tools(after));
        // a wire that was there before the rules of wiring is not drawn anew, and comes back only with the whole state
        if ('refusal' in inverse) expect(inverse.refusal).toMatch(/ takes /);
        else expect(inverse.text).toBe(writeDoc(doc));
        const back = accepted(revise({ become: writeDoc(doc), later: true }, tools(after)));
        expect(back.text).toBe(writeDoc(doc));
        expect(writeDoc(apply(after, back.edit))).toBe(writeDoc(doc));
      }),
      { numRuns: 40 },
    );
  });
});

describe('an edit', () => {
  const doc = sketchDoc().node('a', 'src').node('b', 'round', { x: 400 }).node('c', 'tint', { x: 800 }).doc;
  const wire = (from: string, to: string): Edit => {
    const [[node, port], [other, end]] = [from.split('.'), to.split('.')] as [[string, string], [string, string]];
    return {
      steps: [
        {
          type: 'add',
          table: 'wires',
          id: 'w',
          value: { id: 'w', from: { node, port }, to: { node: other, port: end } },
        },
      ],
    };
  };

  it('that would break the document is refused with the reason, and nothing else is given', () => {
    expect(revise({ edit: wire('a.out', 'b.in') }, tools(doc))).toHaveProperty('text');
    expect(revise({ edit: wire('c.out', 'b.in') }, tools(doc))).toEqual({
      refusal: expect.stringContaining('takes number'),
    });
    expect(revise({ edit: wire('a.out', 'nowhere.in') }, tools(doc))).toEqual({ refusal: expect.any(String) });
    expect(() =>
      revise(
        { edit: { steps: [{ type: 'set', table: 'nodes', id: 'a', path: ['x'], from: 17, to: 18 }] } },
        tools(doc),
      ),
    ).toThrow();
    expect(() => revise({ edit: { steps: 'none' } }, tools(doc))).toThrow();
    expect(() => revise({ edit: { steps: [] } }, tools())).toThrow('wants a document');
  });

  it('is refused for a new error by the rules where that is asked for, and not for an old one', () => {
    const profile = { others: 'off', rules: { overlap: { severity: 'error' } } };
    const onto = (id: string, x: number): Edit => ({
      steps: [{ type: 'set', table: 'nodes', id, path: ['x'], from: doc.nodes.get(id)!.x, to: x }],
    });
    expect(revise({ edit: onto('b', 10), profile, refuse: true }, tools(doc))).toEqual({
      refusal: expect.stringContaining('refuse a save that adds errors'),
    });
    const crowded = apply(doc, onto('b', 10));
    expect(revise({ edit: onto('c', 900), profile, refuse: true }, tools(crowded))).toHaveProperty('text');
    expect(revise({ edit: onto('b', 10), profile }, tools(doc))).toHaveProperty('text');
  });

  it('is brought over what was done since; where both touched the same, it is left out or taken in part', () => {
    const set = (id: string, label: string): Edit => ({
      steps: [{ type: 'set', table: 'nodes', id, path: ['label'], to: label }],
    });
    const head = apply(doc, set('a', 'Theirs'));
    const other = bring({ base: writeDoc(doc), edit: set('b', 'Mine'), partly: false }, tools(head));
    expect([other.conflicts, other.revised?.text]).toEqual([[], writeDoc(apply(head, set('b', 'Mine')))]);
    const both: Edit = { steps: [...set('a', 'Mine').steps, ...set('b', 'Mine').steps] };
    const met = bring({ base: writeDoc(doc), edit: both, partly: false }, tools(head));
    expect([met.conflicts.length, met.revised]).toEqual([1, undefined]);
    const partly = bring({ base: writeDoc(doc), edit: both, partly: true }, tools(head));
    expect([partly.conflicts.length, partly.revised?.text]).toEqual([1, writeDoc(apply(head, set('b', 'Mine')))]);
    const gone = apply(doc, diff(doc, { ...doc, nodes: new Map([...doc.nodes].filter(([id]) => id !== 'a')) }));
    expect(bring({ base: writeDoc(doc), edit: set('a', 'Mine'), partly: true }, tools(gone)).revised).toBeUndefined();
  });
});

describe('a file that is read', () => {
  it('is our own text with what it is known by and what was found, under another title where that is wished', () => {
    const text = 'digraph tide { ebb -> flood; ebb -> flood; flood -> ebb }';
    const made = read({ name: 'tide.dot', content: text }, tools());
    const { doc } = parseDoc(made.text);
    expect([made.title, doc.nodes.size, made.size.wires, made.findings.length > 0]).toEqual([
      doc.head.title,
      2,
      doc.wires.size,
      true,
    ]);
    expect(made.judged?.score).toBe(scoreOfDoc(doc, kinds));
    expect(read({ name: 'tide.dot', content: text, title: 'Tide' }, tools()).title).toBe('Tide');
    expect(() => read({ name: 'tide.xyz', content: 'tide' }, tools())).toThrow('is in no format that can be read');
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { fieldById, queryFields } from './fields.ts';
import { checkQuery, matches, parseQuery, type Query, QueryError, select, writeQuery } from './query.ts';

const { doc } = sketchDoc()
  .frame('f', { title: 'Far kelp' })
  .node('moon', 'src', { name: 'Moon', label: 'High moon', params: { value: 7 }, frame: 'f' })
  .node('sun', 'src', { name: 'Sun', params: { value: 70 } })
  .node('mix', 'add', { name: 'MoonMix', bypassed: true });
const found = (text: string) => select(text, doc, testKinds, 'root');

describe('queries', () => {
  it.each([
    ['', ['mix', 'moon', 'sun']],
    ['moon', ['mix', 'moon']],
    ['"high moon"', ['moon']],
    ['kind:add', ['mix']],
    ['moon not bypassed=true', ['moon']],
    ['kind:source value>10', ['sun']],
    ['value<=7', ['moon']],
    ['name=sun or (frame:kelp and value=7)', ['moon', 'sun']],
    ['not not moon', ['mix', 'moon']],
    ['value!=7 kind:src', ['sun']],
    ['value:x', []],
    ['bypassed=yes', ['mix']],
    ['bypassed:no kind:source', ['moon', 'sun']],
    ['open=2', ['mix']],
    ['inputs=0 outputs<1', ['mix', 'moon', 'sun']],
    ['type:number port:out', ['mix', 'moon', 'sun']],
    ['parameter.value=70', ['sun']],
    ['value=7.0', ['moon']],
    ['nested=yes or picture=yes or closed=yes or pinned=yes', []],
  ])('%s', (text, ids) => {
    expect(found(text)).toEqual(ids);
  });

  it.each([
    ['moon or', 7, 'missing at the end'],
    ['(moon', 0, 'not closed'],
    ['moon)', 4, 'closes nothing'],
    ['kind:', 5, 'value is missing'],
    ['"moon', 0, 'quote is not closed'],
    [':moon', 0, 'word is expected'],
    ['moon nmae:x', 5, 'no field “nmae”'],
    ['value > many', 0, 'takes a number, not “many”'],
    ['moon or pinned=perhaps', 8, 'is yes or no'],
  ])('says where the mistake in %s is', (text, at, message) => {
    try {
      found(text);
      expect.unreachable();
    } catch (error) {
      expect(error).toBeInstanceOf(QueryError);
      expect((error as QueryError).at).toBe(at);
      expect((error as QueryError).message).toContain(message);
    }
  });

  it('writes a query as text that reads back as the same query, and fits the same nodes', () => {
    const value = fc.oneof(fc.string({ maxLength: 8 }), fc.constantFrom('and', 'NOT', 'a b', 'x"y', '(', '7', ''));
    const query = fc.letrec<{ query: Query }>((tie) => ({
      query: fc.oneof(
        { maxDepth: 5, withCrossShrink: true },
        fc.record({ type: fc.constant('text' as const), value }),
        fc.record({
          type: fc.constant('field' as const),
          field: fc.constantFrom('name', 'value', 'x'),
          compare: fc.constantFrom(':' as const, '!=' as const, '<=' as const),
          value,
          at: fc.constant(0),
        }),
        fc.record({ type: fc.constantFrom('and' as const, 'or' as const), left: tie('query'), right: tie('query') }),
        fc.record({ type: fc.constant('not' as const), of: tie('query') }),
      ),
    })).query;
    fc.assert(
      fc.property(query, (own) => {
        const back = parseQuery(writeQuery(own));
        expect(writeQuery(back)).toBe(writeQuery(own));
        for (const node of doc.nodes.values())
          expect(matches(back, doc, testKinds, node)).toBe(matches(own, doc, testKinds, node));
      }),
      { numRuns: 300 },
    );
  });

  it('reads every field of every node without a complaint', () => {
    for (const field of queryFields) {
      expect(fieldById(field.id)).toBe(field);
      const query = parseQuery(`${field.id}${field.type === 'number' ? '>=0' : field.type === 'text' ? ':a' : '=no'}`);
      checkQuery(query, doc, testKinds);
      for (const node of doc.nodes.values())
        expect(typeof field.read(doc, testKinds, node)).toBe(
          field.type === 'number' ? 'number' : field.type === 'text' ? 'string' : 'boolean',
        );
    }
  });

  it('parses or complains, but never breaks', () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        try {
          found(text);
        } catch (error) {
          expect(error).toBeInstanceOf(QueryError);
        }
      }),
      { numRuns: 300 },
    );
  });
});

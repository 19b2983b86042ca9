import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { type FileFacts, fileFields, holdsNodes, matchesFile, offerFileQuery, parseFileQuery } from './files.ts';
import { QueryError } from './query.ts';

const facts: FileFacts = {
  title: 'Kelp 10',
  project: 'Reef night reef',
  folder: 'motion/kelp',
  tags: ['final', 'to tidy'],
  author: 'Lead TD',
  message: 'Frames named',
  revision: '',
  number: 4,
  catalogue: 'lantern-reef 1',
  days: 3.5,
  nodes: 900,
  wires: 950,
  frames: 3,
  crossings: 20,
  overlaps: 0,
  readability: 42,
  errors: 0,
  warnings: undefined,
  rules: ['overlap', 'untitled-frame'],
};
const fits = (text: string, holds: (nodes: string) => boolean | undefined = () => true, of = facts) =>
  matchesFile(parseFileQuery(text).query, of, holds);

describe('a query over files', () => {
  it.each([
    ['', true],
    ['kelp TIDY', true],
    ['"named" lead', true],
    ['kelp nowhere', false],
    ['project:reef tag:final readability<60', true],
    ['tag=tidy', false],
    ['tag="to tidy"', true],
    ['tag!=final', false],
    ['tag!=draft', true],
    ['folder:motion and not finding:overlap', false],
    ['finding:untitled*', true],
    ['title=kelp*', true],
    ['title=*1', false],
    ['nodes>=900 (days<3 or revisions=4)', true],
    // what is not known fits no comparison
    ['warnings<5', false],
    ['not warnings<5', true],
  ])('%s', (text, expected) => {
    expect(fits(text)).toBe(expected);
  });

  it('asks for nodes by their own language, each query once', () => {
    const text = 'tag:final has(kind:pic.read file:*.exr) or has(kind:pic.read file:*.exr) not has(bypassed:yes)';
    expect(parseFileQuery(text).nodes).toEqual(['kind:pic.read and file:*.exr', 'bypassed:yes']);
    expect(fits('has(kind:blur) has(kind:grade)', (nodes) => nodes === 'kind:blur')).toBe(false);
    const doc = sketchDoc().node('a', 'src', { params: { value: 3 } }).doc;
    expect(holdsNodes(doc, testKinds, 'kind:src value>2')).toBe(true);
    expect(holdsNodes(doc, testKinds, 'kind:src value>3')).toBe(false);
    expect(holdsNodes(doc, testKinds, 'valeu>3')).toMatch(/no field “valeu”/);
  });

  it('refuses what no file can have, with the word that was probably meant', () => {
    for (const [text, message] of [
      ['readabilty<60', /no field “readabilty”\. Did you mean “readability”/],
      ['kind:blur', /Did you mean has\(kind:blur\)/],
      ['readability<low', /takes a number/],
      ['title<3', /is text/],
      ['has(kind:blur', /bracket is not closed/],
      ['nodes>5)', /closes nothing/],
    ] as const) {
      expect(() => parseFileQuery(text), text).toThrow(QueryError);
      expect(() => parseFileQuery(text), text).toThrow(message);
    }
  });

  it('is decided only by what is known: any answer that comes later agrees with it', () => {
    const part = fc.constantFrom('tag:final', 'tag:none', 'nodes>5', 'has(a)', 'has(b)', 'not has(a)');
    const query = fc
      .array(fc.tuple(part, fc.constantFrom(' and ', ' or ', ' and not ')), { minLength: 1, maxLength: 6 })
      .map((parts) => parts.map(([one, join], i) => (i === 0 ? one : join + one)).join(''));
    fc.assert(
      fc.property(query, fc.boolean(), fc.boolean(), (text, a, b) => {
        const later = fits(text, (nodes) => (nodes === 'a' ? a : b));
        expect(typeof later).toBe('boolean');
        const now = fits(text, () => undefined);
        if (now !== undefined) expect(now).toBe(later);
        const half = fits(text, (nodes) => (nodes === 'a' ? a : undefined));
        if (half !== undefined) expect(half).toBe(later);
      }),
    );
  });

  it('offers fields, the values that files have there, and the fields of nodes within has(', () => {
    const words = (text: string) => offerFileQuery(text, [facts]).words.map((one) => one.word);
    expect(words('')).toHaveLength(fileFields.length + 1);
    expect(words('tag:final rea')).toEqual(['readability<']);
    expect(words('tag:')).toEqual(['tag:final', 'tag:"to tidy"']);
    expect(words('has(ki')).toEqual(['kind:']);
    expect(words('has(kind:blur) ti')).toEqual(['title:']);
    expect(offerFileQuery('tag:final rea', [facts]).from).toBe(10);
    // whatever is offered can be read
    for (const word of words('')) if (!word.endsWith('(')) expect(() => parseFileQuery(`${word}5`)).not.toThrow();
  });
});

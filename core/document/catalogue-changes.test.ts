import { expect, it } from 'vitest';
import { testCatalogue } from '../tests/arbitrary.ts';
import { type Catalogue, catalogueSchema } from './catalogue.ts';
import { catalogueChanges } from './catalogue-changes.ts';

const changed = (change: (copy: Catalogue) => void): string[] => {
  const copy = structuredClone(testCatalogue);
  change(copy);
  return catalogueChanges(testCatalogue, catalogueSchema.parse(copy)).map(
    ({ breaking, sentence, kind }) => `${breaking ? '!' : ''}${kind ?? '-'}: ${sentence}`,
  );
};
const kind = (catalogue: Catalogue, id: string) => catalogue.kinds.find((one) => one.id === id)!;

it.each<[string, (copy: Catalogue) => void, string[]]>([
  ['nothing', () => {}, []],
  [
    'a kind that goes',
    (copy) =>
      void copy.kinds.splice(
        copy.kinds.findIndex((one) => one.id === 'sum'),
        1,
      ),
    ['!sum: The kind “Sum” goes.'],
  ],
  [
    'a new kind',
    (copy) => void copy.kinds.push({ ...kind(copy, 'sum'), id: 'sum2', code: 'S2' }),
    ['sum2: The kind “Sum” is new.'],
  ],
  [
    'ports',
    (copy) => {
      kind(copy, 'add').ports = [
        kind(copy, 'add').ports[0]!,
        { ...kind(copy, 'add').ports[2]!, type: 'int' },
        { ...kind(copy, 'add').ports[0]!, id: 'c', name: 'c' },
      ];
      kind(copy, 'add').pass = {};
    },
    [
      '!add: Add: the input “b” goes.',
      '!add: Add: “out” carries int in place of num.',
      '!add: Add: what passes or ends there is changed.',
      'add: Add: the input “c” is new.',
    ],
  ],
  [
    'parameters',
    (copy) => {
      kind(copy, 'src').parameters = [{ ...kind(copy, 'src').parameters[0]!, default: 2 }];
      kind(copy, 'end').parameters = [];
    },
    ['!src: Source: “Value” is 2 by itself, no more 1.', '!end: End: the parameter “Note” goes.'],
  ],
  [
    'looks alone',
    (copy) => {
      kind(copy, 'src').title = 'Origin';
      kind(copy, 'src').ports[0]!.main = true;
      copy.categories[0]!.hue = 5;
    },
    [
      'src: Origin: “out” is described otherwise.',
      'src: Origin: its title, code or category is changed.',
      '-: The category “Mathematics” is changed.',
    ],
  ],
  ['loops', (copy) => void Object.assign(copy, { loops: 'forbidden' }), ['!-: Loops are forbidden now.']],
])('tells %s', (_, change, expected) => expect(changed(change)).toEqual(expected));

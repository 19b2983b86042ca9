import { sentences } from '../said.ts';
import { listed, plural } from '../words.ts';

/** What is said in this room of kinds that were learned. */
export const { say } = sentences('learn', {
  'ends-elsewhere': () =>
    'None of its nodes gives anything to another. It is not made an end, since these files have other ends.',
  'parameter-added': ({ title, about }: { title: string; about: string }) => `Parameter “${title}” is added: ${about}.`,
  'parameters-cut': ({ count, most }: { count: number; most: number }) =>
    `It has ${plural(count, 'parameter')}; the ${most} that most nodes set are taken.`,
  'port-added': ({ isInput, name, type }: { isInput: boolean; name: string; type: string }) =>
    `${isInput ? 'Input' : 'Output'} “${name}” is added: ${type}.`,
  'port-mixed': ({ name, types }: { name: string; types: readonly string[] }) =>
    `“${name}” carries ${types.slice(0, 4).join(', ')}, so it takes anything.`,
  'ports-cut': ({ count, most }: { count: number; most: number }) =>
    `It has ${plural(count, 'port')}; the first ${most} are taken.`,
  'values-mixed': ({ names }: { names: readonly string[] }) =>
    `${listed(names)}: values of several types, so ${names.length === 1 ? 'it stays' : 'they stay'} on the nodes without a field.`,
});

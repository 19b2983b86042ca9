import { didYouMean } from '../closest.ts';
import { sentences } from '../said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('script', {
  'assets-without-end': ({ rounds }: { rounds: number }) =>
    `The script asked the asset store for new paths ${rounds} times over; ask for all of them before using the answers.`,
  awaits: () => 'A script has no “await”: whatever it asks for is answered at once. Leave the word out.',
  'bad-file-name': ({ name }: { name: string }) =>
    `“${name}” is not a name of a file: letters, digits, blanks, full stops, _ and - only.`,
  'bad-options': ({ what, issue }: { what: string | undefined; issue: string | undefined }) =>
    `options(): ${what || 'what is declared'}: ${issue ?? 'not as expected'}.`,
  'bad-place': ({ node, x, y }: { node: string; x: number | null; y: number | null }) =>
    `“${node}” cannot be moved to ${x}, ${y}: places are numbers of pixels, up to a million.`,
  'field-does-not-fit': ({ what, field, issues }: { what: string; field: string; issues: string | undefined }) =>
    `${what}: the ${field} does not fit: ${issues ?? 'not as expected'}.`,
  'no-asset-store': () => 'No asset store can be asked here, so that “assets” has no answer.',
  'no-graph': ({ graph }: { graph: string }) => `This file has no graph “${graph}”.`,
  'no-member': ({ what, name, known }: { what: string; name: string; known: readonly string[] }) =>
    `${what} has no “${name}”.${didYouMean(name, known)}`,
  'no-node': ({ id }: { id: string }) => `The node ${id} is not in this file.`,
  'no-option': ({ name, names }: { name: string; names: readonly string[] }) =>
    `The script has no option “${name}”; ${names.length === 0 ? 'it declares none' : `it has ${names.join(', ')}`}.`,
  'no-record': ({ table, id }: { table: string; id: string }) => `The ${table.slice(0, -1)} ${id} is not in this file.`,
  'no-rule': ({ id, known }: { id: string; known: readonly string[] }) =>
    `There is no house rule “${id}”.${didYouMean(id, known)}`,
  'no-such-parameter': ({ parameter, known }: { parameter: string; known: readonly string[] }) =>
    `No kind and no node here has a parameter “${parameter}”.${didYouMean(parameter, known)}`,
  'no-such-field': ({ what, field }: { what: string; field: string }) =>
    `${what} has no field “${field}” that a script may write.`,
  'option-text': ({ name, option, text }: { name: string; option: string; text: string }) =>
    `Option “${name}” takes ${option}, not “${text}”.`,
  'option-type': ({ name, option, value }: { name: string; option: string; value: string }) =>
    `Option “${name}” takes ${option}, not ${value}.`,
  'option-yes-or-no': ({ name, text }: { name: string; text: string }) =>
    `Option “${name}” takes yes or no, not “${text}”.`,
  'request-does-not-fit': ({ what, issue }: { what: string | undefined; issue: string | undefined }) =>
    `What was asked does not fit: ${what || 'the request'}: ${issue ?? 'not as expected'}.`,
  skipped: ({ name, reason }: { name: string; reason: string }) => `“${name}” was skipped: ${reason.slice(0, 500)}`,
  'too-many-assets': ({ most }: { most: number }) =>
    `The script asks the asset store for more than ${most.toLocaleString('en')} paths.`,
  'too-many-outputs': ({ outputs }: { outputs: number }) => `The script gives out more than ${outputs} files.`,
  'too-much-output': ({ output }: { output: number }) =>
    `The script gives out more than ${output / 1e6} million characters.`,
  'unknown-choice': ({ name, known }: { name: string; known: readonly string[] }) =>
    `“${name}” may not stand here.${didYouMean(name, known) || ` What may: ${known.slice(0, 12).join(', ')}${known.length > 12 ? ' …' : ''}.`}`,
  'unknown-name': ({ name, known }: { name: string; known: readonly string[] }) =>
    `There is nothing called “${name}”.${didYouMean(name, known)}`,
  'unknown-property': ({ name, known }: { name: string; known: readonly string[] }) =>
    `There is no option “${name}” here.${didYouMean(name, known)}`,
  'unknown-word': ({ what, name, known }: { what: string; name: string; known: readonly string[] }) =>
    `There is no ${what} “${name}”.${didYouMean(name, known)}`,
  'value-of-wrong-type': ({ parameter, wanted, given }: { parameter: string; wanted: string; given: string }) =>
    `“${parameter}” takes ${wanted}, not ${given}.`,
  'value-does-not-fit': ({ node, problem }: { node: string; problem: string }) => `“${node}”: ${problem}`,
  'no-colour': ({ what, value }: { what: string; value: string }) =>
    `${what}: “${value}” is not a colour; write it as #2f6f8f.`,
  'too-long': () => 'The script took longer than a minute and was stopped; nothing was changed.',
});

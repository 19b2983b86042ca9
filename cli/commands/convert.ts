import { flowSchema } from '@basitax/core/document/schema';
import { apply } from '@basitax/core/edit/step';
import { createContext } from '@basitax/core/operation';
import { runOperation } from '@basitax/core/operations';
import { type Command, type Loaded, Unusable } from '../command.ts';
import { fileCommand } from '../engine.ts';
import { standard } from '../io.ts';

function numberOf(
  option: string,
  text: string | undefined,
  from: number,
  to: number,
  what: string,
): number | undefined {
  if (text === undefined || text === '') return undefined;
  const number = Number(text);
  if (number >= from && number <= to) return number;
  throw new Unusable(`--${option} takes ${what} from ${from} to ${to}, not “${text}”.`);
}

/** Every graph of the document, nested ones too. */
async function arrangeAll({ doc, kinds }: Loaded, flow: string | undefined, options: object) {
  let now = doc;
  for (const graph of doc.graphs.keys()) {
    const selection = { graph, items: [] };
    if (flow !== undefined)
      now = apply(now, (await runOperation('flow', createContext(kinds, 1), now, selection, { to: flow })).edit);
    now = apply(now, (await runOperation('arrange', createContext(kinds, 1), now, selection, options)).edit);
  }
  return now;
}

export const convertCommands: readonly Command[] = [
  fileCommand({
    name: 'convert',
    usage: 'IN OUT | FILE… --to FORMAT [-o FOLDER]',
    about: 'Converts to another format, by the ending of OUT or by --to; - is standard input or output.',
    options: {},
    writes: true,
    says: 'lines',
    inThreads: () => true,
    words({ words, values }) {
      const [first, second] = words;
      if (
        words.length === 2 &&
        first !== undefined &&
        second !== undefined &&
        (values.to === undefined || second === standard)
      )
        return { files: [first], output: second };
      if (words.length > 0 && values.to === undefined)
        throw new Unusable('convert takes IN and OUT, or files and --to FORMAT. See basitax convert --help.');
      return { files: words };
    },
    each: (_file, { doc }) => ({ doc }),
  }),
  fileCommand({
    name: 'arrange',
    usage: 'FILE… [-o OUT]',
    about: 'Arranges every graph of files.',
    options: {
      flow: {
        type: 'string',
        value: 'WAY',
        choices: flowSchema.options,
        about: 'The direction of flow.',
      },
      keep: { type: 'string', value: '0…1', about: 'How much of the present places to keep.' },
      quality: { type: 'string', value: 'HOW', choices: ['quick', 'best'], about: 'How long it may take.' },
      shape: { type: 'string', value: 'W÷H', about: 'Width ÷ height of the whole, 0.1 to 10.' },
      links: { type: 'boolean', about: 'Turn long wires into remote links.' },
    },
    writes: true,
    says: 'lines',
    inThreads: () => true,
    async prepare({ values }) {
      const keep = numberOf('keep', values.keep, 0, 1, 'a number');
      const shape = numberOf('shape', values.shape, 0.1, 10, 'width ÷ height, a number');
      return {
        flow: values.flow,
        options: {
          ...(keep !== undefined && { keep }),
          ...(shape !== undefined && { shape }),
          quality: values.quality ?? 'quick',
          links: values.links ?? false,
        },
      };
    },
    each: async (_file, loaded, _call, { flow, options }) => ({ doc: await arrangeAll(loaded, flow, options) }),
  }),
];

import { type Catalogue, catalogueSchema, emptyCatalogue } from '@basitax/core/document/catalogue';
import { Kinds } from '@basitax/core/document/kinds';
import { candidatesOf, type Evidence, evidenceOf, mergeEvidence, noEvidence } from '@basitax/core/learn/evidence';
import { type LearnedKind, learnedFrom, withLearned } from '@basitax/core/learn/proposal';
import { plural } from '@basitax/core/words';
import type { Command } from '../command.ts';
import { fileCommand } from '../engine.ts';
import { standard } from '../io.ts';

interface Learning {
  readonly catalogue: Catalogue;
  readonly kinds: Kinds;
  readonly evidence: Evidence;
}

const line = ({ spec, is, nodes, files, told }: LearnedKind): string =>
  [
    `${is === 'new' ? 'new' : 'more'}: ${spec.id}, ${plural(spec.ports.length, 'port')}, ${plural(spec.parameters.length, 'parameter')}, seen on ${plural(nodes, 'node')} in ${plural(files, 'file')}`,
    ...told.map((one) => `  ${one}`),
  ].join('\n');

export const learnCommand: Command = fileCommand({
  name: 'learn',
  usage: 'FILE… [--catalogue CATALOGUE.json] [--by ATTRIBUTE] [-o OUT.json]',
  about: 'Learns kinds of nodes from files: a catalogue with what the given one lacks of them.',
  options: {
    by: {
      type: 'string',
      value: 'ATTRIBUTE',
      about:
        'The attribute that says the kind of imported nodes, or “caption” for what stands on them. By default one that is called like “kind”.',
    },
    output: {
      type: 'string',
      short: 'o',
      value: 'OUT',
      about: 'Where to write the catalogue; - is standard output. By default what was found is listed.',
    },
  },
  writes: false,
  says: 'lines',
  async prepare({ values, io }): Promise<Learning> {
    const catalogue =
      values.catalogue === undefined
        ? { ...emptyCatalogue, id: 'team', version: 1, title: 'Team kinds' }
        : await io.json(values.catalogue, catalogueSchema, 'catalogue of kinds');
    return { catalogue, kinds: new Kinds(catalogue), evidence: noEvidence() };
  },
  each(_file, { doc }, { values }, { kinds, evidence }) {
    mergeEvidence(evidence, evidenceOf(doc, kinds, values.by));
    return {};
  },
  async finish({ values, io }, { catalogue, kinds, evidence }) {
    const learned = learnedFrom(evidence, kinds);
    const open = learned.kinds.filter((one) => one.is !== 'known');
    const ways = candidatesOf(evidence).slice(0, 5);
    const told = [
      ...open.map(line),
      `${plural(open.length, 'kind')} to learn, ${learned.kinds.length - open.length} known in full, in ${plural(learned.files, 'file')}.`,
      ...(learned.untold > 0
        ? [
            `${plural(learned.untold, 'imported node')} ${learned.untold === 1 ? 'does' : 'do'} not say what kind ${learned.untold === 1 ? 'it is' : 'they are'}${ways.length > 0 ? `; --by takes ${ways.map((one) => one.attribute).join(', ')} or caption` : ''}.`,
          ]
        : []),
    ].join('\n');
    if (values.output === undefined) return told;
    const text = `${JSON.stringify(withLearned(catalogue, learned, new Set(open.map((one) => one.spec.id))), null, 2)}\n`;
    if (values.output === standard) return text.trimEnd();
    await io.write(values.output, text);
    return told;
  },
});

import { z } from 'zod';
import { builtin, foreignKind } from '../document/builtin.ts';
import { caption, indexOf } from '../document/doc.ts';
import { geometryOf } from '../document/geometry.ts';
import { isPlainValue } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { addTo } from '../group-by.ts';
import { windowsOf } from '../inspect/lines.ts';
import { must } from '../must.ts';
import { tapsOf } from '../wiring/carriers.ts';
import { type Found, fix, type Look, type Rule, rule } from './rule.ts';
import { say } from './sentences.ts';

/** Ways to write names, each as a test that takes time in proportion to the name. */
const styles: Readonly<Record<string, RegExp>> = {
  snake_case: /^[a-z0-9]+(_[a-z0-9]+)*$/,
  Capital_words: /^[A-Z0-9][A-Za-z0-9]*(_[A-Za-z0-9]+)*$/,
  camelCase: /^[a-z][A-Za-z0-9]*$/,
  PascalCase: /^[A-Z][A-Za-z0-9]*$/,
};

export const nameStyle = rule({
  id: 'name-style',
  title: 'Name in another style',
  severity: 'info',
  group: 'reading',
  subject: 'names',
  optional: true,
  why: 'Names in one style are easy to type, to sort and to read by scripts.',
  instead: 'Write it as the house does.',
  options: z.object({
    style: z
      .enum(['snake_case', 'Capital_words', 'camelCase', 'PascalCase'])
      .default('Capital_words')
      .describe('How names are written.'),
    prefixes: z
      .array(z.string().max(50))
      .max(100)
      .default([])
      .describe('What a name may begin with; anything where empty.'),
  }),
  *check({ doc, kinds }: Look, { style, prefixes }): Iterable<Found> {
    for (const node of doc.nodes.values()) {
      if (kinds.isFixture(node.kind)) continue;
      if (!must(styles[style]).test(node.name))
        yield { graph: node.graph, id: node.id, ...say('name-style', { node: node.name, style }) };
      else if (prefixes.length > 0 && !prefixes.some((prefix) => node.name.startsWith(prefix)))
        yield {
          graph: node.graph,
          id: node.id,
          ...say('name-prefix', { node: node.name, prefixes }),
        };
    }
  },
});

export const cutCaption: Rule = {
  id: 'cut-caption',
  title: 'Caption cut off',
  severity: 'info',
  group: 'reading',
  subject: 'names',
  why: 'A caption that is cut off hides how it differs from the next one.',
  instead: 'Shorten it, and put the rest in a note.',
  *check({ doc, kinds }: Look): Iterable<Found> {
    for (const node of doc.nodes.values()) {
      const { title } = geometryOf(doc, kinds, node);
      const whole = node.label || node.name;
      // fixtures and foreign names may end in dots themselves
      if (title.endsWith('…') && !whole.endsWith('…'))
        yield {
          graph: node.graph,
          id: node.id,
          ...say('cut-caption', { title, whole }),
        };
    }
  },
};

export const doubledLabel: Rule = {
  id: 'doubled-label',
  title: 'Same label twice',
  severity: 'info',
  group: 'reading',
  subject: 'names',
  why: 'Two nodes with the same label are easily confused.',
  instead: 'Say in each label how it differs from the other.',
  *check({ doc, kinds }: Look): Iterable<Found> {
    for (const graph of doc.graphs.keys()) {
      const byLabel = new Map<string, GraphNode[]>();
      for (const node of indexOf(doc).nodesIn(graph))
        if (node.label?.trim() && !kinds.isFixture(node.kind)) addTo(byLabel, node.label.trim(), node);
      for (const [label, nodes] of byLabel)
        if (nodes.length > 1)
          yield {
            graph,
            id: must(nodes[0]).id,
            ...say('doubled-label', { nodes: nodes.length, label, name: nodes.map((node) => node.name) }),
          };
    }
  },
};

export const nearLink: Rule = {
  id: 'near-link',
  title: 'Remote link within sight',
  severity: 'info',
  group: 'reading',
  subject: 'remote links',
  why: 'A link to something that is in the same window hides what a short wire would show.',
  instead: 'Draw it as a wire again.',
  *check({ doc }: Look): Iterable<Found> {
    for (const beacon of indexOf(doc).nodesOfKind(builtin.beacon)) {
      const taps = tapsOf(doc, beacon.id);
      const [tap] = taps;
      if (taps.length !== 1 || !tap || tap.graph !== beacon.graph || windowsOf([beacon, tap]) > 0) continue;
      yield {
        graph: tap.graph,
        id: tap.id,
        ...say('near-link', { beacon: beacon.name }),
        ...fix('to-wires', [tap.id]),
      };
    }
  },
};

export const likeBeacons: Rule = {
  id: 'like-beacons',
  title: 'Beacons that sound alike',
  severity: 'warning',
  group: 'reading',
  subject: 'remote links',
  why: 'When two beacons differ only in a capital or an underscore, sooner or later somebody taps the wrong one.',
  instead: 'Give one of them another name.',
  *check({ doc }: Look): Iterable<Found> {
    const byName = new Map<string, GraphNode[]>();
    for (const beacon of indexOf(doc).nodesOfKind(builtin.beacon)) {
      const plain = beacon.name.toLowerCase().replaceAll('_', '');
      addTo(byName, plain, beacon);
    }
    for (const beacons of byName.values()) {
      // the same name in graphs that do not hear each other is no other one
      const names = [...new Set(beacons.map((beacon) => beacon.name))];
      if (names.length > 1)
        yield {
          graph: must(beacons[0]).graph,
          id: must(beacons[0]).id,
          ...say('like-beacons', { names }),
        };
    }
  },
};

export const absolutePath: Rule = {
  id: 'absolute-path',
  title: 'Path of one machine',
  severity: 'warning',
  group: 'reading',
  subject: 'parameters',
  why: 'A path that begins at the root of a disk, or at a home folder, exists only on one machine.',
  instead: 'Write it from the root of the project.',
  *check({ doc, kinds }: Look): Iterable<Found> {
    for (const node of doc.nodes.values())
      for (const { parameter, path } of kinds.pathsOf(node))
        if (/^([/\\~]|[A-Za-z]:[/\\]|file:)/.test(path))
          yield {
            graph: node.graph,
            id: node.id,
            ...say('absolute-path', { node: caption(node), parameter, path }),
          };
  },
};

export const unknownKind: Rule = {
  id: 'unknown-kind',
  title: 'Unknown kind',
  severity: 'error',
  group: 'reading',
  subject: 'parameters',
  why: 'A kind that is missing in the catalogue cannot be computed by people who have only the catalogue.',
  instead: 'Replace it by a kind that is known, or add the kind to the catalogue.',
  *check({ doc, kinds }: Look): Iterable<Found> {
    // without a catalogue nothing is known: that says nothing of the file
    if (kinds.catalogue.kinds.length === 0) return;
    // a node of another program is no mistake of this file
    for (const node of doc.nodes.values())
      if (!kinds.kind(node.kind) && node.kind !== foreignKind)
        yield {
          graph: node.graph,
          id: node.id,
          ...say('unknown-kind', { node: caption(node), kind: node.kind }),
        };
  },
};

export const badValue: Rule = {
  id: 'bad-value',
  title: 'Value that does not fit',
  severity: 'error',
  group: 'reading',
  subject: 'parameters',
  why: 'A value outside of what a parameter takes is clamped by one host, refused by another.',
  instead: 'Set a value that fits, or reset it to the default.',
  *check({ doc, kinds }: Look): Iterable<Found> {
    for (const node of doc.nodes.values())
      for (const [parameter, value] of Object.entries(node.params ?? {})) {
        const problem = isPlainValue(value) ? kinds.valueProblem(node.kind, parameter, value) : undefined;
        if (problem)
          yield {
            graph: node.graph,
            id: node.id,
            ...say('bad-value', { node: caption(node), problem: problem.message }),
            ...fix('set-parameter', [node.id], { parameter }),
          };
      }
  },
};

export const oldShared: Rule = {
  id: 'old-shared',
  title: 'Older version of a shared kind',
  severity: 'info',
  group: 'reading',
  subject: 'parameters',
  why: 'Two versions of one shared kind in a show give two different results.',
  instead: 'Update it to the newest version. What cannot be kept is listed first.',
  *check({ doc, kinds }: Look): Iterable<Found> {
    for (const node of doc.nodes.values()) {
      const shared = kinds.kind(node.kind)?.shared;
      const newest = shared && kinds.newestShared(shared.name)?.shared?.version;
      if (shared && newest !== undefined && newest > shared.version)
        yield {
          graph: node.graph,
          id: node.id,
          ...say('old-shared', { node: caption(node), version: shared.version, shared: shared.name, newest }),
          ...fix('update-shared', [node.id]),
        };
    }
  },
};

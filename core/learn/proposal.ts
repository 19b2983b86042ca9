import {
  type Catalogue,
  type CategorySpec,
  type KindSpec,
  type PortSpec,
  signs,
  type TypeSpec,
} from '../document/catalogue.ts';
import { freeCode } from '../document/kind-code.ts';
import { type Kinds, stemOf } from '../document/kinds.ts';
import { groupBy } from '../group-by.ts';
import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { byName } from '../words.ts';
import type { Evidence, SeenKind, SeenPort } from './evidence.ts';
import { parameterWords } from './seen-words.ts';
import { say } from './sentences.ts';
import { learnedParameter } from './values.ts';

/** A kind as files show it, to be looked at before it is taken over. */
export interface LearnedKind {
  /** As it would stand in the catalogue. */
  readonly spec: KindSpec;
  /** Not in the catalogue yet; more than the catalogue has of it; or all there. */
  readonly is: 'new' | 'more' | 'known';
  readonly nodes: number;
  /** Nodes of other programs are called by it. */
  readonly isImported: boolean;
  /** How many files have such nodes, and their titles, in order. */
  readonly files: number;
  readonly titles: readonly string[];
  /** How many of its nodes give nothing to anything. */
  readonly last: number;
  /** What would be added to a kind that is there, and what was left out, as sentences. */
  readonly told: readonly string[];
}

/** What was learned from files. */
export interface Learned {
  readonly kinds: readonly LearnedKind[];
  /** Types and categories that the kinds need and the catalogue lacks. */
  readonly types: readonly TypeSpec[];
  readonly categories: readonly CategorySpec[];
  readonly files: number;
  /** Nodes of other programs of which nothing says what kind they are. */
  readonly untold: number;
}

// what a catalogue holds at most
const mostPorts = 200;
const mostParameters = 500;
const mostName = 100;
/** How many parameters are shown first. */
const mostMain = 4;

/** A title from an id: “standard_surface” is “Standard surface”, “fbx.MeshImport” is “Mesh import”. */
export function titleFrom(id: string): string {
  const last = id.split(/[.:/]/).findLast((part) => /\p{L}/u.test(part)) ?? id;
  const words = last
    .replace(/(\p{Ll}|\d)(\p{Lu}\p{Ll})/gu, (_, before: string, after: string) => `${before} ${after.toLowerCase()}`)
    .replace(/[_\s-]+/g, ' ')
    .trim();
  return `${words.slice(0, 1).toUpperCase()}${words.slice(1)}`.slice(0, mostName) || id.slice(0, mostName);
}

/** The type that all nodes have at a port; anything where they differ. */
function typeOf({ types }: SeenPort): string {
  const named = [...types.keys()].filter((type) => type !== 'any');
  return named.length === 1 ? must(named[0]).slice(0, mostName) || 'any' : 'any';
}

/**
 * Ports as nodes were seen to have them. A row of numbered inputs that is of another length on other nodes is one input
 * that grows; nodes of other programs number theirs from the second on.
 */
function portsOf(seen: SeenKind, told: Saying[]): PortSpec[] {
  const ports = [...seen.ports.values()].filter(({ id }) => id.length <= mostName);
  const rows = groupBy(ports, ({ id, direction }) =>
    direction === 'in' && (/\d$/.test(id) || seen.called !== undefined) ? stemOf(id) : undefined,
  );
  const growing = new Map(
    [...rows].filter(
      ([, row]) => row.length > 1 && new Set(row.map(typeOf)).size === 1 && row.some(({ nodes }) => nodes < seen.nodes),
    ),
  );
  const grown = new Set<SeenPort>([...growing.values()].flat());
  const specs: PortSpec[] = [];
  const done = new Set<string>();
  const asPort = (port: SeenPort, own: Partial<PortSpec> = {}): PortSpec => ({
    id: port.id,
    name: (port.name || port.id).slice(0, mostName),
    type: typeOf(port),
    direction: port.direction,
    many: false,
    main: false,
    feedable: false,
    ...own,
  });
  for (const port of ports) {
    if (!grown.has(port)) {
      specs.push(asPort(port));
      continue;
    }
    const stem = stemOf(port.id);
    if (done.has(stem)) continue;
    done.add(stem);
    const first =
      seen.called === undefined ? must([...must(growing.get(stem))].sort((a, b) => byName(a.id, b.id))[0]) : port;
    const id = seen.called === undefined ? first.id : `${stem}1`;
    specs.push(asPort(first, { id, name: seen.called === undefined ? first.name : stem, many: true }));
  }
  // the first of each side matters first, as on kinds that nobody knows
  for (const direction of ['in', 'out'] as const) {
    const at = specs.findIndex((port) => port.direction === direction);
    if (at >= 0) specs[at] = { ...must(specs[at]), main: true };
  }
  const mixed = ports.filter((port) => [...port.types.keys()].filter((type) => type !== 'any').length > 1);
  for (const port of mixed.slice(0, 3))
    told.push(say('port-mixed', { name: port.name || port.id, types: [...port.types.keys()] }));
  if (specs.length > mostPorts) told.push(say('ports-cut', { count: specs.length, most: mostPorts }));
  return specs.slice(0, mostPorts);
}

function parametersOf(seen: SeenKind, told: Saying[]): KindSpec['parameters'] {
  const all = [...seen.parameters].sort(([, a], [, b]) => b.nodes - a.nodes);
  const specs = all.flatMap(([id, values]) => {
    const spec = learnedParameter(id, titleFrom(id), values, seen.nodes, seen.called !== undefined);
    return spec ? [{ spec, differing: values.values.size }] : [];
  });
  const left = all.filter(([id]) => !specs.some(({ spec }) => spec.id === id)).map(([id]) => id);
  if (left.length > 0) told.push(say('values-mixed', { names: left }));
  if (specs.length > mostParameters) told.push(say('parameters-cut', { count: specs.length, most: mostParameters }));
  const main = new Set(
    specs
      .filter(({ spec, differing }) => differing > 1 && (spec.seen?.nodes ?? 0) * 2 >= seen.nodes)
      .slice(0, mostMain)
      .map(({ spec }) => spec.id),
  );
  return specs.slice(0, mostParameters).map(({ spec }) => ({ ...spec, main: main.has(spec.id) }));
}

/**
 * The kinds all of whose nodes are what their files are for. Only where saying so leaves the ends of every file what
 * they were: where it had none, and all that gives nothing to anything is of such kinds. O(files · kinds).
 */
function endKinds({ kinds, lasts }: Evidence, known: Kinds): Set<string> {
  const ends = new Set(
    [...kinds.values()].filter((kind) => kind.last === kind.nodes && !known.kind(kind.id)).map((kind) => kind.id),
  );
  for (let before = -1; before !== ends.size; ) {
    before = ends.size;
    for (const file of lasts)
      if (file.hasEnds || file.last.some((id) => !ends.has(id))) for (const id of file.kinds) ends.delete(id);
  }
  return ends;
}

/** A group of kinds by what their ids begin with: “materialx.mix” is of “Materialx”. */
function categoryOf(id: string, called: string | undefined): string {
  const [first, ...rest] = id.split('.');
  return called !== undefined || rest.length === 0 || first === undefined || first === ''
    ? 'imported'
    : first.slice(0, mostName);
}

/** What a catalogue does not have yet of a kind that it knows, as a kind with both. */
function added(known: KindSpec, spec: KindSpec, told: Saying[]): KindSpec {
  const ports = spec.ports.filter(
    (port) =>
      !known.ports.some(
        (one) =>
          one.direction === port.direction &&
          (one.id === port.id || (one.many && stemOf(one.id) === stemOf(port.id)) || one.name === port.name),
      ),
  );
  const parameters = spec.parameters.filter(
    (parameter) => !known.parameters.some((one) => one.id === parameter.id || one.title === parameter.title),
  );
  for (const { direction, name, type } of ports)
    told.push(say('port-added', { isInput: direction === 'in', name, type }));
  for (const one of parameters) told.push(say('parameter-added', { title: one.title, about: parameterWords(one) }));
  return {
    ...known,
    ports: [...known.ports, ...ports.map((port) => ({ ...port, main: false }))],
    parameters: [...known.parameters, ...parameters.map((one) => ({ ...one, main: false }))],
  };
}

/**
 * What a catalogue would learn from files: kinds that it does not know, and more of those that it knows. Taken over, no
 * file computes anything else, and its fingerprint stays. O(what was seen).
 */
export function learnedFrom(evidence: Evidence, kinds: Kinds): Learned {
  const { catalogue } = kinds;
  const ends = endKinds(evidence, kinds);
  const codes = new Set(catalogue.kinds.map((kind) => kind.code));
  const learned = [...evidence.kinds.values()]
    .sort((a, b) => b.nodes - a.nodes || (a.id < b.id ? -1 : 1))
    .filter(({ id }) => id.length <= mostName)
    .map((seen): LearnedKind => {
      const told: Saying[] = [];
      const known = kinds.kind(seen.id);
      const title = titleFrom(seen.called ?? seen.id);
      const fresh: KindSpec = {
        id: seen.id,
        title,
        code: known?.code ?? freeCode(title, codes),
        category: known?.category ?? categoryOf(seen.id, seen.called),
        ports: portsOf(seen, told),
        parameters: parametersOf(seen, told),
        pass: {},
        end: ends.has(seen.id),
        reads: [],
        nameMatters: false,
      };
      codes.add(fresh.code);
      if (!known) {
        if (seen.last === seen.nodes && !fresh.end) told.push(say('ends-elsewhere'));
      } else told.length = 0;
      const spec = known ? added(known, fresh, told) : fresh;
      return {
        spec,
        is: known ? (told.length > 0 ? 'more' : 'known') : 'new',
        nodes: seen.nodes,
        isImported: seen.called !== undefined,
        files: seen.files,
        titles: [...seen.titles].sort(byName),
        last: seen.last,
        told: told.map((one) => one.message),
      };
    });
  return {
    kinds: learned,
    ...missing(catalogue, learned),
    files: evidence.files,
    untold: evidence.untold,
  };
}

/** Types and categories that learned kinds name and the catalogue lacks. */
function missing(catalogue: Catalogue, learned: readonly LearnedKind[]): Pick<Learned, 'types' | 'categories'> {
  const [types, categories] = [
    new Set(['any', ...catalogue.types.map((one) => one.id)]),
    new Set(catalogue.categories.map((one) => one.id)),
  ];
  const fresh: { types: TypeSpec[]; categories: CategorySpec[] } = { types: [], categories: [] };
  for (const { spec } of learned) {
    for (const { type } of spec.ports) {
      if (types.has(type)) continue;
      types.add(type);
      const number = catalogue.types.length + fresh.types.length;
      fresh.types.push({
        id: type,
        title: titleFrom(type),
        sign: must(signs[number % signs.length]),
        hue: number % 8,
        assignableTo: [],
        conversions: [],
        components: [],
      });
    }
    if (categories.has(spec.category)) continue;
    categories.add(spec.category);
    const number = catalogue.categories.length + fresh.categories.length;
    fresh.categories.push({ id: spec.category, title: titleFrom(spec.category), hue: number % 8 });
  }
  return fresh;
}

/**
 * The catalogue that was learned for with some of that: new kinds behind the others, known ones with more ports and
 * parameters, and the types and categories that they need.
 */
export function withLearned(catalogue: Catalogue, learned: Learned, chosen: ReadonlySet<string>): Catalogue {
  const taken = learned.kinds.filter((one) => chosen.has(one.spec.id) && one.is !== 'known');
  const fresh = taken.filter((one) => one.is === 'new').map(({ spec }) => spec);
  const more = new Map(taken.filter((one) => one.is === 'more').map(({ spec }) => [spec.id, spec]));
  const kinds = [...catalogue.kinds.map((kind) => more.get(kind.id) ?? kind), ...fresh];
  const named = new Set(kinds.flatMap((kind) => kind.ports.map((port) => port.type)));
  const within = new Set(kinds.map((kind) => kind.category));
  const used = <T extends { readonly id: string }>(more: readonly T[], ids: ReadonlySet<string>): T[] =>
    more.filter((one) => ids.has(one.id));
  return {
    ...catalogue,
    types: [...catalogue.types, ...used(learned.types, named)],
    categories: [...catalogue.categories, ...used(learned.categories, within)],
    kinds,
  };
}

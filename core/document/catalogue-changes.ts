import type { Catalogue, KindSpec } from './catalogue.ts';
import { sameJson } from './json.ts';

/** One difference between two states of a catalogue. */
export interface CatalogueChange {
  /** The kind that it concerns; absent where it concerns types, categories or the whole. */
  readonly kind?: string;
  /** Whether nodes that are there may lose wires or values, or compute something else. */
  readonly breaking: boolean;
  readonly sentence: string;
}

const keyed = <T extends { readonly id: string }>(rows: readonly T[]): Map<string, T> =>
  new Map(rows.map((row) => [row.id, row]));

/** What a new state of a catalogue changes beside an old one, breaking changes first. O(kinds · parts). */
export function catalogueChanges(before: Catalogue, after: Catalogue): CatalogueChange[] {
  const changes: CatalogueChange[] = [];
  const note = (breaking: boolean, sentence: string, kind?: string): void =>
    void changes.push({ breaking, sentence, ...(kind !== undefined && { kind }) });
  const [old, now] = [keyed(before.kinds), keyed(after.kinds)];
  for (const [id, kind] of old) {
    const other = now.get(id);
    if (!other) note(true, `The kind “${kind.title}” goes.`, id);
    else if (!sameJson(kind as never, other as never)) kindChanges(kind, other, note);
  }
  for (const [id, kind] of now) if (!old.has(id)) note(false, `The kind “${kind.title}” is new.`, id);
  for (const [what, from, to] of [
    ['type', keyed(before.types), keyed(after.types)],
    ['category', keyed(before.categories), keyed(after.categories)],
  ] as const) {
    for (const [id, row] of from) {
      const other = to.get(id);
      if (!other) note(true, `The ${what} “${row.title}” goes.`);
      else if (!sameJson(row as never, other as never)) note(what === 'type', `The ${what} “${row.title}” is changed.`);
    }
    for (const [id, row] of to) if (!from.has(id)) note(false, `The ${what} “${row.title}” is new.`);
  }
  if (before.loops !== after.loops) note(after.loops === 'forbidden', `Loops are ${after.loops} now.`);
  return changes.sort((a, b) => Number(b.breaking) - Number(a.breaking));
}

function kindChanges(
  before: KindSpec,
  after: KindSpec,
  note: (breaking: boolean, sentence: string, kind?: string) => void,
): void {
  const say = (breaking: boolean, sentence: string): void => note(breaking, `${after.title}: ${sentence}`, before.id);
  const portKey = (port: { readonly id: string; readonly direction: string }): string => `${port.direction} ${port.id}`;
  const [oldPorts, newPorts] = [
    new Map(before.ports.map((port) => [portKey(port), port])),
    new Map(after.ports.map((port) => [portKey(port), port])),
  ];
  for (const [key, port] of oldPorts) {
    const other = newPorts.get(key);
    if (!other) say(true, `the ${port.direction === 'in' ? 'input' : 'output'} “${port.name}” goes.`);
    else if (other.type !== port.type) say(true, `“${port.name}” carries ${other.type} in place of ${port.type}.`);
    else if (!sameJson(port as never, other as never)) say(false, `“${port.name}” is described otherwise.`);
  }
  for (const [key, port] of newPorts)
    if (!oldPorts.has(key)) say(false, `the ${port.direction === 'in' ? 'input' : 'output'} “${port.name}” is new.`);
  const [oldParameters, newParameters] = [keyed(before.parameters), keyed(after.parameters)];
  for (const [id, spec] of oldParameters) {
    const other = newParameters.get(id);
    if (!other) say(true, `the parameter “${spec.title}” goes.`);
    else if (other.type !== spec.type) say(true, `“${spec.title}” is ${other.type} in place of ${spec.type}.`);
    else if (!sameJson(spec.default, other.default))
      say(
        true,
        `“${spec.title}” is ${JSON.stringify(other.default)} by itself, no more ${JSON.stringify(spec.default)}.`,
      );
    else if (!sameJson(spec as never, other as never)) say(false, `“${spec.title}” is described otherwise.`);
  }
  for (const [id, spec] of newParameters)
    if (!oldParameters.has(id)) say(false, `the parameter “${spec.title}” is new.`);
  const rest = ({ ports: _p, parameters: _q, ...kind }: KindSpec): object => kind;
  if (!sameJson(rest(before) as never, rest(after) as never)) {
    const computes =
      before.end !== after.end || before.nameMatters !== after.nameMatters || !sameJson(before.pass, after.pass);
    say(computes, computes ? 'what passes or ends there is changed.' : 'its title, code or category is changed.');
  }
}

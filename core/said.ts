import type { Id } from './document/ids.ts';
import type { Finding, Severity } from './finding.ts';
import { must } from './must.ts';

/** What a sentence is made from, by name. */
export type Params = Readonly<Record<string, string | number | boolean | null | undefined | readonly string[]>>;

/** Something that is told: the message is for the person; programs go by `code`, a room and a name, and `params`. */
export interface Saying {
  readonly message: string;
  /** As in `wiring.loop`. */
  readonly code: string;
  readonly params: Params;
}

/** Something cannot be done on this selection or with these options. */
export class Refused extends Error implements Saying {
  readonly code: string;
  readonly params: Params;
  constructor({ message, code, params }: Saying) {
    super(message);
    this.name = 'Refused';
    this.code = code;
    this.params = params;
  }
}

/** A finding with the code of what it says. */
export type SaidFinding = Finding & Saying;

type Sentence = (params: never) => string;
type Args<S extends Sentence> = Parameters<S> extends [infer P] ? [params: P] : [];

/** What a room says, and how it says it. */
export interface Said<S extends Readonly<Record<string, Sentence>>> {
  /** What stands in the way, as a value. */
  say<C extends keyof S & string>(code: C, ...params: Args<S[C]>): Saying;
  /** What stands in the way, to be thrown. */
  refuse<C extends keyof S & string>(code: C, ...params: Args<S[C]>): Refused;
  /** Something that was found; `rule` is what groups it with others. */
  find<C extends keyof S & string>(
    rule: string,
    severity: Severity,
    place: readonly Id[],
    code: C,
    ...params: Args<S[C]>
  ): SaidFinding;
}

/**
 * The sentences of a room by their codes: one file a room holds all of them, so that they can be read through, and
 * nothing else writes what people are told.
 */
export function sentences<const S extends Readonly<Record<string, Sentence>>>(room: string, all: S): Said<S> {
  const say = (code: keyof S & string, params: unknown): Saying => ({
    code: `${room}.${code}`,
    // the parameters of a code are those that its sentence takes: the types below say so
    params: (params ?? {}) as Params,
    message: must(all[code])(params as never),
  });
  return {
    say: (code, ...[params]) => say(code, params),
    refuse: (code, ...[params]) => new Refused(say(code, params)),
    find: (rule, severity, place, code, ...[params]) => ({ rule, severity, place, ...say(code, params) }),
  };
}

import type { Facts } from '../rules/facts.ts';
import { refuse } from './sentences.ts';

/** What is known of the asset store, by path. */
export type AssetFacts = NonNullable<Facts['assets']>;

/** The most paths that a script may ask for. */
export const mostAssets = 20_000;
/** How often a script is run again with what it asked for: each answer may lead to further questions. */
const mostRounds = 6;

/**
 * The asset store as a script sees it. A store lies behind a network and a script waits for nothing, so that what is
 * not known yet is answered with no, and remembered: the run counts for nothing then.
 */
export class KnownAssets {
  private readonly facts: AssetFacts | undefined;
  private readonly asked = new Set<string>();

  /** `facts` undefined: there is no store to ask. */
  constructor(facts: AssetFacts | undefined) {
    this.facts = facts;
  }

  get wanted(): readonly string[] {
    return [...this.asked];
  }

  /** Throws Refused where there is no store, or too much was asked. */
  at(path: string): AssetFacts[string] {
    if (!this.facts) throw refuse('no-asset-store');
    const known = Object.hasOwn(this.facts, path) ? this.facts[path] : undefined;
    if (known) return known;
    if (this.asked.size >= mostAssets) throw refuse('too-many-assets', { most: mostAssets });
    this.asked.add(path);
    return { exists: false, elsewhere: [] };
  }

  /** The paths of all assets with a file name. */
  named(name: string): readonly string[] {
    const { exists, elsewhere } = this.at(name);
    return exists ? [name, ...elsewhere] : elsewhere;
  }
}

/** What a run of a script came to, as far as the asset store is concerned. */
export interface Asking {
  readonly wanted: readonly string[];
}

/**
 * Runs a script until everything that it asks of the asset store is known: the same input gives the same questions.
 * `find` undefined: there is no store. Throws Refused where the questions have no end. Cost: that of each run.
 */
export async function withAssets<T extends Asking>(
  run: (assets: AssetFacts | undefined) => Promise<T>,
  find: ((paths: readonly string[]) => Promise<AssetFacts>) | undefined,
): Promise<T> {
  if (!find) return run(undefined);
  let known: AssetFacts = {};
  for (let round = 0; round < mostRounds; round++) {
    const done = await run(known);
    if (done.wanted.length === 0) return done;
    known = { ...known, ...(await find(done.wanted)) };
  }
  throw refuse('assets-without-end', { rounds: mostRounds });
}

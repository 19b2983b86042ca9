import { caption, type Doc, indexOf } from '../../document/doc.ts';
import type { Id } from '../../document/ids.ts';
import type { Kinds } from '../../document/kinds.ts';
import { addTo } from '../../group-by.ts';
import { must } from '../../must.ts';
import { effectiveWiring, isConcrete, type Source } from '../../wiring/effective.ts';
import { feedScope } from '../../wiring/feeds.ts';
import { joined, plural } from '../../words.ts';
import type { Change } from './compare.ts';
import type { Match } from './match.ts';

/** Both documents with their kinds, and which thing of one is which of the other. */
export interface Compared {
  readonly before: Doc;
  readonly after: Doc;
  readonly kinds: { readonly before: Kinds; readonly after: Kinds };
  readonly match: Match;
}

/** What an input took and takes. */
export interface Rewired {
  readonly was: Source | undefined;
  readonly is: Source | undefined;
  /** The wire that is drawn into it is the same one. */
  readonly isSameWire: boolean;
}

/**
 * Puts each change that only follows from another one under that: inputs that take something else because a node on the
 * way was bypassed, came, went, or takes something else itself; what lies in a nested graph that came or went; values
 * and inputs of a node that is of another kind now. What no change in the list accounts for gets an entry for what only
 * carries data. O(changes · length of ways).
 */
export function byCause(
  changes: readonly Change[],
  rewired: ReadonlyMap<Change, Rewired>,
  compared: Compared,
): readonly Change[] {
  return new Causes(changes, rewired, compared).run();
}

class Causes {
  private readonly changes: readonly Change[];
  private readonly rewired: ReadonlyMap<Change, Rewired>;
  private readonly compared: Compared;
  /** Changes by type, document and thing: `bypassed after n7`. Those of one input or parameter are not among them. */
  private readonly known = new Map<string, Change>();
  private readonly ofParameters = new Map<Id, Change>();
  private readonly under = new Map<Change, Change[]>();
  private readonly made: Change[] = [];
  /** The match the other way round. */
  private readonly old: ReadonlyMap<Id, Id>;

  constructor(changes: readonly Change[], rewired: ReadonlyMap<Change, Rewired>, compared: Compared) {
    this.changes = changes;
    this.rewired = rewired;
    this.compared = compared;
    this.old = new Map([...compared.match.nodes].map(([a, b]) => [b, a]));
    for (const change of changes) {
      if (change.type === 'parameter' && change.after !== undefined) this.ofParameters.set(change.after, change);
      if (change.part !== undefined) continue;
      if (change.before !== undefined) this.known.set(`${change.type} before ${change.before}`, change);
      if (change.after !== undefined) this.known.set(`${change.type} after ${change.after}`, change);
    }
  }

  run(): readonly Change[] {
    const follows = new Set<Change>();
    for (const change of this.changes) {
      const cause = this.causeOf(change);
      if (!cause || cause === change) continue;
      addTo(this.under, cause, change);
      follows.add(change);
    }
    return [...this.changes, ...this.made].flatMap((change) => {
      if (follows.has(change)) return [];
      const consequences = this.consequencesOf(change);
      if (consequences.length === 0) return [change];
      const grave = consequences.some((one) => one.layer === 'function');
      return [
        {
          ...change,
          ...(grave && { layer: 'function' as const }),
          sentence: `${change.sentence.replace(/\.$/, '')}${this.told(consequences)}`,
          consequences,
        },
      ];
    });
  }

  /** All that follows from a change, and what follows from that. */
  private consequencesOf(change: Change): Change[] {
    return (this.under.get(change) ?? []).flatMap((one) => [one, ...this.consequencesOf(one)]);
  }

  private causeOf(change: Change): Change | undefined {
    const own = this.rewired.get(change);
    if (own) return this.causeOfInput(change, own);
    const { before, after } = change;
    if (change.type === 'removed' && before !== undefined) return this.hostChange('removed', 'before', before);
    if (change.type === 'added' && after !== undefined) return this.hostChange('added', 'after', after);
    return change.type === 'parameter' ? this.known.get(`kind after ${after}`) : undefined;
  }

  /** The same of the node that holds the nested graph in which a node lies. */
  private hostChange(type: 'added' | 'removed', side: 'before' | 'after', id: Id): Change | undefined {
    const doc = this.compared[side];
    const node = doc.nodes.get(id);
    const host = node && indexOf(doc).hostOf(node.graph);
    return host && this.known.get(`${type} ${side} ${host.id}`);
  }

  private causeOfInput(change: Change, { was, is, isSameWire }: Rewired): Change | undefined {
    const { before, after, match } = this.compared;
    const kind = this.known.get(`kind after ${change.after}`);
    if (kind) return kind;
    if (!isSameWire)
      return this.ofWire(
        indexOf(before).wireInto(must(change.before), must(change.part))?.from.node,
        indexOf(after).wireInto(must(change.after), must(change.part))?.from.node,
      );
    const ways = [
      ...(was?.through ?? []).map((id) => match.nodes.get(id) ?? `gone ${id}`),
      ...(is?.through ?? []),
      ...(is ? [is.node] : []),
      ...(was ? [match.nodes.get(was.node) ?? `gone ${was.node}`] : []),
    ];
    for (const id of ways) {
      const cause = id.startsWith('gone ')
        ? this.known.get(`removed before ${id.slice(5)}`)
        : (this.known.get(`bypassed after ${id}`) ??
          this.known.get(`added after ${id}`) ??
          this.known.get(`kind after ${id}`) ??
          this.carried(id));
      if (cause && cause !== change) return cause;
    }
    return this.causeOfFeed(change, was, is);
  }

  /** What accounts for a wire that is another one: its old end went, or its new one came. */
  private ofWire(from: Id | undefined, to: Id | undefined): Change | undefined {
    return this.known.get(`removed before ${from}`) ?? this.known.get(`added after ${to}`);
  }

  /** Feeds that came, went, took something else or supply another scope, and inputs that moved into one. */
  private causeOfFeed(change: Change, was: Source | undefined, is: Source | undefined): Change | undefined {
    const { before, after, match } = this.compared;
    for (const [feed, side] of [
      [was?.feed, 'before'],
      [is?.feed, 'after'],
    ] as const) {
      if (feed === undefined) continue;
      const here = side === 'before' ? match.nodes.get(feed) : feed;
      if (here === undefined) return this.known.get(`removed before ${feed}`);
      const cause =
        this.known.get(`added after ${here}`) ??
        this.known.get(`bypassed after ${here}`) ??
        this.ofParameters.get(here) ??
        this.carried(here);
      if (cause) return cause;
      const [then, later] = [before.nodes.get(this.old.get(here) ?? ''), after.nodes.get(here)];
      const moved = this.known.get(`reframed after ${here}`) ?? this.known.get(`moved after ${here}`);
      if (moved && then && later && feedScope(before, then) !== feedScope(after, later)) return moved;
    }
    if (!was?.feed && !is?.feed) return undefined;
    return this.known.get(`reframed after ${change.after}`);
  }

  /** What accounts for something that only carries data taking something else: an entry of its own where nothing does. */
  private carried(id: Id): Change | undefined {
    const { before, after, kinds, match } = this.compared;
    const key = `carried after ${id}`;
    const known = this.known.get(key);
    if (known) return known;
    const now = after.nodes.get(id);
    const old = this.old.get(id);
    if (!now || old === undefined || isConcrete(after, now) || now.inner !== undefined) return undefined;
    const [was, is] = [indexOf(before).wireInto(old, 'in'), indexOf(after).wireInto(id, 'in')];
    const isSame = was?.from.port === is?.from.port && match.nodes.get(was?.from.node ?? '') === is?.from.node;
    if ((isSame && was?.off === is?.off) || (!was && !is)) return undefined;
    // healed over what went, or led over what came
    const cause = this.ofWire(was?.from.node, is?.from.node);
    if (cause) return cause;
    const source = effectiveWiring(after, kinds.after).source(id, 'in');
    const change: Change = {
      type: 'rewired',
      layer: 'function',
      before: old,
      after: id,
      part: 'in',
      sentence: `“${caption(now)}” (${kinds.after.title(now.kind)}) takes ${source ? `“${caption(must(after.nodes.get(source.node)))}”` : 'nothing'} now.`,
    };
    this.known.set(key, change);
    this.made.push(change);
    return change;
  }

  /** What inputs take because of a change: counted, and named where they take the same. */
  private told(consequences: readonly Change[]): string {
    const { after } = this.compared;
    const counts = new Map<string, number>();
    for (const one of consequences) {
      const own = this.rewired.get(one);
      if (!own) continue;
      const takes = own.is ? `take “${caption(must(after.nodes.get(own.is.node)))}”` : 'are open';
      counts.set(takes, (counts.get(takes) ?? 0) + 1);
    }
    const others = consequences.filter((one) => !this.rewired.has(one)).length;
    const inputs = [...counts.values()].reduce((sum, count) => sum + count, 0);
    const said =
      counts.size > 3
        ? [`${plural(inputs, 'input')} take something else now`]
        : [...counts].map(
            ([takes, count]) =>
              `${plural(count, 'input')} ${count === 1 ? takes.replace(/^take /, 'takes ').replace(/^are /, 'is ') : takes} now`,
          );
    if (others > 0) said.push(plural(others, 'other change'));
    return `: ${joined(said)}.`;
  }
}

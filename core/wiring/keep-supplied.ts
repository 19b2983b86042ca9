import { z } from 'zod';
import { builtin } from '../document/builtin.ts';
import { caption, type Doc, placeOf } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Edit } from '../edit/step.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { Refused } from '../said.ts';
import { byName } from '../words.ts';
import { Carrier } from './across.ts';
import { effectiveWiring } from './effective.ts';
import { feedScope, feedsOf, scopesAround, scopeTitle, standsIn } from './feeds.ts';
import { inputChanges } from './input-changes.ts';
import { find } from './sentences.ts';
import { Wiring } from './wiring.ts';

// Standing feeds reach as far as what they stand in. An act that puts them, or what they supply, elsewhere either keeps
// who takes what, or lets the feed go by its new place: that is asked of the act, by one option, and answered here.

/** What an act does about inputs that standing feeds supply: goes on supplying them, or lets the new places say. */
export const supplies = ['keep', 'let go'] as const;
export type Supply = (typeof supplies)[number];

/** The option of acts that put feeds, or what they supply, elsewhere. */
export const supplyOption = (start: Supply) =>
  z.enum(supplies).default(start).meta({
    title: 'Inputs that feeds supply',
    hint: 'keep: consumers keep this source, by wires where a feed cannot reach them; let go: the places of the feeds decide',
    only: 'feeds',
  });

/** The rule of findings that say that a feed goes on supplying more than what it stands in. */
export const feedKept = 'feed-kept';

/**
 * Goes on with an edit so that inputs take what standing feeds gave them before: feeds keep the frame or graph that they
 * supplied, where they still lie in it; a copy that would clash with one that is there is bypassed; what is left is
 * wired. Nothing where the document has no feeds. Cost: that of the wiring, twice, where it has.
 */
export function keepSupplied(
  doc: Doc,
  kinds: Kinds,
  edit: Edit,
  newId: (prefix: string) => string,
): { readonly edit: Edit; readonly findings: readonly Finding[] } {
  const none = { edit, findings: [] };
  if (edit.steps.length === 0 || feedsOf(doc).length === 0) return none;
  const tx = Transaction.of(doc, edit);
  const findings = [...keepScopes(tx, kinds), ...silenceCopies(tx, kinds), ...wireLost(tx, kinds, newId)];
  return { edit: tx.edit, findings };
}

/** Feeds that stand in something narrower now go on supplying what they supplied. */
function keepScopes(tx: Transaction, kinds: Kinds): Finding[] {
  const { before } = tx;
  const narrowed = feedsOf(before).flatMap((feed) => {
    const now = tx.get('nodes', feed.id);
    if (!now || now.kind !== builtin.feed) return [];
    const scope = feedScope(before, feed);
    return feedScope(tx.doc, now) !== scope && [...scopesAround(tx.doc, now)].includes(scope) ? [{ feed, scope }] : [];
  });
  if (narrowed.length === 0) return [];
  const byPlace = tx.doc;
  for (const { feed, scope } of narrowed) tx.set('nodes', feed.id, 'covers', scope);
  const [then, now] = [effectiveWiring(byPlace, kinds), effectiveWiring(tx.doc, kinds)];
  return narrowed.flatMap(({ feed, scope }) => {
    const after = must(tx.get('nodes', feed.id));
    const inside = new Set(then.suppliedBy(feed.id).map(({ node, port }) => `${node} ${port}`));
    const all = now.suppliedBy(feed.id);
    const outside = all
      .filter(({ node, port }) => !inside.has(`${node} ${port}`))
      .map(({ node }) => caption(must(tx.get('nodes', node))))
      .sort(byName);
    return [
      {
        ...find(feedKept, 'info', placeOf(tx.doc, after.graph, feed.id), 'feed-kept', {
          feed: caption(feed),
          scope: scopeTitle(tx.doc, scope),
          place: scopeTitle(tx.doc, standsIn(after)),
          all: all.length,
          outside,
        }),
        fix: { operation: 'feed-scope', selection: [feed.id], options: { scope: '' } },
      },
    ];
  });
}

/** Feeds that came and stand against one that was there are bypassed: beside one another neither would supply anything. */
function silenceCopies(tx: Transaction, kinds: Kinds): Finding[] {
  const came = feedsOf(tx.doc).filter((feed) => !tx.before.nodes.has(feed.id) && !feed.bypassed);
  return came.flatMap((feed) => {
    const scope = feedScope(tx.doc, feed);
    const types = kinds.feedTypes(feed);
    const other = feedsOf(tx.doc).find(
      (one) =>
        one.id !== feed.id &&
        !one.bypassed &&
        (tx.before.nodes.has(one.id) || one.id < feed.id) &&
        feedScope(tx.doc, one) === scope &&
        kinds.feedTypes(one).some((type) => types.includes(type)),
    );
    if (!other) return [];
    tx.set('nodes', feed.id, 'bypassed', true);
    return [
      find('feed-off', 'info', placeOf(tx.doc, feed.graph, feed.id), 'copy-off', {
        feed: caption(feed),
        other: caption(other),
        scope: scopeTitle(tx.doc, scope),
      }),
    ];
  });
}

/** Inputs that a feed supplied, and that it does not reach any more, are wired to what it gave them. */
function wireLost(tx: Transaction, kinds: Kinds, newId: (prefix: string) => string): Finding[] {
  const doc = tx.doc;
  const lost = inputChanges(tx.before, doc, kinds, tx.edit).filter(
    ({ before, after, isDirect }) => before?.feed !== undefined && before.feed !== after?.feed && !isDirect,
  );
  if (lost.length === 0) return [];
  const wiring = new Wiring(tx, kinds, newId);
  const carrier = new Carrier(wiring, newId);
  const wired: string[] = [];
  for (const { node, input, before } of lost) {
    const from = must(before);
    if (!tx.get('nodes', from.node)) continue;
    try {
      if (carrier.carry({ node: from.node, port: from.port }, { node: node.id, port: input.id }, false))
        wired.push(`${input.name} of ${caption(node)}`);
    } catch (error) {
      // over a bypassed nested graph nothing leads: the guard says what is open
      if (!(error instanceof Refused)) throw error;
    }
  }
  return wired.length === 0 ? [] : [find('supply-wired', 'info', [], 'supply-wired', { wired })];
}

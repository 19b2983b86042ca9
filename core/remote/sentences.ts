import { sentences } from '../said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('remote', {
  'back-beacon-lost': ({ tap, beacon }: { tap: string; beacon: string | undefined }) =>
    `Tap “${tap}” stays: it has lost its beacon “${beacon ?? ''}”.`,
  'back-nothing-behind': ({ tap }: { tap: string }) => `Tap “${tap}” stays: nothing is wired to its beacon.`,
  'back-through-bypassed': ({ tap, border }: { tap: string; border: string }) =>
    `Tap “${tap}” stays: the wire would pass through “${border}”, which is bypassed. Switch it on first.`,
  'no-type': ({ type, id }: { type: string; id: readonly string[] }) =>
    `The catalogue has no type “${type}”. It has: ${id.join(', ')}.`,
  'source-in-no-frame': ({ source }: { source: string }) =>
    `“${source}” is in no frame: choose the graph, or put it into a frame first.`,
  'tap-without-beacon': ({ source, beacon }: { source: string; beacon: string | undefined }) =>
    `Tap “${source}” has lost its beacon “${beacon ?? ''}”: give it another one first.`,
  'type-does-not-fit': ({ type, given, source }: { type: string; given: string; source: string }) =>
    `Inputs of type ${type} do not take ${given}, which “${source}” gives.`,
  'type-unknown': ({ source }: { source: string }) =>
    `It cannot be told of which type “${source}” gives: say the types that the feed is for.`,
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { findCrowds, laneCrowd } from './crowds.ts';
import { placeTracks, type Track, tracksAbreast } from './tracks.ts';

const pitch = 6;
/** A wire that comes in from the low side at `source` and goes on to the high side at `target`. */
const through = (net: number, source: number, target: number, low = 0, high = 2000): Track => ({
  net,
  low,
  high,
  from: Math.min(source, target),
  to: Math.max(source, target),
  now: (low + high) / 2,
  branches: [
    { at: source, side: -1, reach: low, wires: 1 },
    { at: target, side: 1, reach: high, wires: 1 },
  ],
});
const meet = (a: Track, b: Track): boolean => a.net !== b.net && a.from < b.to && b.from < a.to;

describe('a crowd of tracks', () => {
  it('has lanes in which no two of different nets lie on one another, and no more of them than tracks', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(fc.integer({ min: 0, max: 5 }), fc.integer({ max: 300, min: 0 }), fc.integer({ max: 300, min: 0 })),
          {
            minLength: 2,
            maxLength: 40,
          },
        ),
        (rows) => {
          const tracks = rows.map(([net, source, target]) => through(net, source, target));
          const [crowd] = findCrowds(tracks, true).crowds;
          const { ahead, behind } = laneCrowd(tracks, crowd!, pitch);
          const at = (i: number): Track => tracks[crowd!.members[i]!]!;
          for (let a = 0; a < ahead.length; a++) {
            expect(ahead[a]! + behind[a]!).toBeLessThan(tracks.length);
            for (let b = 0; b < a; b++) if (meet(at(a), at(b))) expect(ahead[a]).not.toBe(ahead[b]);
          }
        },
      ),
    );
  });

  it('puts wires that go the same way so that none crosses another', () => {
    const tracks = Array.from({ length: 30 }, (_, i) => through(i, i * 10, 400 + i * 10));
    const [crowd] = findCrowds(tracks, true).crowds;
    const { ahead } = laneCrowd(tracks, crowd!, pitch);
    const lane = new Map(crowd!.members.map((i, k) => [i, ahead[k]!]));
    // the one that comes from further down turns first, so that the others pass above it
    for (let i = 1; i < tracks.length; i++) expect(lane.get(i)!).toBeLessThan(lane.get(i - 1)!);
  });

  it('of thousands that meet all others stays in its room, apart, and is counted', () => {
    const tracks = Array.from({ length: 1500 }, (_, i) => through(i, i * 4, 9000 + i * 4, 100, 20_000));
    const places = [...placeTracks(tracks, pitch)];
    const sorted = [...places].sort((a, b) => a - b);
    expect([sorted[0]! >= 100, sorted.at(-1)! <= 20_000]).toEqual([true, true]);
    sorted.slice(1).forEach((place, i) => expect(place - sorted[i]!).toBeCloseTo(pitch, 6));
    expect(tracksAbreast(tracks, pitch)).toBe(1500);
    // with too little room they stand closer, and none outside
    const tight = [
      ...placeTracks(
        tracks.map((track) => ({ ...track, high: 400 })),
        pitch,
      ),
    ];
    expect([Math.min(...tight) >= 100, Math.max(...tight) <= 400]).toEqual([true, true]);
    expect(new Set(tight).size).toBe(1500);
  });

  it('leaves what has another room, or stands among few, to be weighed pair by pair', () => {
    const crowd = Array.from({ length: 300 }, (_, i) => through(i, i, 500 + i));
    const few = Array.from({ length: 20 }, (_, i) => through(1000 + i, i, 500 + i, 50_000, 51_000));
    const { crowds, rest } = findCrowds([...crowd, ...few], false);
    expect([crowds.length, crowds[0]!.members.length, rest.length]).toEqual([1, 300, 20]);
  });
});

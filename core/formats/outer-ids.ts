import type { Id } from '../document/ids.ts';

/** A record that may have had another id in the file that it came from. */
interface Named {
  readonly id: Id;
  readonly foreignId?: string | undefined;
}

/**
 * The ids that records have in a file that is written: those that they came with, where nothing else has them, told
 * apart by a number where two would be the same. `shape` makes an id that the format allows.
 */
export class OuterIds {
  private readonly given = new Map<Id, string>();
  private readonly taken = new Set<string>();
  private readonly next = new Map<string, number>();
  private readonly shape: (id: string) => string;

  constructor(shape: (id: string) => string = (id) => id) {
    this.shape = shape;
  }

  /** The id of a record in the file, the same whenever it is asked. O(1). */
  of({ id, foreignId }: Named): string {
    const known = this.given.get(id);
    if (known !== undefined) return known;
    const wanted = this.shape(foreignId || id);
    let outer = wanted;
    for (let i = this.next.get(wanted) ?? 2; this.taken.has(outer); i++) {
      outer = this.shape(`${wanted}_${i}`);
      this.next.set(wanted, i + 1);
    }
    this.taken.add(outer);
    this.given.set(id, outer);
    return outer;
  }
}

/** A binary heap of whole numbers with keys, the least key first. Pushing and taking are O(log n). */
export class NumberHeap {
  private readonly keys: number[] = [];
  private readonly values: number[] = [];
  /** The key of what was taken last. */
  least = 0;

  push(key: number, value: number): void {
    const { keys, values } = this;
    let i = keys.length;
    keys.push(key);
    values.push(value);
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (keys[up]! <= key) break;
      keys[i] = keys[up]!;
      values[i] = values[up]!;
      i = up;
    }
    keys[i] = key;
    values[i] = value;
  }

  /** −1 where it is empty. */
  pop(): number {
    const { keys, values } = this;
    if (keys.length === 0) return -1;
    const top = values[0]!;
    this.least = keys[0]!;
    const [key, value] = [keys.pop()!, values.pop()!];
    const n = keys.length;
    if (n === 0) return top;
    let i = 0;
    for (;;) {
      let down = 2 * i + 1;
      if (down >= n) break;
      if (down + 1 < n && keys[down + 1]! < keys[down]!) down++;
      if (keys[down]! >= key) break;
      keys[i] = keys[down]!;
      values[i] = values[down]!;
      i = down;
    }
    keys[i] = key;
    values[i] = value;
    return top;
  }
}

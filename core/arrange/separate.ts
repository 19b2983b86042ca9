/** `right` lies at least `gap` behind `left`. */
export interface Constraint {
  readonly left: number;
  readonly right: number;
  readonly gap: number;
}

interface Block {
  readonly members: number[];
  /** Constraints that come in from, and go out to, other blocks; looked through when blocks are joined. */
  position: number;
  weight: number;
  /** Weighted sum of wanted places less offsets. */
  sum: number;
}

/**
 * Places as near as can be to those wanted (least sum of weighted squares) under separation constraints: VPSC, Dwyer,
 * Marriott & Stuckey, “Fast node overlap removal”, GD 2005: blocks of variables joined by active constraints are merged
 * until all hold, then split where a constraint only holds things back. The constraints must not make a cycle. Work is
 * bounded by the number of constraints.
 */
export function separate(
  wanted: ArrayLike<number>,
  constraints: readonly Constraint[],
  weights?: ArrayLike<number>,
): Float64Array {
  return new Solver(wanted, constraints, weights).solve();
}

class Solver {
  private readonly wanted: ArrayLike<number>;
  private readonly weights: ArrayLike<number> | undefined;
  private readonly constraints: readonly Constraint[];
  private readonly blockOf: Block[];
  private readonly offset: Float64Array;
  private readonly into: number[][];
  private readonly outOf: number[][];
  private readonly active: Uint8Array;

  constructor(wanted: ArrayLike<number>, constraints: readonly Constraint[], weights?: ArrayLike<number>) {
    this.wanted = wanted;
    this.weights = weights;
    this.constraints = constraints;
    this.offset = new Float64Array(wanted.length);
    this.active = new Uint8Array(constraints.length);
    this.into = Array.from({ length: wanted.length }, () => []);
    this.outOf = Array.from({ length: wanted.length }, () => []);
    constraints.forEach((one, i) => {
      this.into[one.right]!.push(i);
      this.outOf[one.left]!.push(i);
    });
    this.blockOf = Array.from(wanted as ArrayLike<number>, (want, v) => ({
      members: [v],
      position: want,
      weight: this.weight(v),
      sum: want * this.weight(v),
    }));
  }

  private weight(v: number): number {
    return this.weights?.[v] ?? 1;
  }

  private place(v: number): number {
    return this.blockOf[v]!.position + this.offset[v]!;
  }

  private violation(i: number): number {
    const { left, right, gap } = this.constraints[i]!;
    return this.place(left) + gap - this.place(right);
  }

  solve(): Float64Array {
    this.satisfy();
    // splitting and merging again brings the sum down each time; a few rounds reach the best in practice
    for (let round = 0; round < 30 && this.split(); round++) this.satisfy();
    return Float64Array.from({ length: this.wanted.length }, (_, v) => this.place(v));
  }

  /** Joins blocks, in topological order of the constraints and then the worst first, until nothing is violated. */
  private satisfy(): void {
    for (const v of this.topological()) {
      for (;;) {
        let worst = -1;
        let most = 1e-9;
        for (const u of this.blockOf[v]!.members)
          for (const i of this.into[u]!) {
            if (this.blockOf[this.constraints[i]!.left] === this.blockOf[v]) continue;
            const violation = this.violation(i);
            if (violation > most) [worst, most] = [i, violation];
          }
        if (worst === -1) break;
        this.join(worst);
      }
    }
    for (let guard = 0; guard < this.constraints.length; guard++) {
      let worst = -1;
      let most = 1e-7;
      this.constraints.forEach((one, i) => {
        if (this.blockOf[one.left] === this.blockOf[one.right]) return;
        const violation = this.violation(i);
        if (violation > most) [worst, most] = [i, violation];
      });
      if (worst === -1) return;
      this.join(worst);
    }
  }

  private topological(): number[] {
    const waiting = this.into.map((list) => list.length);
    const order: number[] = [];
    waiting.forEach((count, v) => {
      if (count === 0) order.push(v);
    });
    for (let i = 0; i < order.length; i++)
      for (const c of this.outOf[order[i]!]!)
        if (--waiting[this.constraints[c]!.right]! === 0) order.push(this.constraints[c]!.right);
    return order;
  }

  private join(i: number): void {
    const { left, right, gap } = this.constraints[i]!;
    const [a, b] = [this.blockOf[left]!, this.blockOf[right]!];
    this.active[i] = 1;
    const shift = this.offset[left]! + gap - this.offset[right]!;
    const [keep, lose, by] = a.members.length >= b.members.length ? [a, b, shift] : [b, a, -shift];
    for (const v of lose.members) {
      this.offset[v]! += by;
      this.blockOf[v] = keep;
      keep.members.push(v);
    }
    keep.sum += lose.sum - by * lose.weight;
    keep.weight += lose.weight;
    keep.position = keep.sum / keep.weight;
  }

  /** Splits each block at the active constraint with the most negative multiplier; says whether any was. */
  private split(): boolean {
    let any = false;
    for (const block of new Set(this.blockOf)) {
      if (block.members.length < 2) continue;
      const { constraint, multiplier } = this.leastMultiplier(block);
      if (constraint === -1 || multiplier >= -1e-7) continue;
      this.active[constraint] = 0;
      this.take(this.constraints[constraint]!.left);
      this.take(this.constraints[constraint]!.right);
      any = true;
    }
    return any;
  }

  /** Makes a block of all that active constraints join to v. */
  private take(v: number): void {
    const members = this.joined(v);
    const block: Block = { members, position: 0, weight: 0, sum: 0 };
    for (const u of members) {
      block.weight += this.weight(u);
      block.sum += (this.wanted[u]! - this.offset[u]!) * this.weight(u);
      this.blockOf[u] = block;
    }
    block.position = block.sum / block.weight;
  }

  private joined(v: number): number[] {
    const found = [v];
    const seen = new Set(found);
    for (let k = 0; k < found.length; k++) {
      const u = found[k]!;
      for (const i of [...this.into[u]!, ...this.outOf[u]!]) {
        if (!this.active[i]) continue;
        const w = this.constraints[i]!.left === u ? this.constraints[i]!.right : this.constraints[i]!.left;
        if (seen.has(w)) continue;
        seen.add(w);
        found.push(w);
      }
    }
    return found;
  }

  /** Lagrange multipliers over the tree of active constraints, from its leaves up: what each holds back. */
  private leastMultiplier(block: Block): { constraint: number; multiplier: number } {
    const order: { v: number; by: number; from: number }[] = [{ v: block.members[0]!, by: -1, from: -1 }];
    const seen = new Set([block.members[0]!]);
    for (let k = 0; k < order.length; k++) {
      const u = order[k]!.v;
      for (const i of [...this.into[u]!, ...this.outOf[u]!]) {
        if (!this.active[i]) continue;
        const w = this.constraints[i]!.left === u ? this.constraints[i]!.right : this.constraints[i]!.left;
        if (seen.has(w)) continue;
        seen.add(w);
        order.push({ v: w, by: i, from: k });
      }
    }
    const pull = order.map(({ v }) => 2 * this.weight(v) * (this.place(v) - this.wanted[v]!));
    let constraint = -1;
    let multiplier = 0;
    for (let k = order.length - 1; k > 0; k--) {
      const { v, by, from } = order[k]!;
      const value = this.constraints[by]!.right === v ? pull[k]! : -pull[k]!;
      // positive where the constraint pushes its sides apart, negative where it ties together what wants to part
      if (value < multiplier) [constraint, multiplier] = [by, value];
      pull[from]! += pull[k]!;
    }
    return { constraint, multiplier };
  }
}

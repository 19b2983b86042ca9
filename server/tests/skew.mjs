// node --import …/skew.mjs: a process whose clock is off by CLOCK_SKEW milliseconds.
const skew = Number(process.env.CLOCK_SKEW ?? 0);
const Real = globalThis.Date;
globalThis.Date = class extends Real {
  constructor(...parts) {
    if (parts.length === 0) super(Real.now() + skew);
    else super(...parts);
  }
  static now() {
    return Real.now() + skew;
  }
};

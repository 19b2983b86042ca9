/** The value below which a share of all lies: 0.5 is the median. */
export const at = (values: readonly number[], share: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * share))]!;

/** Median and 95th percentile. */
export const told = (values: readonly number[], digits = 1): string =>
  `${at(values, 0.5).toFixed(digits)} / ${at(values, 0.95).toFixed(digits)}`;

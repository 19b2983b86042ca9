/** Any value that JSON can hold. */
export type Json = null | boolean | number | string | readonly Json[] | { readonly [key: string]: Json };

/** Deep equality of JSON values; an absent key and `undefined` are the same. Cost: the size of the smaller value. */
export function sameJson(a: unknown, b: unknown): boolean {
  // 0 and −0 are one number in JSON
  if (a === b || Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) || Array.isArray(b)) {
    if (!Array.isArray(a) || !Array.isArray(b) || a.length !== b.length) return false;
    return a.every((item, i) => sameJson(item, b[i]));
  }
  const left = a as Record<string, unknown>;
  const right = b as Record<string, unknown>;
  for (const key of Object.keys(left)) if (!sameJson(left[key], right[key])) return false;
  for (const key of Object.keys(right)) if (right[key] !== undefined && !(key in left)) return false;
  return true;
}

/**
 * One spelling for one value: keys sorted, no spaces, absent for `undefined`, `-0` as `0`.
 * Used where values are hashed. Throws TypeError on NaN and infinities, which JSON cannot hold.
 */
export function canonicalJson(value: unknown): string {
  if (typeof value === 'number') {
    if (!Number.isFinite(value)) throw new TypeError(`JSON has no number ${value}`);
    return JSON.stringify(value === 0 ? 0 : value);
  }
  if (value === null || typeof value !== 'object') return JSON.stringify(value) ?? 'null';
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(',')}]`;
  const record = value as Record<string, unknown>;
  const keys = Object.keys(record)
    .filter((key) => record[key] !== undefined)
    .sort();
  return `{${keys.map((key) => `${JSON.stringify(key)}:${canonicalJson(record[key])}`).join(',')}}`;
}

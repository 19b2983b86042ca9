/** Identity of a graph, node, wire, frame or note: unique over the whole document, never shown as a name. */
export type Id = string;

export type Random = () => number;

/**
 * Small fast counter-based generator (sfc32, Chris Doty-Humphrey's PractRand): the same seed gives the same row on
 * every machine.
 */
export function seededRandom(seed: number): Random {
  let a = 0x9e3779b9 ^ seed;
  let b = 0x243f6a88 ^ (seed << 13);
  let c = 0xb7e15162 ^ (seed >>> 7);
  let counter = 1;
  const next = (): number => {
    const t = (((a + b) | 0) + counter) | 0;
    counter = (counter + 1) | 0;
    a = b ^ (b >>> 9);
    b = (c + (c << 3)) | 0;
    c = (c << 21) | (c >>> 11);
    c = (c + t) | 0;
    return (t >>> 0) / 4294967296;
  };
  for (let i = 0; i < 12; i++) next();
  return next;
}

const alphabet = '0123456789abcdefghjkmnpqrstvwxyz';

/** Makes ids like `n4k7t1m9qz`: the prefix, then fifty random bits in base 32, so that two people's ids do not meet. */
export function idMaker(seed: number): (prefix: string) => Id {
  const random = seededRandom(seed);
  return (prefix) => {
    let id = prefix;
    for (let i = 0; i < 10; i++) id += alphabet[Math.floor(random() * 32)];
    return id;
  };
}

const isDigit = (code: number): boolean => code >= 48 && code <= 57;

/** Where the digits of an id begin; its length where it has none. */
function lettersOf(id: Id): number {
  let at = 0;
  while (at < id.length && !isDigit(id.charCodeAt(at))) at++;
  return at;
}

/** Is the rest of an id a number, and short enough to be read exactly? */
function isNumber(id: Id, from: number): boolean {
  if (from === id.length || id.length - from > 15) return false;
  for (let i = from; i < id.length; i++) if (!isDigit(id.charCodeAt(i))) return false;
  return true;
}

/**
 * Orders ids as people do: `n2` before `n10`. By the letters in front, then numbers by their value, then all else as
 * text: a total order, the same on every machine, since it knows no locale. O(length).
 */
export function compareIds(a: Id, b: Id): number {
  const [left, right] = [lettersOf(a), lettersOf(b)];
  const common = Math.min(left, right);
  for (let i = 0; i < common; i++) {
    const gap = a.charCodeAt(i) - b.charCodeAt(i);
    if (gap !== 0) return gap;
  }
  if (left !== right) return left - right;
  const [numberA, numberB] = [isNumber(a, left), isNumber(b, right)];
  if (numberA !== numberB) return numberA ? -1 : 1;
  const gap = numberA ? Number(a.slice(left)) - Number(b.slice(right)) : 0;
  return gap !== 0 ? gap : a < b ? -1 : a > b ? 1 : 0;
}

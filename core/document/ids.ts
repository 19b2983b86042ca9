/** Identity of a graph, node, wire, frame or note: unique over the whole document, never shown as a name. */
export type Id = string;

export type Random = () => number;

/** Small fast counter-based generator (sfc32, Chris Doty-Humphrey's PractRand): the same seed gives the same row on every machine. */
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

/** Where the number at the end of an id begins, if it is its only one and not too long to be read; else -1. */
function numberAt(id: Id): number {
  let at = id.length;
  while (at > 0 && isDigit(id.charCodeAt(at - 1))) at--;
  if (at === id.length || id.length - at > 15) return -1;
  for (let i = 0; i < at; i++) if (isDigit(id.charCodeAt(i))) return -1;
  return at;
}

/** Orders ids as people do: `n2` before `n10`. Stable over machines, since it knows no locale. */
export function compareIds(a: Id, b: Id): number {
  // most ids end in a letter: no number has to be looked for
  if (isDigit(a.charCodeAt(a.length - 1)) && isDigit(b.charCodeAt(b.length - 1))) {
    const [left, right] = [numberAt(a), numberAt(b)];
    if (left >= 0 && left === right && a.slice(0, left) === b.slice(0, right)) {
      const gap = Number(a.slice(left)) - Number(b.slice(right));
      if (gap !== 0) return gap;
    }
  }
  return a < b ? -1 : a > b ? 1 : 0;
}

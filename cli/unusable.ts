/** Unusable input or a wrong call: one sentence on stderr, status 2. */
export class Unusable extends Error {}

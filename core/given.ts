/** The same data, whether it may be changed or not: what is handed over and only read. */
export type Given<T> = unknown extends T
  ? T
  : T extends Uint8Array
    ? T
    : T extends readonly (infer Item)[]
      ? readonly Given<Item>[]
      : T extends object
        ? { readonly [Key in keyof T]: Given<T[Key]> }
        : T;

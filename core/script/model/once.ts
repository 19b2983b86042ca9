/** One object for each id, so that they can be compared. */
export function once<T>(make: (id: string) => T): (id: string) => T {
  const made = new Map<string, T>();
  return (id) => {
    let one = made.get(id);
    if (one === undefined) {
      one = make(id);
      made.set(id, one);
    }
    return one;
  };
}

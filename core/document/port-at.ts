interface OnSide {
  readonly id: string;
  readonly direction: 'in' | 'out';
}

const tables = new WeakMap<readonly OnSide[], ReadonlyMap<string, OnSide>>();

/** Fewer ports than this are walked over. */
const fewPorts = 12;

/**
 * The port of a side by its id, in a list of ports or of places of ports. O(1) for long lists, once these were walked
 * over: files of others bring nodes with thousands of ports.
 */
export function portAt<T extends OnSide>(ports: readonly T[], id: string, direction: 'in' | 'out'): T | undefined {
  if (ports.length < fewPorts) return ports.find((port) => port.id === id && port.direction === direction);
  let table = tables.get(ports);
  if (!table) {
    const made = new Map<string, OnSide>();
    for (const port of ports) {
      const key = `${port.direction} ${port.id}`;
      if (!made.has(key)) made.set(key, port);
    }
    table = made;
    tables.set(ports, table);
  }
  return table.get(`${direction} ${id}`) as T | undefined;
}

import { mod } from '../keys.ts';

const keys: Record<string, string> = {
  delete: 'Delete',
  'delete-with-wires': 'Shift+Delete',
  duplicate: `${mod}D`,
  paste: `${mod}V`,
  move: 'arrows',
  undo: `${mod}Z`,
  redo: `${mod}Shift+Z`,
  save: `${mod}S`,
  palette: `${mod}K`,
};

/** The key that does the same, to be shown beside it. */
export const keyOf = (id: string): string | undefined => keys[id];

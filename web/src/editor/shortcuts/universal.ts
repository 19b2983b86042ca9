const isMac = navigator.platform.startsWith('Mac');
const mod = isMac ? '⌘' : 'Ctrl+';

/** Keys that mean the same everywhere; they cannot be bound anew, and work while shortcuts are off. */
export const universalKeys: Readonly<Record<string, string>> = {
  delete: 'Delete',
  'delete-with-wires': 'Shift+Delete',
  duplicate: `${mod}D`,
  copy: `${mod}C`,
  'paste-here': `${mod}V`,
  move: 'arrows',
  undo: `${mod}Z`,
  redo: `${mod}Shift+Z`,
  save: `${mod}S`,
  palette: `${mod}K`,
  find: `${mod}F`,
  'select-all': `${mod}A`,
  'select-none': 'Escape',
  menu: 'Shift+F10',
  enter: 'Enter',
  back: 'Alt+←',
  forward: 'Alt+→',
};

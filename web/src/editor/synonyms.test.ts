import { ranked } from '@basitax/core/search';
import { describe, expect, it, vi } from 'vitest';
import { synonyms } from './synonyms.ts';

// what of the browser the modules look at when they are loaded
vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => {}, removeItem: () => {} });
vi.stubGlobal('matchMedia', () => ({ matches: false, addEventListener: () => {} }));
vi.stubGlobal('navigator', { platform: 'Linux' });
await import('sonner');
vi.stubGlobal('document', { documentElement: { dataset: {} } });
const { commandById, commands } = await import('./commands.ts');
const { fitting } = await import('./menu/fitting.ts');

const rows = commands.map(({ id, title, about, area }) => ({
  id,
  title,
  about,
  words: [id, area.title, synonyms[id] ?? ''],
}));
const found = (typed: string): string[] => ranked(typed, rows).map((row) => row.id);

describe('words of the trade', () => {
  it('stand for commands that there are', () => {
    expect(Object.keys(synonyms).filter((id) => !commandById(id))).toEqual([]);
  });

  // what people type, and what they mean by it: common practice
  it.each([
    ['overlap', 'unstack'],
    ['straighten', 'level'],
    ['tidy', 'arrange'],
    ['group', 'frame'],
    ['comment', 'write-note'],
    ['merge', 'merge'],
    ['mute', 'bypass'],
    ['disable', 'bypass'],
    ['subgraph', 'nest'],
    ['collapse', 'fold'],
    ['ungroup', 'unnest'],
    ['dot', 'reroute'],
    ['minimap', 'overview'],
    ['diff', 'compare'],
    ['hotkeys', 'shortcuts'],
    ['undo', 'undo'],
    ['wireless', 'to-links'],
    ['disconnect', 'cut-wires'],
    ['duplicte', 'duplicate'],
    ['alignleft', 'align-left'],
    ['unused', 'leftovers'],
    ['layout', 'arrange'],
  ])('find by %j the command %j among the first five', (typed, id) => {
    expect(found(typed).slice(0, 5)).toContain(id);
  });
});

describe('menus', () => {
  it('list at most ten commands each, and such as there are', () => {
    for (const [type, groups] of Object.entries(fitting)) {
      const ids = groups.flat();
      expect([type, ids.length <= 10, ids.filter((id) => !commandById(id))]).toEqual([type, true, []]);
    }
  });
});

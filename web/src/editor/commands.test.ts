import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { beforeAll, describe, expect, it, vi } from 'vitest';
import { clashes, isUniversal } from './shortcuts/bindings.ts';
import { loadDocument, select, useEditor } from './store.ts';

// what of the browser the modules look at when they are loaded
vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => {}, removeItem: () => {} });
vi.stubGlobal('matchMedia', () => ({ matches: false, addEventListener: () => {} }));
await import('sonner');
vi.stubGlobal('document', { documentElement: { dataset: {} } });
const { commandById, commands, runCommand, usualKeys } = await import('./commands.ts');

const file = demoFiles.find((one) => one.slug === 'reef-night')!.build();
const host = [...file.nodes.values()].find((node) => node.inner !== undefined && node.graph === file.head.root)!;
const state = () => useEditor.getState();
const why = (id: string): string | undefined => commandById(id)!.dim(state());

beforeAll(() =>
  loadDocument({ fileId: 'reef-night', title: 'Reef night', readOnly: undefined, revision: 1, catalogue, doc: file }),
);

// toasts go with a frame
vi.stubGlobal('requestAnimationFrame', (then: () => void) => setTimeout(then, 0));

describe('the usual keys', () => {
  it('do not clash, leave universal keys alone, and begin with the key of their area', () => {
    expect(clashes(usualKeys)).toEqual([]);
    expect(commands.length).toBe(usualKeys.size);
    for (const command of commands) {
      for (const sequence of command.keys) {
        for (const one of sequence.split(' ')) expect(isUniversal(one), sequence).toBe(false);
        if (sequence.includes(' ')) expect(sequence.split(' ')[0], command.id).toBe(command.area.key);
      }
    }
  });

  it('give ten acts and the repetition one key, and every act a sequence', () => {
    expect(commands.filter((command) => command.keys.some((sequence) => !sequence.includes(' ')))).toHaveLength(11);
    expect(
      commands
        .filter((command) => !command.keys.some((sequence) => sequence.includes(' ')))
        .map((command) => command.id),
    ).toEqual(['repeat']);
  });
});

describe('commands', () => {
  it('say why they cannot be done now', () => {
    select([]);
    expect(why('enter')).toBe('Select one nested graph first.');
    expect(why('leave')).toBe('This is the outermost graph.');
    expect(why('back')).toBe('No jumps yet.');
    expect(why('grow')).toBe('Open the neighbourhood of a node first.');
    expect(why('align-left')).toBe('Select at least 2 nodes first.');
    expect(why('find')).toBeUndefined();
  });

  it('enter and leave nested graphs, and go back and forward through the places visited', () => {
    select([host.id]);
    runCommand('enter');
    expect([state().graph, state().selection]).toEqual([host.inner, []]);
    runCommand('leave');
    expect([state().graph, state().selection]).toEqual([file.head.root, [host.id]]);
    runCommand('back');
    expect(state().graph).toBe(host.inner);
    runCommand('back');
    expect([state().graph, why('back')]).toEqual([file.head.root, 'No jumps yet.']);
    runCommand('forward');
    expect(state().graph).toBe(host.inner);
    runCommand('leave');
    expect(why('forward')).toBe('There is no place to go forward to.');
  });

  it('close what is open of the selection, and open it again', async () => {
    const two = [...file.nodes.values()]
      .filter((node) => node.graph === file.head.root && node.inner === undefined)
      .slice(0, 2);
    select(two.map((node) => node.id));
    const closed = () => two.map((node) => state().doc.nodes.get(node.id)!.closed === true);
    runCommand('turn-open');
    await vi.waitFor(() => expect(closed()).toEqual([true, true]));
    runCommand('turn-open');
    await vi.waitFor(() => expect(closed()).toEqual([false, false]));
    runCommand('undo');
    expect(closed()).toEqual([true, true]);
    runCommand('undo');
    expect(closed()).toEqual([false, false]);
  });
});

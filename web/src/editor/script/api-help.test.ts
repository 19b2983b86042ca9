import { scriptApi } from '@basitax/core/script/generated/api';
import { describe, expect, it } from 'vitest';
import { helpAt, membersOf, offerAt } from './api-help.ts';

/** The names that are offered at the bar in a script. */
function offered(script: string): readonly string[] | string | undefined {
  const offer = offerAt(script.slice(0, script.indexOf('|')));
  return offer?.what.kind === 'members' ? offer.what.members.map((member) => member.name) : offer?.what.kind;
}

describe('help from the types of the API', () => {
  it.each([
    ['no|', 'ScriptGlobals'],
    ['graph.|', 'ScriptGraph'],
    ['nodes[0].|', 'ScriptNode'],
    ['nodes.|', 'ScriptNodes'],
    ['select("kind:blur").inFlow|', 'ScriptNodes'],
    ["graph.node('Moon')?.inputs[0].wi|", 'ScriptPort'],
    ['for (const one of graph.wires) {\n  one.from.|', 'ScriptPort'],
    ['nodes.filter((node) => node.|', 'ScriptNode'],
    ['nodes.filter((node) => node.bypassed).forEach((other) => { other.fra|', 'ScriptNode'],
    ['const moon = graph.node("Moon");\nif (moon) moon.frame.|', 'ScriptFrame'],
    ['const all: ScriptWire[] = [];\nall[0].|', 'ScriptWire'],
    ['const [a] = nodes;\nconst report = run("level", nodes);\nreport.|', 'ScriptReport'],
  ])('%s', (script, type) => {
    expect(offered(script)).toEqual(membersOf(type).map((member) => member.name));
  });

  it.each([
    ["nodes[0].set('ra|", 'parameters'],
    ['for (const node of nodes) if (node.has("|', 'parameters'],
    ["nodes.run('ali|", 'operations'],
    ["run('|", 'operations'],
    ["graph.add('pic.|", 'kinds'],
  ])('%s', (script, what) => {
    expect(offered(script)).toBe(what);
  });

  it.each([
    'const a = 1;\na.|',
    "log('graph.|",
    '// graph.|',
    'nodes.map((node) => node.name).|',
    'graph.nothing.|',
    'nodes.slice().sort((a, b) => a.x - b.|',
  ])('offers nothing it does not know: %s', (script) => {
    expect(offered(script)).toBeUndefined();
  });

  it('says what the word under the pointer is', () => {
    const text = 'for (const node of nodes) node.label = node.name;';
    expect(helpAt(text, text.indexOf('label') + 2)?.member.doc).toContain('What stands on it');
    expect(helpAt(text, text.indexOf('nodes') + 1)?.member.name).toBe('nodes');
    expect(helpAt(text, 1)).toBeUndefined();
  });

  it('has a sentence for every member of the API', () => {
    for (const type of scriptApi)
      for (const member of type.members)
        expect(`${type.name}.${member.name} ${member.doc || member.signature}`).toMatch(/ .+/);
    // what says all by its name alone needs none
    const bare = scriptApi.flatMap((type) =>
      type.name === 'ScriptRect' || type.name === 'ScriptOption'
        ? []
        : type.members.filter((member) => member.doc === '').map((member) => member.name),
    );
    expect([...new Set(bare)].sort()).toEqual(
      [
        'bypassed',
        'color',
        'frames',
        'from',
        'graph',
        'height',
        'id',
        'kind',
        'name',
        'node',
        'notes',
        'outputs',
        'inputs',
        'pinned',
        'summary',
        'title',
        'to',
        'type',
        'width',
        'wires',
      ].sort(),
    );
  });
});

import { describe, expect, it } from 'vitest';
import { isUndirected } from '../document/attributes.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { must } from '../must.ts';
import { docFromSeed, testKinds as kinds } from '../tests/arbitrary.ts';
import { flowchart, useDocument } from '../tests/mermaid.ts';
import { allGraphvizExamples } from '../tests/outside.ts';
import { formatById, readFile } from './formats.ts';
import { mermaidId } from './mermaid-write.ts';

// Mermaid that we write and read, judged by Mermaid's own parser (npm: mermaid).

useDocument();
const write = (doc: Doc): string => formatById('mermaid').write(doc, kinds);
const read = (text: string): Doc => readFile('a.mmd', text, kinds).doc;
const ours = Array.from({ length: 30 }, (_, i) => docFromSeed(i + 70, 12)).filter((doc) => doc.nodes.size > 0);
const theirs = allGraphvizExamples()
  .map(({ name, text }) => readFile(name, text, kinds).doc)
  .filter((doc) => doc.nodes.size > 0 && doc.nodes.size < 200);

describe('what we write', () => {
  it.each([
    ['our own', ours],
    ['graphs of others (graphviz-doc)', theirs],
  ] as const)('has the nodes, wires and frames that people see: %s', async (_title, docs) => {
    for (const doc of docs) {
      const { nodes, edges, subgraphs } = await flowchart(write(doc));
      const index = indexOf(doc);
      const outermost = index.nodesIn(doc.head.root);
      expect([...nodes.keys()].sort()).toEqual(outermost.map(mermaidId).sort());
      // HTML of others is markup to it as well; blanks at the ends are not kept
      for (const node of outermost)
        if (!/^\s*</.test(node.label ?? ''))
          expect(nodes.get(mermaidId(node))?.trim(), node.name).toBe((node.label || node.name).trim());
      const id = (of: string): string => mermaidId(must(doc.nodes.get(of)));
      expect(edges.map((one) => `${one.start} ${one.end} ${one.isDirected}`).sort()).toEqual(
        index
          .wiresIn(doc.head.root)
          .map((wire) => `${id(wire.from.node)} ${id(wire.to.node)} ${!isUndirected(doc, wire)}`)
          .sort(),
      );
      expect(subgraphs.length).toBe(index.framesIn(doc.head.root).length);
    }
  });
});

describe('what others write', () => {
  // after the syntax page of flowcharts (mermaid.js.org), from memory
  it.each([
    'flowchart LR\n  A[Hard edge] -->|Link text| B(Round edge)\n  B --> C{Decision}\n  C -->|One| D[Result one]\n  C -->|Two| E[Result two]',
    'graph TD; A-->B; A-->C; B-->D; C-->D;',
    'flowchart TB\n  A & B --> C & D',
    'flowchart LR\n  a -- text --> b -- text2 --> c',
    'flowchart LR\n  A --- B\n  B -.-> C\n  C ==> D\n  D -. dotted .-> E\n  E == thick ==> F',
    'flowchart TB\n  c1-->a2\n  subgraph one\n  a1-->a2\n  end\n  subgraph two\n  b1-->b2\n  end\n  subgraph three [The third]\n  c1-->c2\n  end',
    'flowchart LR\n  A["A double quote:#quot;"] --> B["A dec char:#9829;"]',
    'flowchart LR\n  id1([Stadium]) --> id2[[Sub]] --> id3[(Data)] --> id4((Circle)) --> id5>Flag] --> id6{{Hexagon}} --> id7[/Lean/] --> id8(((Double)))',
    'flowchart LR\n  %% a comment\n  A:::warm --> B\n  classDef warm fill:#f96\n  style B fill:#bbf,stroke:#333\n  linkStyle 0 stroke:#ff3\n  click A "https://example.org"',
    'flowchart BT\n  A o--o B\n  B <--> C\n  C x--x D',
    'flowchart LR\n  A ---> B\n  A -----> C\n  A ~~~ B',
  ])('has the nodes and edges that its own parser finds: %s', async (text) => {
    const reference = await flowchart(text);
    const doc = read(text);
    const label = new Map([...doc.nodes.values()].map((node) => [node.id, node.label || node.name]));
    expect([...label.values()].sort()).toEqual([...reference.nodes].map(([id, one]) => one || id).sort());
    const name = (id: string): string => reference.nodes.get(id) || id;
    // what nobody sees only keeps nodes apart
    const shown = reference.edges.filter((one) => one.isSeen);
    expect(
      [...doc.wires.values()].map((wire) => `${label.get(wire.from.node)} → ${label.get(wire.to.node)}`).sort(),
    ).toEqual(shown.map((one) => `${name(one.start)} → ${name(one.end)}`).sort());
    expect([...doc.frames.values()].map((frame) => frame.title).sort()).toEqual(
      reference.subgraphs.map((one) => one.title).sort(),
    );
    expect(doc.graphs.get(doc.head.root)?.flow ?? 'right').toBe(
      { LR: 'right', RL: 'left', TB: 'down', TD: 'down', BT: 'up' }[reference.direction],
    );
  });
});

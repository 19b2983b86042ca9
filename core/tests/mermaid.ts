import { decodeHTML } from 'entities';
import { JSDOM } from 'jsdom';
import { afterAll, beforeAll } from 'vitest';

/** A flowchart as Mermaid's own parser (npm: mermaid) has read it. */
export interface Flowchart {
  readonly direction: string;
  readonly nodes: ReadonlyMap<string, string>;
  readonly edges: readonly {
    readonly start: string;
    readonly end: string;
    readonly text: string;
    readonly isDirected: boolean;
    readonly isSeen: boolean;
  }[];
  readonly subgraphs: readonly { readonly title: string; readonly members: readonly string[] }[];
}

interface FlowDb {
  getDirection(): string;
  getVertices(): ReadonlyMap<string, { readonly id: string; readonly text?: string }>;
  getEdges(): readonly {
    readonly start: string;
    readonly end: string;
    readonly text: string;
    readonly type: string;
    readonly stroke: string;
  }[];
  getSubGraphs(): readonly { readonly title: string; readonly nodes: readonly string[] }[];
}

/**
 * It stands on what a browser has, even where it only reads: for the tests of the file that calls this, and not for
 * others, which share its process.
 */
export function useDocument(): void {
  const { window } = new JSDOM('');
  const { document, DOMParser, Element, HTMLElement } = window;
  const given = { window, document, DOMParser, Element, HTMLElement };
  beforeAll(() => void Object.assign(globalThis, given));
  afterAll(() => {
    for (const name of Object.keys(given)) Reflect.deleteProperty(globalThis, name);
  });
}

/** It keeps entities in characters of its own until it draws, and breaks lines where the text says so. */
const seen = (text = ''): string =>
  decodeHTML(text.replace(/ﬂ°°/g, '&#').replace(/ﬂ°/g, '&').replace(/¶ß/g, ';')).replace(/<br ?\/?>/g, '\n');

/** What Mermaid's own parser finds in a text. Throws where it refuses it. */
export async function flowchart(text: string): Promise<Flowchart> {
  const { default: mermaid } = await import('mermaid');
  await mermaid.parse(text);
  const diagram = await mermaid.mermaidAPI.getDiagramFromText(text);
  const db = diagram.db as unknown as FlowDb;
  return {
    direction: db.getDirection(),
    nodes: new Map([...db.getVertices().values()].map((one) => [one.id, seen(one.text)])),
    edges: db.getEdges().map((one) => ({
      start: one.start,
      end: one.end,
      text: seen(one.text),
      isDirected: one.type !== 'arrow_open',
      isSeen: one.stroke !== 'invisible',
    })),
    subgraphs: db.getSubGraphs().map((one) => ({ title: seen(one.title), members: one.nodes })),
  };
}

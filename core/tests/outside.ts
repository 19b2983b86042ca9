import { readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { decodeFile } from '../formats/decode.ts';

/** The directed example graphs of Debian’s graphviz-doc, which nobody here drew, as DOT. */
export function graphvizExamples(): { name: string; text: string }[] {
  const folder = '/usr/share/doc/graphviz/examples/graphs/directed';
  return readdirSync(folder)
    .filter((file) => file.endsWith('.gv'))
    .map((name) => ({ name, text: decodeFile(readFileSync(join(folder, name)), name).text }));
}

/** All example graphs of Debian’s graphviz-doc, directed and not, some of them packed. */
export function allGraphvizExamples(): { name: string; text: string; bytes: Uint8Array }[] {
  const base = '/usr/share/doc/graphviz/examples/graphs';
  return ['directed', 'undirected'].flatMap((kind) =>
    readdirSync(join(base, kind)).map((file) => {
      const bytes = readFileSync(join(base, kind, file));
      return { name: `${kind}/${file.replace(/\.gz$/, '')}`, text: decodeFile(bytes, file).text, bytes };
    }),
  );
}

/** Folders of Debian's packages with graphs that nobody here drew: by people, by doxygen, and of research. */
const foreignFolders = [
  '/usr/share/doc/graphviz/examples/graphs',
  '/usr/share/doc/libevhtp-dev/html',
  '/usr/share/doc/waylandpp/html',
  '/usr/share/doc/dot2tex/examples',
  '/usr/share/doc/ruby-graphviz/examples',
  '/usr/share/doc/libigraph-dev/examples/simple',
];

/**
 * Graphs in DOT, GraphML and GML out of Debian's graphviz-doc, libevhtp-doc, waylandpp-doc, dot2tex, ruby-graphviz and
 * libigraph-doc, as they stand there.
 */
export const foreignFiles = (): { name: string; bytes: Uint8Array }[] =>
  foreignFolders.flatMap((folder) =>
    readdirSync(folder, { recursive: true, encoding: 'utf8' })
      .filter((name) => /\.(?:gv|dot|graphml|gml)(?:\.gz)?$/.test(name))
      .sort()
      .map((name) => ({ name: join(folder, name), bytes: readFileSync(join(folder, name)) })),
  );

/** The folder of the library of MaterialX as compiled for browsers; there is no other way into it than by its files. */
export function materialxFolder(): string {
  const require = createRequire(import.meta.url);
  return join(dirname(require.resolve('@needle-tools/materialx/package.json')), 'bin');
}

/** The documents of the open MaterialX standard’s own library (Apache-2.0), as they stand. */
export function materialxDocuments(): { name: string; text: string }[] {
  const script = readFileSync(join(materialxFolder(), 'JsMaterialXGenShader.js'), 'utf8');
  const data = readFileSync(join(materialxFolder(), 'JsMaterialXGenShader.data.txt'));
  return [...script.matchAll(/\{filename:"([^"]+)",start:([\de.]+),end:([\de.]+)/g)]
    .filter(([, name]) => name!.endsWith('.mtlx'))
    .map(([, name, start, end]) => ({ name: name!, text: data.subarray(Number(start), Number(end)).toString() }));
}

/** What we ask of the reference library of MaterialX. */
export interface MaterialxLibrary {
  /** What it finds wrong with a document; empty where that is nothing. */
  check(text: string): Promise<string>;
  count(text: string): Promise<{ nodes: number; backdrops: number }>;
}

interface Reference {
  createDocument(): { validate(out: { message?: string }): boolean; getNodes(): unknown[]; getBackdrops(): unknown[] };
  readFromXmlString(doc: object, text: string): Promise<void>;
}

/** The reference library itself, compiled for browsers: it looks for the `require` of older modules. */
export async function openMaterialx(): Promise<MaterialxLibrary> {
  Object.assign(globalThis, { require: createRequire(import.meta.url), __dirname: materialxFolder() });
  const { default: make } = (await import(join(materialxFolder(), 'JsMaterialXCore.js'))) as {
    default: (options: object) => Promise<Reference>;
  };
  const library = await make({ wasmBinary: readFileSync(join(materialxFolder(), 'JsMaterialXCore.wasm')) });
  const open = async (text: string) => {
    const doc = library.createDocument();
    await library.readFromXmlString(doc, text);
    return doc;
  };
  return {
    async check(text) {
      const out: { message?: string } = {};
      return (await open(text)).validate(out) ? '' : (out.message ?? 'invalid');
    },
    async count(text) {
      const doc = await open(text);
      return { nodes: doc.getNodes().length, backdrops: doc.getBackdrops().length };
    },
  };
}

import { seededRandom } from '@basitax/core/document/ids';
import { Kinds } from '@basitax/core/document/kinds';
import { formats } from '@basitax/core/formats/formats';
import { must } from '@basitax/core/must';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';

/**
 * Files of every format that are broken in one of several ways, by chance that is the same for a seed: nested and flooded
 * ones first, then real ones with some places changed.
 */
export function* brokenFiles(count: number, seed = 7): Generator<{ name: string; text: string }> {
  const random = seededRandom(seed);
  const int = (below: number): number => Math.floor(random() * below);
  const kinds = new Kinds(catalogue);
  const doc = must(demoFiles[0]).build();
  const bases = formats.flatMap((format) =>
    format.read ? [{ name: `a${format.extensions[0]}`, text: format.write(doc, kinds) }] : [],
  );
  const nest = (open: string, close: string): string => open.repeat(20_000) + close.repeat(int(2) * 20_000);
  const floods = [
    { name: 'a.dot', text: `digraph{${'subgraph{'.repeat(400)}` },
    { name: 'a.dot', text: `digraph{a[${Array.from({ length: 20_000 }, (_, i) => `k${i}=v`).join(',')}]}` },
    { name: 'a.dot', text: `digraph{${'/* x */'.repeat(20_000)}}` },
    { name: 'a.csv', text: Array.from({ length: 5000 }, (_, i) => `a${i},hub`).join('\n') },
    { name: 'a.csv', text: Array.from({ length: 5000 }, (_, i) => `a${i},a${i + 1}`).join('\n') },
    { name: 'a.graphml', text: nest('<graph>', '</graph>') },
    { name: 'a.gexf', text: `<gexf ${Array.from({ length: 20_000 }, (_, i) => `k${i}="v"`).join(' ')}/>` },
    { name: 'a.mtlx', text: `<materialx>${'<!-- x -->'.repeat(50_000)}</materialx>` },
    { name: 'a.jgf', text: nest('[', ']') },
    { name: 'a.graph.json', text: nest('{"a":', '}') },
  ];
  yield* floods;
  for (let i = floods.length; i < count; i++) {
    const base = must(bases[i % bases.length]);
    let { text } = base;
    for (let k = 1 + int(4); k > 0; k--) {
      const at = int(text.length);
      const length = int(40);
      const part = text.slice(at, at + length);
      const put = [
        '',
        part.repeat(2 + int(6)),
        must('<>{}[]"\'\\&;,='[int(13)]).repeat(1 + int(30)),
        String.fromCharCode(int(0xffff)),
        '1e999',
        '__proto__',
      ][int(6)];
      text = text.slice(0, at) + (put ?? '') + text.slice(at + length);
    }
    yield { name: base.name, text };
  }
}

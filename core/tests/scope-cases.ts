import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import type { GraphNode } from '../document/schema.ts';
import { type Sketchpad, sketchDoc } from './arbitrary.ts';

// Who hears whom and what supplies what, each rule of docs/semantics.md worked by hand. The pictures of
// docs/remote-links.md are drawn from these.

export interface ScopeCase {
  readonly id: string;
  readonly title: string;
  /** One sentence that says why. */
  readonly why: string;
  readonly doc: Doc;
  /** Which beacon each tap hears. */
  readonly hears?: Readonly<Record<string, string | undefined>>;
  /** Which feed supplies an input, written `node.port`. */
  readonly supplies?: Readonly<Record<string, string | undefined>>;
  readonly findings?: readonly string[];
}

/** A document of graphs in one another: `Shot` holds `Reef`, `Reef` holds `Kelp`, and `Shot` holds `Sky`. */
function levels(): Pad {
  const pad = sketchDoc();
  pad
    .graph('root', { name: 'Shot' })
    .graph('reef', { name: 'Reef' })
    .graph('kelp', { name: 'Kelp' })
    .graph('sky', { name: 'Sky' });
  pad.node('reefHost', builtin.nested, { inner: 'reef', name: 'Reef' });
  pad.node('kelpHost', builtin.nested, { inner: 'kelp', graph: 'reef', name: 'Kelp' });
  pad.node('skyHost', builtin.nested, { inner: 'sky', name: 'Sky' });
  return new Pad(pad);
}

class Pad {
  private readonly pad: Sketchpad;

  constructor(pad: Sketchpad) {
    this.pad = pad;
  }

  get doc(): Doc {
    return this.pad.doc;
  }

  /** A beacon with a source of its own. */
  beacon(id: string, name: string, graph = 'root'): Pad {
    this.pad
      .node(`${id}Source`, 'src', { graph, name: `${id}_source` })
      .node(id, builtin.beacon, { graph, name })
      .wire(`${id}Source.out`, `${id}.in`);
    return this;
  }

  tap(id: string, beacon: NonNullable<GraphNode['beacon']>, graph = 'root'): Pad {
    this.pad.node(id, builtin.tap, { graph, beacon });
    return this;
  }

  /** A feed with a source of its own, in a graph or frame. */
  feed(id: string, types = 'num', more: Partial<GraphNode> = {}): Pad {
    const { graph = 'root', frame } = more;
    const place = { graph, ...(frame !== undefined && { frame }) };
    this.pad
      .node(`${id}Source`, 'src', { ...place, name: `${id}_source` })
      .node(id, builtin.feed, { name: id, params: { types }, ...more, graph })
      .wire(`${id}Source.out`, `${id}.in`);
    return this;
  }

  /** A node with an open input `amount` that takes numbers and may be fed. */
  takes(id: string, more: Partial<GraphNode> = {}): Pad {
    this.pad.node(id, 'tint', more);
    return this;
  }

  with(more: (pad: Sketchpad) => unknown): Pad {
    more(this.pad);
    return this;
  }
}

const heard: ScopeCase[] = [
  {
    id: 'by-id',
    title: 'A tap keeps to the beacon that it was made for',
    why: 'The id counts, though one of the same name is nearer.',
    doc: levels()
      .beacon('outer', 'Moon')
      .beacon('near', 'Moon', 'reef')
      .tap('tap', { id: 'outer', name: 'Moon' }, 'reef').doc,
    hears: { tap: 'outer' },
    findings: ['beacon-name-repeats'],
  },
  {
    id: 'own-graph',
    title: 'By name, its own graph comes first',
    why: 'Pasted from another file, the tap knows the name alone, and its own graph has it.',
    doc: levels().beacon('outer', 'Moon').beacon('own', 'Moon', 'kelp').tap('tap', { name: 'Moon' }, 'kelp').doc,
    hears: { tap: 'own' },
    findings: ['beacon-name-repeats'],
  },
  {
    id: 'nearest',
    title: 'By name, the nearest further out',
    why: 'Its own graph has no such beacon; of those around it, the nearest wins.',
    doc: levels().beacon('outer', 'Moon').beacon('middle', 'Moon', 'reef').tap('tap', { name: 'Moon' }, 'kelp').doc,
    hears: { tap: 'middle' },
    findings: ['beacon-name-repeats'],
  },
  {
    id: 'outermost',
    title: 'By name, as far out as it takes',
    why: 'Only the outermost graph has the name.',
    doc: levels().beacon('outer', 'Moon').tap('tap', { name: 'Moon' }, 'kelp').doc,
    hears: { tap: 'outer' },
  },
  {
    id: 'not-inwards',
    title: 'By name, never inwards and never aside',
    why: 'A name is not sought inside nested graphs, neither in those within nor in those beside: both taps are lost.',
    doc: levels().beacon('inner', 'Moon', 'reef').tap('above', { name: 'Moon' }).tap('aside', { name: 'Moon' }, 'sky')
      .doc,
    hears: { above: undefined, aside: undefined },
    findings: ['lost-tap', 'lost-tap'],
  },
  {
    id: 'into-by-id',
    title: 'By id, into nested graphs too',
    why: 'The tap was made for a beacon deep inside, so it hears it from anywhere in the file.',
    doc: levels()
      .beacon('inner', 'Moon', 'kelp')
      .tap('above', { id: 'inner', name: 'Moon' })
      .tap('aside', { id: 'inner', name: 'Moon' }, 'sky').doc,
    hears: { above: 'inner', aside: 'inner' },
  },
  {
    id: 'gone',
    title: 'Its beacon is gone',
    why: 'The id is nowhere in the file any more, so the name is sought from its own graph outwards.',
    doc: levels()
      .beacon('other', 'Moon')
      .tap('tap', { id: 'deleted', name: 'Moon' }, 'reef')
      .tap('stray', { id: 'deleted', name: 'Sun' }, 'reef').doc,
    hears: { tap: 'other', stray: undefined },
    findings: ['lost-tap'],
  },
];

const fed: ScopeCase[] = [
  {
    id: 'graph',
    title: 'A feed covers its graph and all within it',
    why: 'Open inputs of its type are supplied, in nested graphs too; those beside it in a wider graph are not.',
    doc: levels()
      .feed('feed', 'num', { graph: 'reef' })
      .takes('here', { graph: 'reef' })
      .takes('within', { graph: 'kelp' })
      .takes('outside')
      .takes('aside', { graph: 'sky' }).doc,
    supplies: {
      'here.amount': 'feed',
      'within.amount': 'feed',
      'outside.amount': undefined,
      'aside.amount': undefined,
    },
  },
  {
    id: 'nearest-feed',
    title: 'The nearest feed wins',
    why: 'Innermost frame, outer frame, graph, then the frames and graphs around.',
    doc: levels()
      .with((pad) => pad.frame('wide').frame('tight', { parent: 'wide' }))
      .feed('everywhere')
      .feed('wideFeed', 'num', { frame: 'wide' })
      .feed('tightFeed', 'num', { frame: 'tight' })
      .takes('inTight', { frame: 'tight' })
      .takes('inWide', { frame: 'wide' })
      .takes('free')
      .takes('within', { graph: 'kelp' }).doc,
    supplies: {
      'inTight.amount': 'tightFeed',
      'inWide.amount': 'wideFeed',
      'free.amount': 'everywhere',
      'within.amount': 'everywhere',
    },
  },
  {
    id: 'frame-around',
    title: 'The frame around a nested graph counts before the graph around',
    why: 'The node that holds the graph is in the frame, so the frame’s feed is nearer than that of the graph.',
    doc: levels()
      .with((pad) => pad.frame('bay').node('reefHost', builtin.nested, { inner: 'reef', name: 'Reef', frame: 'bay' }))
      .feed('everywhere')
      .feed('bayFeed', 'num', { frame: 'bay' })
      .takes('within', { graph: 'kelp' })
      .takes('aside', { graph: 'sky' }).doc,
    supplies: { 'within.amount': 'bayFeed', 'aside.amount': 'everywhere' },
  },
  {
    id: 'drawn',
    title: 'A drawn wire always wins',
    why: 'Also one that is switched off, and one of a tap that hears nothing: the input stays as it is drawn.',
    doc: levels()
      .feed('feed')
      .takes('open')
      .takes('wired')
      .takes('off')
      .takes('tapped')
      .tap('lost', { name: 'Nowhere' })
      .with((pad) =>
        pad
          .node('own', 'src')
          .wire('own.out', 'wired.amount')
          .wire('own.out', 'off.amount', { off: true })
          .wire('lost.out', 'tapped.amount'),
      ).doc,
    supplies: { 'open.amount': 'feed', 'wired.amount': undefined, 'off.amount': undefined, 'tapped.amount': undefined },
    findings: ['lost-tap'],
  },
  {
    id: 'clash',
    title: 'Two feeds at one level: neither',
    why: 'Which one was meant cannot be told, so nothing is supplied, not even from further out; a finding says so.',
    doc: levels()
      .feed('one', 'num', { graph: 'reef' })
      .feed('two', 'num', { graph: 'reef' })
      .feed('outer')
      .takes('here', { graph: 'reef' })
      .takes('free').doc,
    supplies: { 'here.amount': undefined, 'free.amount': 'outer' },
    findings: ['feeds-clash'],
  },
  {
    id: 'types',
    title: 'By type, and only inputs that may be fed',
    why: 'One feed may be for several types; another for a third type may stand beside it. Inputs that the catalogue does not let be fed stay open.',
    doc: levels()
      .feed('numbers', 'num, int')
      .feed('colours', 'col')
      .takes('tinted')
      .with((pad) => pad.node('shaded', 'shade').node('rounded', 'round')).doc,
    supplies: {
      'tinted.amount': 'numbers',
      'tinted.base': undefined,
      'shaded.steps': 'numbers',
      'shaded.base': 'colours',
      'rounded.in': undefined,
    },
  },
  {
    id: 'covers',
    title: 'A feed may be said to supply more than it stands in',
    why: 'Any frame or graph around it: so a feed that is framed with its source goes on supplying all.',
    doc: levels()
      .with((pad) => pad.frame('rig'))
      .feed('feed', 'num', { frame: 'rig', covers: 'root' })
      .takes('inRig', { frame: 'rig' })
      .takes('free')
      .takes('within', { graph: 'kelp' }).doc,
    supplies: { 'inRig.amount': 'feed', 'free.amount': 'feed', 'within.amount': 'feed' },
  },
  {
    id: 'upstream',
    title: 'Nothing upstream of its own source',
    why: 'The source would otherwise feed itself; what hangs behind it is supplied.',
    doc: levels()
      .takes('before')
      .takes('behind')
      .with((pad) =>
        pad
          .node('source', 'round')
          .node('feed', builtin.feed, { name: 'feed', params: { types: 'num' } })
          .wire('before.out', 'source.in')
          .wire('source.out', 'feed.in')
          .wire('source.out', 'behind.base'),
      ).doc,
    supplies: { 'before.amount': undefined, 'behind.amount': 'feed' },
  },
  {
    id: 'feed-loop',
    title: 'Feeds that supply each other’s sources',
    why: 'Each is upstream of the other through what they supply: that is a loop, and a finding.',
    doc: levels().with((pad) =>
      pad
        .node('a', 'shade')
        .node('b', 'shade')
        .node('numbers', builtin.feed, { name: 'numbers', params: { types: 'int' } })
        .node('colours', builtin.feed, { name: 'colours', params: { types: 'col' } })
        .wire('a.out', 'colours.in')
        .wire('b.count', 'numbers.in'),
    ).doc,
    supplies: { 'a.steps': 'numbers', 'b.base': 'colours', 'a.base': undefined, 'b.steps': undefined },
    findings: ['feed-loop'],
  },
  {
    id: 'bypassed',
    title: 'What is bypassed neither gives nor takes',
    why: 'A bypassed feed supplies nothing, and a bypassed node is supplied with nothing.',
    doc: levels()
      .feed('off', 'num', { graph: 'reef', bypassed: true })
      .feed('outer')
      .takes('here', { graph: 'reef' })
      .takes('skipped', { bypassed: true }).doc,
    supplies: { 'here.amount': 'outer', 'skipped.amount': undefined },
  },
];

export const scopeCases: { readonly heard: readonly ScopeCase[]; readonly fed: readonly ScopeCase[] } = { heard, fed };

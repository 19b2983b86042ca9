import { z } from 'zod';
import { parseColor } from '../color/contrast.ts';
import { leastContrast, palette, seenOn } from '../color/scheme.ts';
import { caption, indexOf } from '../document/doc.ts';
import { frameRects, framesAround, overlaps, type Rect, titleOf } from '../document/geometry.ts';
import type { Frame, GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';
import { type Found, fix, type Look, most, type Rule, rule } from './rule.ts';
import { say } from './sentences.ts';

export const untitledFrame: Rule = {
  id: 'untitled-frame',
  title: 'Frame without a title',
  severity: 'warning',
  group: 'reading',
  subject: 'frames',
  why: 'A frame says that things belong together; without a title it does not say why.',
  instead: 'Give it a title, or remove it.',
  *check({ doc }: Look): Iterable<Found> {
    for (const frame of doc.frames.values())
      if (frame.title.trim() === '') yield { graph: frame.graph, id: frame.id, ...say('untitled-frame') };
  },
};

const inside = (inner: Rect, outer: Rect): boolean =>
  inner.x >= outer.x &&
  inner.y >= outer.y &&
  inner.x + inner.width <= outer.x + outer.width &&
  inner.y + inner.height <= outer.y + outer.height;

export const strangerInFrame: Rule = {
  id: 'stranger-in-frame',
  title: 'Stranger in a frame',
  severity: 'warning',
  group: 'reading',
  subject: 'frames',
  why: 'A node inside a frame looks like a member, but stays behind when the frame is moved or folded.',
  instead: 'Make it a member, or move it out.',
  *check(look: Look): Iterable<Found> {
    const { doc, view, kinds } = look;
    for (const graph of doc.graphs.keys()) {
      const frames = frameRects(view, kinds, graph);
      if (frames.size === 0) continue;
      const { nodes, rects } = look.boxes(graph);
      for (const [i, node] of nodes.entries()) {
        const around = new Set(framesAround(view, node).map((frame) => frame.id));
        // of frames in frames the innermost is meant
        const host = [...frames]
          .filter(([id, rect]) => !around.has(id) && inside(must(rects[i]), rect))
          .sort((a, b) => a[1].width * a[1].height - b[1].width * b[1].height)[0];
        if (!host || !doc.nodes.has(node.id)) continue;
        yield {
          graph,
          id: node.id,
          ...say('stranger-in-frame', { node: caption(node), frame: titleOf(doc.frames.get(host[0])) }),
          ...fix('to-frame', [node.id], { frame: host[0] }),
        };
      }
    }
  },
};

export const frameOverlap: Rule = {
  id: 'frame-overlap',
  title: 'Frames on one another',
  severity: 'warning',
  group: 'reading',
  subject: 'frames',
  why: 'Where frames cross, you cannot see which of them a node belongs to.',
  instead: 'Make room between the frames, or put one into the other.',
  *check({ doc, view, kinds }: Look): Iterable<Found> {
    for (const graph of doc.graphs.keys()) {
      const rects = [...frameRects(view, kinds, graph)];
      for (const [i, [one, rect]] of rects.entries()) {
        const frame = must(view.frames.get(one));
        const others = rects.slice(i + 1).filter(([id, other]) => {
          const second = must(view.frames.get(id));
          return (
            overlaps(rect, other) &&
            !framesAround(view, frame).includes(second) &&
            !framesAround(view, second).includes(frame)
          );
        });
        if (others.length === 0) continue;
        const said = say('frame-overlap', {
          frame: titleOf(frame),
          frames: others.map(([id]) => titleOf(view.frames.get(id))),
        });
        yield { graph, id: one, ...said, ...fix('frame-spacing', []) };
      }
    }
  },
};

export const frameless = rule({
  id: 'frameless',
  title: 'Nodes without a frame',
  severity: 'info',
  group: 'reading',
  subject: 'frames',
  optional: true,
  why: 'In a graph larger than a screen, people find their way by frames with titles.',
  instead: 'Frame what belongs together; frames can be proposed for you.',
  options: z.object({
    least: most(60, 'Number of nodes above which a graph should have frames.'),
    most: most(20, 'Percent of the nodes that may be outside all frames.', 100),
  }),
  *check({ doc, kinds }: Look, { least, most: limit }): Iterable<Found> {
    for (const graph of doc.graphs.keys()) {
      const nodes = indexOf(doc)
        .nodesIn(graph)
        .filter((node) => !kinds.isFixture(node.kind));
      const loose = nodes.filter((node) => node.frame === undefined);
      const share = (100 * loose.length) / Math.max(1, nodes.length);
      if (nodes.length < least || share <= limit) continue;
      yield {
        graph,
        id: must(loose[0]).id,
        ...say('frameless', { loose: loose.length, nodes: nodes.length, share: Math.round(share), limit }),
        ...fix('propose-frames', []),
      };
    }
  },
});

export const crowdedFrame = rule({
  id: 'crowded-frame',
  title: 'Crowded frame',
  severity: 'info',
  group: 'reading',
  subject: 'frames',
  why: 'One title for very many nodes does not say what each of them is for.',
  instead: 'Add frames inside the frame, or nest parts of it.',
  options: z.object({ most: most(80, 'Number of nodes that may be direct members of a frame.') }),
  *check({ doc }: Look, { most: limit }): Iterable<Found> {
    for (const frame of doc.frames.values()) {
      const count = indexOf(doc).membersOf(frame.id).length;
      if (count > limit)
        yield {
          graph: frame.graph,
          id: frame.id,
          ...say('crowded-frame', { frame: titleOf(frame), count, limit }),
        };
    }
  },
});

export const silentFrame = rule({
  id: 'silent-frame',
  title: 'Frame without a note',
  severity: 'info',
  group: 'reading',
  subject: 'frames',
  optional: true,
  why: 'People who take a file over read the notes of its frames first.',
  instead: 'Write one or two sentences on what the frame is about.',
  options: z.object({ least: most(12, 'Number of members above which a frame should have a note.') }),
  *check({ doc }: Look, { least }): Iterable<Found> {
    for (const frame of doc.frames.values()) {
      const count = indexOf(doc).membersOf(frame.id).length;
      if (count >= least && !frame.note?.trim())
        yield {
          graph: frame.graph,
          id: frame.id,
          ...say('silent-frame', { frame: titleOf(frame), count }),
        };
    }
  },
});

const called = (item: GraphNode | Frame): string =>
  'kind' in item ? `“${caption(item)}”` : `The frame “${titleOf(item)}”`;

export const offPalette = rule({
  id: 'off-palette',
  title: 'Its own colour',
  severity: 'info',
  group: 'reading',
  subject: 'colours',
  optional: true,
  why: 'Colours mean something only if there are few of them, and the same ones in all files.',
  instead: 'Use a colour of the house, or none, so that the scheme applies.',
  options: z.object({
    colors: z
      .array(z.string().max(30))
      .max(100)
      .default(palette.map((one) => one.color))
      .describe('The colours of the house, each as #rrggbb.'),
  }),
  *check({ doc }: Look, { colors }): Iterable<Found> {
    const allowed = new Set(colors.map((color) => color.toLowerCase()));
    for (const item of [...doc.nodes.values(), ...doc.frames.values()])
      if (item.color && !allowed.has(item.color.toLowerCase())) {
        yield {
          graph: item.graph,
          id: item.id,
          ...say('off-palette', { item: called(item), color: item.color, colors: colors.length }),
          ...fix('color', [item.id]),
        };
      }
  },
});

export const paleColor = rule({
  id: 'pale-colour',
  title: 'Colour that cannot be seen',
  severity: 'info',
  group: 'reading',
  subject: 'colours',
  optional: true,
  why: 'Many people cannot see a contrast below 3:1 (WCAG 2.2, 1.4.11), so such a colour is drawn darker or lighter than you chose it.',
  instead: 'Use a colour that is visible in the light and the dark theme.',
  options: z.object({ theme: z.enum(['paper', 'night', 'both']).default('both').describe('Where it has to be seen.') }),
  *check({ doc }: Look, { theme }): Iterable<Found> {
    const themes = theme === 'both' ? (['paper', 'night'] as const) : ([theme] as const);
    for (const item of [...doc.nodes.values(), ...doc.frames.values()]) {
      if (!parseColor(item.color)) continue;
      const pale = themes.filter((one) => seenOn(must(item.color), one) < leastContrast);
      if (pale.length === 0) continue;
      yield {
        graph: item.graph,
        id: item.id,
        ...say('pale-colour', {
          item: called(item),
          color: item.color,
          what: pale.map((one) => (one === 'paper' ? 'on paper' : 'at night')).join(' and '),
        }),
        ...fix('color', [item.id]),
      };
    }
  },
});

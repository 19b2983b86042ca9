import type { Port } from '../document/schema.ts';

/** Points to the inch: DOT gives sizes in inches and places in points, which we take as pixels. */
export const inch = 72;

/** Our own attribute, and the beginning of those that hold what we wrote over. */
export const ourAttribute = 'basitax';
export const wasBefore = 'basitax_was_';

/** What a layout program writes of its own drawing, and the encoding: both say nothing once the file is written anew. */
export const drawnAttributes: Readonly<Record<'graph' | 'node' | 'wire' | 'frame', ReadonlySet<string>>> = {
  graph: new Set(['bb', 'lp', 'lwidth', 'lheight', 'xdotversion', '_draw_', '_ldraw_', 'charset']),
  node: new Set(['pos', 'rects', 'vertices', 'xlp', '_draw_', '_ldraw_']),
  wire: new Set([
    ...['pos', 'lp', 'head_lp', 'tail_lp', 'xlp', 'lwidth', 'lheight'],
    ...['_draw_', '_ldraw_', '_hdraw_', '_tdraw_', '_hldraw_', '_tldraw_'],
  ]),
  frame: new Set(['bb', 'lp', 'lwidth', 'lheight', '_draw_', '_ldraw_']),
};

/**
 * The attributes that the programs of the language know (https://graphviz.org/doc/info/attrs.html, from memory): one of
 * another format that is called so by chance would be drawn by.
 */
export const knownAttributes: ReadonlySet<string> = new Set(
  `_background area arrowhead arrowsize arrowtail bb beautify bgcolor center charset class cluster clusterrank color
  colorscheme comment compound concentrate constraint damping decorate defaultdist dim dimen dir diredgeconstraints
  distortion dpi edgehref edgetarget edgetooltip edgeurl epsilon esep fillcolor fixedsize fontcolor fontname fontnames
  fontpath fontsize forcelabels gradientangle group head_lp headclip headhref headlabel headport headtarget headtooltip
  headurl height href id image imagepath imagepos imagescale inputscale k label label_scheme labelangle labeldistance
  labelfloat labelfontcolor labelfontname labelfontsize labelhref labeljust labelloc labeltarget labeltooltip labelurl
  landscape layer layerlistsep layers layerselect layersep layout len levels levelsgap lhead lheight linelength lp ltail
  lwidth margin maxiter mclimit mindist minlen mode model newrank nodesep nojustify normalize notranslate nslimit
  nslimit1 oneblock ordering orientation outputorder overlap overlap_scaling overlap_shrink pack packmode pad page
  pagedir pencolor penwidth peripheries pin pos quadtree quantum radius rank rankdir ranksep ratio rects regular
  remincross repulsiveforce resolution root rotate rotation samehead sametail samplepoints scale searchsize sep shape
  shapefile showboxes sides size skew smoothing sortv splines start style stylesheet tail_lp tailclip tailhref taillabel
  tailport tailtarget tailtooltip tailurl target tbbalance tooltip truecolor url vertices viewport voro_margin weight
  width xdotversion xlabel xlp z`
    .split(/\s+/)
    .filter(Boolean),
);

/** Is a node as wide as it is high by its shape? */
export const isRegular = ({ shape, regular }: Readonly<Record<string, unknown>>): boolean =>
  (typeof shape === 'string' && /^(?:M?circle|doublecircle|M?square|point)$/.test(shape)) ||
  (regular !== undefined && regular !== 'false' && regular !== '0');

/** Ports in few characters: those that say no more than their id, name, type and side as rows. */
export const packedPorts = (ports: readonly Port[]): readonly (Port | readonly string[])[] =>
  ports.map((port) => {
    const { id, name, type, direction } = port;
    if (Object.keys(port).length > 4) return port;
    return name === id ? [id, type, direction] : [id, type, direction, name];
  });
/** The same as ports again, whatever stands there. */
export const unpackedPorts = (packed: unknown): unknown =>
  Array.isArray(packed)
    ? packed.map((one: unknown) => {
        if (!Array.isArray(one)) return one;
        const [id, type, direction, name = id] = one as unknown[];
        return { id, name, type, direction };
      })
    : packed;

/** JSON as one attribute: without backslashes, of which DOT has no way to write some before a quote. */
export const encodeJson = (value: unknown): string => JSON.stringify(value).replace(/%/g, '%25').replace(/\\/g, '%5C');
export const decodeJson = (text: string): unknown =>
  JSON.parse(text.replace(/%5C/g, '\\').replace(/%25/g, '%')) as unknown;

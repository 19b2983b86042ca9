import { type Catalogue, catalogueSchema, type KindSpec, type ParameterSpec, type PortSpec } from '@basitax/core/document/catalogue';
import type { Json } from '@basitax/core/document/json';

// The studio's catalogue of kinds for Lantern Reef, a planetarium dome show. All of it is invented.

type Draft = {
  id: string;
  title: string;
  code: string;
  category: string;
  ins?: string;
  outs?: string;
  params?: ParameterSpec[];
  end?: true;
  nameMatters?: true;
  pass?: Record<string, string>;
  reads?: string[];
};

/** Ports as `id:type`, `*` grows, `~` may be fed by a standing feed, `!` is a main port. */
function ports(text: string | undefined, direction: 'in' | 'out'): PortSpec[] {
  return (text ?? '')
    .split(' ')
    .filter(Boolean)
    .map((part) => {
      const [id = '', type = ''] = part.replace(/[*~!]/g, '').split(':');
      return { id, name: id.replace(/_/g, ' '), type, direction, many: part.includes('*'), main: part.includes('!'), feedable: part.includes('~') };
    });
}

const num = (id: string, value: number, unit?: string, min?: number, max?: number): ParameterSpec => ({
  id,
  title: words(id),
  type: 'number',
  default: value,
  main: false,
  cosmetic: false,
  ...(unit && { unit }),
  ...(min !== undefined && { min }),
  ...(max !== undefined && { max }),
});
const int = (id: string, value: number, min = 0, max = 100000): ParameterSpec => ({ ...num(id, value, undefined, min, max), type: 'integer' });
const choice = (id: string, ...choices: string[]): ParameterSpec => ({ ...num(id, 0), type: 'choice', choices, default: choices[0] as Json });
const flag = (id: string, value: boolean): ParameterSpec => ({ ...num(id, 0), type: 'boolean', default: value });
const path = (id: string, value = ''): ParameterSpec => ({ ...num(id, 0), type: 'path', default: value });
const text = (id: string, value = ''): ParameterSpec => ({ ...num(id, 0), type: 'text', default: value });
const color = (id: string, value: string): ParameterSpec => ({ ...num(id, 0), type: 'color', default: value });
const vector = (id: string, ...value: number[]): ParameterSpec => ({ ...num(id, 0), type: 'vector', default: value });

function words(id: string): string {
  const spaced = id.replace(/_/g, ' ');
  return spaced[0]!.toUpperCase() + spaced.slice(1);
}

const drafts: Draft[] = [
  // pictures
  {
    id: 'pic.read',
    title: 'Read pictures',
    code: 'Rd',
    category: 'input',
    outs: 'image:image! alpha:mask',
    reads: ['exr', 'png', 'jpg', 'tif'],
    params: [path('file'), int('first', 1), int('last', 240), choice('space', 'scene', 'display', 'raw')],
  },
  { id: 'pic.plate', title: 'Still plate', code: 'Pl', category: 'input', outs: 'image:image!', reads: ['png', 'jpg', 'psd'], params: [path('file'), vector('size', 4096, 4096)] },
  { id: 'pic.fill', title: 'Colour fill', code: 'Fi', category: 'input', outs: 'image:image!', params: [color('colour', '#0b2c3d')] },
  { id: 'pic.gradient', title: 'Depth gradient', code: 'Gr', category: 'input', ins: 'near:color far:color', outs: 'image:image!', params: [num('falloff', 1.5, 'm', 0, 100)] },
  {
    id: 'pic.grade',
    title: 'Grade',
    code: 'Gd',
    category: 'picture',
    ins: 'image:image! mask:mask~',
    outs: 'image:image!',
    params: [num('exposure', 0, 'stops', -10, 10), num('contrast', 1, undefined, 0, 4), num('saturation', 1, undefined, 0, 4)],
  },
  {
    id: 'pic.tint',
    title: 'Tint by depth',
    code: 'Ti',
    category: 'picture',
    ins: 'image:image! depth:field tint:color',
    outs: 'image:image!',
    params: [num('strength', 0.6, undefined, 0, 1)],
  },
  {
    id: 'pic.blur',
    title: 'Blur',
    code: 'Bl',
    category: 'picture',
    ins: 'image:image! mask:mask~',
    outs: 'image:image!',
    params: [num('radius', 4, 'px', 0, 500), choice('filter', 'gauss', 'box', 'lens')],
  },
  {
    id: 'pic.glow',
    title: 'Glow',
    code: 'Gl',
    category: 'picture',
    ins: 'image:image! mask:mask~',
    outs: 'image:image!',
    params: [num('threshold', 0.8, undefined, 0, 10), num('size', 30, 'px', 0, 1000), num('gain', 1, undefined, 0, 10)],
  },
  {
    id: 'pic.over',
    title: 'Over',
    code: 'Ov',
    category: 'merge',
    ins: 'over:image! under:image! mask:mask~',
    outs: 'image:image!',
    params: [num('mix', 1, undefined, 0, 1)],
    pass: { image: 'under' },
  },
  {
    id: 'pic.add',
    title: 'Add light',
    code: 'Ad',
    category: 'merge',
    ins: 'a:image! b:image!',
    outs: 'image:image!',
    params: [num('mix', 1, undefined, 0, 1)],
    pass: { image: 'a' },
  },
  {
    id: 'pic.stack',
    title: 'Stack of layers',
    code: 'St',
    category: 'merge',
    ins: 'layer1:image!* layer2:image',
    outs: 'image:image!',
    params: [choice('order', 'first on top', 'last on top')],
    pass: { image: 'layer1' },
  },
  {
    id: 'pic.matte',
    title: 'Matte from channel',
    code: 'Ma',
    category: 'picture',
    ins: 'image:image!',
    outs: 'mask:mask!',
    params: [choice('channel', 'alpha', 'red', 'green', 'blue')],
  },
  {
    id: 'pic.key',
    title: 'Luminance key',
    code: 'Lk',
    category: 'picture',
    ins: 'image:image!',
    outs: 'mask:mask! image:image',
    params: [num('low', 0.1, undefined, 0, 10), num('high', 0.9, undefined, 0, 10)],
  },
  { id: 'pic.crop', title: 'Crop', code: 'Cr', category: 'picture', ins: 'image:image!', outs: 'image:image!', params: [vector('box', 0, 0, 4096, 4096)] },
  {
    id: 'pic.move',
    title: 'Place',
    code: 'Pc',
    category: 'picture',
    ins: 'image:image! transform:transform',
    outs: 'image:image!',
    params: [vector('offset', 0, 0), num('turn', 0, '°', -360, 360), num('scale', 1, undefined, 0, 100)],
  },
  { id: 'pic.grain', title: 'Grain', code: 'Gn', category: 'picture', ins: 'image:image!', outs: 'image:image!', params: [num('amount', 0.03, undefined, 0, 1), int('seed', 7)] },
  {
    id: 'pic.denoise',
    title: 'Denoise',
    code: 'Dn',
    category: 'picture',
    ins: 'image:image! motion:vector',
    outs: 'image:image!',
    params: [num('amount', 0.5, undefined, 0, 1), int('window', 3, 1, 15)],
  },
  { id: 'pic.hold', title: 'Time offset', code: 'To', category: 'time', ins: 'image:image!', outs: 'image:image!', params: [int('frames', 0, -1000, 1000)] },
  { id: 'pic.switch', title: 'Switch', code: 'Sw', category: 'time', ins: 'a:image! b:image which:integer', outs: 'image:image!', pass: { image: 'a' } },
  // dome
  {
    id: 'dome.fisheye',
    title: 'Fisheye from cube',
    code: 'Fe',
    category: 'dome',
    ins: 'front:image! left:image right:image top:image bottom:image',
    outs: 'image:image!',
    params: [num('coverage', 180, '°', 90, 230), int('resolution', 4096, 512, 16384)],
  },
  { id: 'dome.tilt', title: 'Dome tilt', code: 'Dt', category: 'dome', ins: 'image:image!', outs: 'image:image!', params: [num('tilt', 18, '°', -90, 90)] },
  { id: 'dome.warp', title: 'Projector warp', code: 'Pw', category: 'dome', ins: 'image:image! map:map!', outs: 'image:image!', params: [int('projector', 1, 1, 12)] },
  {
    id: 'dome.blend',
    title: 'Edge blend',
    code: 'Eb',
    category: 'dome',
    ins: 'image:image! mask:mask',
    outs: 'image:image!',
    params: [num('width', 220, 'px', 0, 2000), num('gamma', 2.2, undefined, 1, 3)],
  },
  { id: 'dome.black', title: 'Black level lift', code: 'Bk', category: 'dome', ins: 'image:image!', outs: 'image:image!', params: [num('lift', 0.004, undefined, 0, 0.1)] },
  {
    id: 'dome.out',
    title: 'Projector output',
    code: 'Po',
    category: 'output',
    ins: 'image:image!',
    params: [int('projector', 1, 1, 12), path('file', 'out/projector')],
    end: true,
    nameMatters: true,
  },
  // geometry
  { id: 'geo.read', title: 'Read geometry', code: 'Rg', category: 'input', outs: 'points:points!', reads: ['geo', 'obj', 'abc'], params: [path('file')] },
  {
    id: 'geo.terrain',
    title: 'Seabed from survey',
    code: 'Sb',
    category: 'geometry',
    ins: 'map:map!',
    outs: 'points:points! slope:field',
    params: [num('cell', 0.5, 'm', 0.01, 100)],
  },
  {
    id: 'geo.scatter',
    title: 'Scatter',
    code: 'Sc',
    category: 'geometry',
    ins: 'surface:points! density:field~',
    outs: 'points:points!',
    params: [int('count', 500), int('seed', 1), num('spacing', 0.4, 'm', 0, 100)],
  },
  {
    id: 'geo.stem',
    title: 'Grow stem',
    code: 'Gs',
    category: 'geometry',
    ins: 'roots:points! current:vector~',
    outs: 'curves:curve!',
    params: [num('length', 18, 'm', 0.1, 60), num('stiffness', 0.3, undefined, 0, 1), int('segments', 24, 2, 400)],
  },
  {
    id: 'geo.blade',
    title: 'Grow blades',
    code: 'Gb',
    category: 'geometry',
    ins: 'stems:curve! light:field~',
    outs: 'points:points! curves:curve',
    params: [num('length', 0.9, 'm', 0.01, 5), num('frequency', 6, '/m', 0, 50), num('curl', 0.2, undefined, 0, 1)],
  },
  { id: 'geo.float', title: 'Add floats', code: 'Fl', category: 'geometry', ins: 'stems:curve!', outs: 'points:points!', params: [num('radius', 0.04, 'm', 0, 1)] },
  {
    id: 'geo.sway',
    title: 'Sway',
    code: 'Sy',
    category: 'geometry',
    ins: 'curves:curve! current:vector~ time:float~',
    outs: 'curves:curve!',
    params: [num('amplitude', 0.7, 'm', 0, 10), num('period', 9, 's', 0.1, 60)],
  },
  { id: 'geo.skin', title: 'Skin curves', code: 'Sk', category: 'geometry', ins: 'curves:curve! profile:curve', outs: 'points:points!', params: [num('width', 0.06, 'm', 0, 2)] },
  { id: 'geo.join', title: 'Join geometry', code: 'Jn', category: 'geometry', ins: 'part1:points!* part2:points', outs: 'points:points!', pass: { points: 'part1' } },
  { id: 'geo.thin', title: 'Thin out', code: 'Th', category: 'geometry', ins: 'points:points! keep:field', outs: 'points:points!', params: [num('share', 0.5, undefined, 0, 1)] },
  {
    id: 'geo.place',
    title: 'Transform',
    code: 'Tf',
    category: 'geometry',
    ins: 'points:points! transform:transform',
    outs: 'points:points!',
    params: [vector('move', 0, 0, 0), vector('turn', 0, 0, 0), num('scale', 1, undefined, 0, 1000)],
  },
  { id: 'geo.cache', title: 'Write cache', code: 'Wc', category: 'output', ins: 'points:points!', params: [path('file', 'cache/')], end: true },
  // particles and motion
  {
    id: 'par.emit',
    title: 'Emit particles',
    code: 'Em',
    category: 'motion',
    ins: 'from:points! rate:float~',
    outs: 'points:points!',
    params: [num('rate', 400, '/s', 0, 100000), num('life', 12, 's', 0, 600), int('seed', 3)],
  },
  { id: 'par.drift', title: 'Drift', code: 'Dr', category: 'motion', ins: 'points:points! current:vector~', outs: 'points:points!', params: [num('drag', 0.8, undefined, 0, 10)] },
  {
    id: 'par.shoal',
    title: 'Shoal',
    code: 'Sh',
    category: 'motion',
    ins: 'points:points! avoid:points goal:curve',
    outs: 'points:points! heading:vector',
    params: [num('cohesion', 0.6, undefined, 0, 2), num('separation', 0.25, 'm', 0, 10), num('speed', 1.1, 'm/s', 0, 20)],
  },
  { id: 'par.flee', title: 'Flee from', code: 'Fr', category: 'motion', ins: 'points:points! from:points!', outs: 'points:points!', params: [num('radius', 3, 'm', 0, 100)] },
  {
    id: 'par.pulse',
    title: 'Light pulse',
    code: 'Lp',
    category: 'motion',
    ins: 'points:points! trigger:event',
    outs: 'points:points! glow:float',
    params: [num('decay', 1.8, 's', 0, 30), color('colour', '#5cf0d8')],
  },
  {
    id: 'par.instance',
    title: 'Instances',
    code: 'In',
    category: 'motion',
    ins: 'points:points! model:points!',
    outs: 'points:points!',
    params: [num('scale', 1, undefined, 0, 100), num('variation', 0.3, undefined, 0, 1)],
  },
  // fields and values
  {
    id: 'val.noise',
    title: 'Noise field',
    code: 'No',
    category: 'value',
    ins: 'offset:float~',
    outs: 'field:field! vector:vector',
    params: [num('frequency', 0.2, '/m', 0, 100), int('octaves', 4, 1, 12), int('seed', 11)],
  },
  {
    id: 'val.current',
    title: 'Water current',
    code: 'Wa',
    category: 'value',
    ins: 'tide:float~ noise:field',
    outs: 'current:vector!',
    params: [num('speed', 0.4, 'm/s', 0, 10), num('bearing', 215, '°', 0, 360)],
  },
  {
    id: 'val.clock',
    title: 'Tide clock',
    code: 'Tc',
    category: 'time',
    outs: 'tide:float! time:float phase:float',
    params: [num('period', 12.42, 'h', 0.1, 48), num('start', 0, 'h', 0, 48)],
  },
  { id: 'val.number', title: 'Number', code: 'Nu', category: 'value', outs: 'value:float!', params: [num('value', 1)] },
  { id: 'val.integer', title: 'Whole number', code: 'Wn', category: 'value', outs: 'value:integer!', params: [int('value', 1, -100000)] },
  { id: 'val.colour', title: 'Colour', code: 'Co', category: 'value', outs: 'colour:color!', params: [color('colour', '#2fa7a0')] },
  {
    id: 'val.remap',
    title: 'Remap',
    code: 'Rm',
    category: 'value',
    ins: 'value:float!',
    outs: 'value:float!',
    params: [num('from_low', 0), num('from_high', 1), num('to_low', 0), num('to_high', 1)],
  },
  {
    id: 'val.mix',
    title: 'Mix values',
    code: 'Mx',
    category: 'value',
    ins: 'a:float! b:float! amount:float~',
    outs: 'value:float!',
    params: [num('amount', 0.5, undefined, 0, 1)],
  },
  { id: 'val.ramp', title: 'Colour ramp', code: 'Rp', category: 'value', ins: 'value:float!', outs: 'colour:color!', params: [color('low', '#061a2b'), color('high', '#57d6c2')] },
  { id: 'val.split', title: 'Split vector', code: 'Sv', category: 'convert', ins: 'vector:vector!', outs: 'x:float y:float z:float' },
  { id: 'val.length', title: 'Vector length', code: 'Vl', category: 'convert', ins: 'vector:vector!', outs: 'value:float!' },
  { id: 'val.tofloat', title: 'Whole to number', code: 'Wf', category: 'convert', ins: 'value:integer!', outs: 'value:float!' },
  { id: 'val.round', title: 'Round', code: 'Ro', category: 'convert', ins: 'value:float!', outs: 'value:integer!', params: [choice('way', 'nearest', 'down', 'up')] },
  { id: 'val.sample', title: 'Sample field', code: 'Sf', category: 'convert', ins: 'field:field! at:points', outs: 'value:float!' },
  { id: 'val.place', title: 'Placement', code: 'Pm', category: 'value', ins: 'x:float y:float', outs: 'transform:transform!', params: [vector('move', 0, 0, 0)] },
  // shading
  {
    id: 'sha.water',
    title: 'Water surface',
    code: 'Ws',
    category: 'shading',
    ins: 'waves:field~ tint:color~ clarity:float',
    outs: 'shader:shader!',
    params: [num('index', 1.333, undefined, 1, 2), num('roughness', 0.05, undefined, 0, 1)],
  },
  {
    id: 'sha.kelp',
    title: 'Kelp skin',
    code: 'Ks',
    category: 'shading',
    ins: 'base:color~ translucency:float veins:image',
    outs: 'shader:shader!',
    params: [num('thickness', 0.002, 'm', 0, 0.1)],
  },
  {
    id: 'sha.glow',
    title: 'Bioluminescence',
    code: 'Bi',
    category: 'shading',
    ins: 'amount:float! colour:color~',
    outs: 'shader:shader!',
    params: [num('intensity', 3, undefined, 0, 100)],
  },
  { id: 'sha.mix', title: 'Mix shaders', code: 'Ms', category: 'shading', ins: 'a:shader! b:shader! amount:float~', outs: 'shader:shader!', pass: { shader: 'a' } },
  { id: 'sha.assign', title: 'Assign shader', code: 'As', category: 'shading', ins: 'points:points! shader:shader!', outs: 'points:points!', params: [text('group', '*')] },
  // light, camera, render
  { id: 'cam.dome', title: 'Dome camera', code: 'Dc', category: 'scene', ins: 'transform:transform', outs: 'camera:camera!', params: [num('height', 1.6, 'm', -100, 100)] },
  {
    id: 'lit.moon',
    title: 'Moonlight',
    code: 'Mo',
    category: 'scene',
    ins: 'level:float~',
    outs: 'light:light!',
    params: [num('intensity', 0.3, undefined, 0, 100), color('colour', '#b9d4ff')],
  },
  { id: 'lit.shaft', title: 'Light shafts', code: 'Ls', category: 'scene', ins: 'light:light! noise:field', outs: 'light:light!', params: [num('density', 0.2, undefined, 0, 10)] },
  {
    id: 'lit.lantern',
    title: 'Lantern',
    code: 'La',
    category: 'scene',
    ins: 'at:transform level:float~',
    outs: 'light:light!',
    params: [num('intensity', 12, undefined, 0, 1000), color('colour', '#ffce7a')],
  },
  { id: 'lit.rig', title: 'Light rig', code: 'Lr', category: 'scene', ins: 'light1:light!* light2:light', outs: 'light:light!', pass: { light: 'light1' } },
  {
    id: 'ren.dome',
    title: 'Render',
    code: 'Re',
    category: 'scene',
    ins: 'scene:points! camera:camera!~ light:light!~',
    outs: 'image:image! depth:field motion:vector',
    params: [int('samples', 256, 1, 65536), choice('quality', 'draft', 'review', 'final')],
  },
  {
    id: 'pic.write',
    title: 'Write pictures',
    code: 'Wp',
    category: 'output',
    ins: 'image:image!',
    params: [path('file', 'out/'), choice('depth', '16 bit half', '32 bit float'), flag('overwrite', false)],
    end: true,
  },
  // cues, narration
  { id: 'cue.time', title: 'Time cue', code: 'Tm', category: 'cue', ins: 'time:float!~', outs: 'event:event!', params: [num('at', 0, 's', 0, 7200)] },
  { id: 'cue.level', title: 'Level crossed', code: 'Lc', category: 'cue', ins: 'value:float! level:float', outs: 'event:event! above:integer', params: [num('level', 0.5)] },
  { id: 'cue.delay', title: 'Delay', code: 'De', category: 'cue', ins: 'event:event!', outs: 'event:event!', params: [num('delay', 1, 's', 0, 600)] },
  { id: 'cue.either', title: 'Either', code: 'Ei', category: 'cue', ins: 'event1:event!* event2:event', outs: 'event:event!', pass: { event: 'event1' } },
  {
    id: 'cue.fade',
    title: 'Fade',
    code: 'Fa',
    category: 'cue',
    ins: 'start:event! curve:curve',
    outs: 'level:float!',
    params: [num('length', 4, 's', 0, 600), choice('shape', 'smooth', 'linear', 'late')],
  },
  { id: 'cue.light', title: 'House light cue', code: 'Hl', category: 'output', ins: 'level:float!', params: [int('channel', 1, 1, 512)], end: true, nameMatters: true },
  {
    id: 'aud.voice',
    title: 'Narration line',
    code: 'Nl',
    category: 'cue',
    ins: 'start:event!',
    outs: 'audio:audio! done:event',
    reads: ['wav', 'flac'],
    params: [path('file'), text('line')],
  },
  {
    id: 'aud.mix',
    title: 'Mix sound',
    code: 'Xs',
    category: 'cue',
    ins: 'track1:audio!* track2:audio',
    outs: 'audio:audio!',
    params: [num('gain', 0, 'dB', -96, 24)],
    pass: { audio: 'track1' },
  },
  { id: 'aud.out', title: 'Dome sound', code: 'Ds', category: 'output', ins: 'audio:audio!', params: [int('channels', 24, 1, 128)], end: true },
  // survey maps
  {
    id: 'map.read',
    title: 'Read soundings',
    code: 'Rs',
    category: 'input',
    outs: 'map:map!',
    reads: ['map', 'xyz'],
    params: [path('file'), choice('datum', 'mean sea level', 'lowest tide')],
  },
  { id: 'map.fill', title: 'Fill gaps', code: 'Fg', category: 'map', ins: 'map:map!', outs: 'map:map!', params: [num('reach', 12, 'm', 0, 1000)] },
  { id: 'map.smooth', title: 'Smooth map', code: 'Sm', category: 'map', ins: 'map:map! mask:mask', outs: 'map:map!', params: [num('radius', 3, 'm', 0, 500)] },
  {
    id: 'map.merge',
    title: 'Merge maps',
    code: 'Mm',
    category: 'map',
    ins: 'base:map! detail:map!',
    outs: 'map:map!',
    params: [num('feather', 8, 'm', 0, 500)],
    pass: { map: 'base' },
  },
  { id: 'map.contour', title: 'Contours', code: 'Cn', category: 'map', ins: 'map:map!', outs: 'curves:curve!', params: [num('interval', 1, 'm', 0.01, 100)] },
  { id: 'map.field', title: 'Map to field', code: 'Mf', category: 'convert', ins: 'map:map!', outs: 'field:field!' },
];

function kindOf(draft: Draft): KindSpec {
  const params = (draft.params ?? []).map((parameter, i) => ({ ...parameter, main: i < 3 }));
  const note: ParameterSpec = { id: 'comment', title: 'Comment', type: 'text', default: '', main: false, cosmetic: true };
  return {
    id: draft.id,
    title: draft.title,
    code: draft.code,
    category: draft.category,
    ports: [...ports(draft.ins, 'in'), ...ports(draft.outs, 'out')],
    parameters: [...params, note],
    pass: draft.pass ?? {},
    end: draft.end ?? false,
    reads: draft.reads ?? [],
    nameMatters: draft.nameMatters ?? false,
  };
}

/** The demo team's catalogue: over 80 kinds, 17 types. */
export const catalogue: Catalogue = catalogueSchema.parse({
  id: 'lantern-reef',
  version: 1,
  title: 'Lantern Reef kinds',
  loops: 'forbidden',
  types: [
    { id: 'image', title: 'picture', sign: 'square', hue: 1 },
    { id: 'mask', title: 'mask', sign: 'ring', hue: 0, assignableTo: ['field'] },
    { id: 'map', title: 'map', sign: 'circle', hue: 4, conversions: [{ to: 'field', kind: 'map.field' }] },
    {
      id: 'color',
      title: 'colour',
      sign: 'diamond',
      hue: 6,
      components: [
        { name: 'r', type: 'float' },
        { name: 'g', type: 'float' },
        { name: 'b', type: 'float' },
      ],
    },
    {
      id: 'float',
      title: 'number',
      sign: 'circle',
      hue: 3,
      conversions: [
        { to: 'integer', kind: 'val.round' },
        { to: 'color', kind: 'val.ramp' },
      ],
    },
    { id: 'integer', title: 'whole number', sign: 'ring', hue: 3, conversions: [{ to: 'float', kind: 'val.tofloat' }] },
    {
      id: 'vector',
      title: 'vector',
      sign: 'triangle',
      hue: 3,
      components: [
        { name: 'x', type: 'float' },
        { name: 'y', type: 'float' },
        { name: 'z', type: 'float' },
      ],
      conversions: [
        { to: 'float', kind: 'val.length' },
        { to: 'float', kind: 'val.split' },
      ],
    },
    { id: 'field', title: 'field', sign: 'hexagon', hue: 3, conversions: [{ to: 'float', kind: 'val.sample' }] },
    { id: 'points', title: 'geometry', sign: 'square', hue: 2 },
    { id: 'curve', title: 'curves', sign: 'diamond', hue: 2 },
    { id: 'transform', title: 'placement', sign: 'triangle', hue: 0 },
    { id: 'shader', title: 'shader', sign: 'diamond', hue: 5 },
    { id: 'light', title: 'light', sign: 'cross', hue: 7 },
    { id: 'camera', title: 'camera', sign: 'bar', hue: 7 },
    { id: 'event', title: 'event', sign: 'bar', hue: 6 },
    { id: 'audio', title: 'sound', sign: 'square', hue: 5 },
    { id: 'text', title: 'text', sign: 'hexagon', hue: 0 },
  ],
  categories: [
    { id: 'input', title: 'Inputs', hue: 4 },
    { id: 'picture', title: 'Pictures', hue: 1 },
    { id: 'merge', title: 'Merges', hue: 5 },
    { id: 'time', title: 'Time', hue: 7 },
    { id: 'dome', title: 'Dome', hue: 6 },
    { id: 'geometry', title: 'Geometry', hue: 2 },
    { id: 'motion', title: 'Motion', hue: 2 },
    { id: 'value', title: 'Values', hue: 3 },
    { id: 'convert', title: 'Conversions', hue: 3 },
    { id: 'shading', title: 'Shading', hue: 5 },
    { id: 'scene', title: 'Scene', hue: 7 },
    { id: 'cue', title: 'Cues', hue: 6 },
    { id: 'map', title: 'Maps', hue: 4 },
    { id: 'output', title: 'Outputs', hue: 0 },
  ],
  kinds: drafts.map(kindOf),
});

import type { Doc } from '@basitax/core/document/doc';
import type { Id } from '@basitax/core/document/ids';
import { Builder } from './builder.ts';
import {
  domeMaster,
  glowLibrary,
  lanternRig,
  lineUp,
  narration,
  seabed,
  surveyMap,
  titleCards,
  waterShading,
} from './linked-files.ts';
import { renderOf } from './pictures.ts';

// The files of Lantern Reef, each from a seed: in the mess that real deadlines leave.

export interface DemoFile {
  readonly slug: string;
  readonly title: string;
  readonly about: string;
  /** Findings on remote links that deadlines have left in it, by rule. */
  readonly left?: readonly string[];
  build(): Doc;
}

/** A column and row grid with the sloppiness of hand placement. */
function spot(b: Builder, x0: number, y0: number, column: number, row: number, mess = 1): [number, number] {
  return [x0 + column * 225 + b.between(-38, 38) * mess, y0 + row * 135 + b.between(-34, 34) * mess];
}

function domeBlend(): Doc {
  const b = new Builder('demo-dome-blend', 'Dome blend', 101);
  const frame = b.frame('root', 'Projectors 1 to 4', 0, 0);
  const read = b.node('root', 'pic.read', 'DomeMaster', 0, 260, {
    label: 'Dome master 4K',
    params: { file: 'renders/reef_night/master.exr' },
  });
  const tilt = b.node('root', 'dome.tilt', 'ReefTilt', 250, 290);
  const grade = b.node('root', 'pic.grade', 'HouseGrade', 470, 210, { params: { exposure: 0.3 } });
  b.wire(read, 'image', tilt, 'image');
  b.wire(tilt, 'image', grade, 'image');
  for (let i = 1; i <= 4; i++) {
    const y = [430, -40, 620, 150][i - 1]!;
    const map = b.node('root', 'map.read', `WarpMap_${i}`, 690 + b.between(-40, 60), y + 130, {
      frame,
      params: { file: `survey/dome/projector_${i}.map` },
    });
    const warp = b.node('root', 'dome.warp', `Warp_${i}`, 930 + b.between(-60, 60), y, {
      frame,
      params: { projector: i },
    });
    const blend = b.node('root', 'dome.blend', `Blend_${i}`, 1180 + b.between(-60, 60), y + b.between(-60, 60), {
      frame,
    });
    const out = b.node('root', 'dome.out', `Projector_${i}`, 1430 + b.between(-40, 40), [20, 560, 190, 400][i - 1]!, {
      params: { projector: i },
    });
    b.wire(grade, 'image', warp, 'image');
    b.wire(map, 'map', warp, 'map');
    b.wire(warp, 'image', blend, 'image');
    b.wire(blend, 'image', out, 'image');
  }
  const mask = b.node('root', 'pic.matte', 'BlendMask', 700, 860, { label: 'Overlap mask' });
  b.wire(read, 'image', mask, 'image');
  b.node('root', 'dome.black', 'black2', 1180, 860);
  b.note('root', 'Projector 3 was moved 4 cm after the rehearsal. Its map is still the old one.', 690, 1000);
  return b.doc;
}

function tideCues(): Doc {
  const b = new Builder('demo-tide-cues', 'Tide lighting cues', 202);
  const clock = b.node('root', 'val.clock', 'TideClock', -120, 420, { label: 'Tide clock, spring tide' });
  const scenes = ['Dusk', 'MoonRise', 'SlackWater', 'FirstGlow', 'HighTide', 'LanternCall', 'Ebb', 'Dawn'];
  const lamps = ['Rim', 'Zenith', 'Aisle', 'Horizon'];
  const voices: Id[] = [];
  scenes.forEach((scene, s) => {
    const [x0, y0] = [120 + (s % 2) * 90, ((s * 5) % 8) * 320 - 600];
    const frame = s % 3 === 2 ? undefined : b.frame('root', s === 4 ? 'new frame' : `${scene} cues`, x0, y0);
    const time = b.node('root', 'cue.time', `${scene}_Start`, ...spot(b, x0, y0, 0, 0.5), {
      frame,
      params: { at: 90 + s * 210 },
    });
    const level = b.node('root', 'cue.level', `${scene}_TideLevel`, ...spot(b, x0, y0, 0, 1.6), {
      frame,
      params: { level: 0.2 + s * 0.1 },
    });
    const either = b.node('root', 'cue.either', `${scene}_Go`, ...spot(b, x0, y0, 1, 1), { frame });
    b.wire(clock, 'time', time, 'time');
    b.wire(clock, 'tide', level, 'value');
    b.wire(time, 'event', either, 'event1');
    b.wire(level, 'event', either, 'event2');
    lamps.forEach((lamp, l) => {
      const delay = b.node('root', 'cue.delay', `${scene}_${lamp}_Delay`, ...spot(b, x0, y0, 2, l * 0.9), {
        frame,
        params: { delay: l * 0.8 },
      });
      const fade = b.node('root', 'cue.fade', `${scene}_${lamp}`, ...spot(b, x0, y0, 3, l * 0.9), {
        frame,
        params: { length: 2 + l },
      });
      const out = b.node('root', 'cue.light', `${lamp}_${scene}_Channel`, ...spot(b, x0, y0, 4.4, (l * 3) % 4), {
        params: { channel: s * 10 + l + 1 },
        bypassed: s === 6 && l === 2,
      });
      b.wire(either, 'event', delay, 'event');
      b.wire(delay, 'event', fade, 'start');
      b.wire(fade, 'level', out, 'level');
    });
    const voice = b.node('root', 'aud.voice', `Narration_${scene}`, ...spot(b, x0, y0, 3, 4), {
      params: { file: `sound/narration/${String(s + 1).padStart(2, '0')}_${scene.toLowerCase()}.wav` },
    });
    b.wire(either, 'event', voice, 'start');
    voices.push(voice);
  });
  const mix = b.node('root', 'aud.mix', 'NarrationMix', 1560, 700, { label: 'All narration' });
  for (const voice of voices) b.feed(voice, 'audio', mix);
  const out = b.node('root', 'aud.out', 'DomeSound', 1830, 760);
  b.wire(mix, 'audio', out, 'audio');
  b.node('root', 'cue.delay', 'Delay', 300, 2100);
  b.node('root', 'cue.delay', 'Delay', 340, 2140);
  return b.doc;
}

function shoal(): Doc {
  const b = new Builder('demo-plankton-shoal', 'Plankton and shoal motion', 303);
  const clock = b.node('root', 'val.clock', 'TideClock', -500, 0);
  const noise = b.node('root', 'val.noise', 'CurrentNoise', -500, 260, { params: { frequency: 0.08 } });
  const current = b.node('root', 'val.current', 'BayCurrent', -240, 130, { label: 'Current through the bay' });
  b.wire(clock, 'tide', current, 'tide');
  b.wire(noise, 'field', current, 'noise');
  const species = [
    'Copepod',
    'Krill',
    'MoonJelly',
    'CombJelly',
    'Sardine',
    'Anchovy',
    'Rockfish',
    'Squid',
    'Arrowworm',
    'Larva',
  ];
  const zones = ['Canopy', 'MidWater', 'Seabed'];
  const caches: Id[] = [];
  species.forEach((name, s) => {
    zones.forEach((zone, z) => {
      const [x0, y0] = [
        ((s * 7 + z * 3) % 5) * 1500 + b.between(-120, 120),
        Math.floor((s * 3 + z) / 5) * 620 + b.between(-60, 60),
      ];
      const frame = b.chance(0.75)
        ? b.frame(
            'root',
            b.chance(0.85) ? `${name}, ${zone === 'MidWater' ? 'mid water' : zone.toLowerCase()}` : 'new frame',
            x0,
            y0,
          )
        : undefined;
      const at = (column: number, row: number) => spot(b, x0, y0, column, row, 1.2);
      const tag = `${name}_${zone}`;
      const model = b.node('root', 'geo.read', `${tag}_Model`, ...at(0, 2), {
        frame,
        params: { file: `assets/creatures/${name.toLowerCase()}.geo` },
      });
      const area = b.node('root', 'geo.read', `${tag}_Volume`, ...at(0, 0), { frame });
      const emit = b.node('root', 'par.emit', `${tag}_Emit`, ...at(1, 0), {
        frame,
        params: { rate: Math.round(b.between(50, 900)), seed: s * 10 + z },
      });
      const drift = b.node('root', 'par.drift', `${tag}_Drift`, ...at(2, 0.4), { frame });
      b.wire(area, 'points', emit, 'from');
      b.wire(emit, 'points', drift, 'points');
      b.wire(current, 'current', drift, 'current');
      let last = drift;
      if (s >= 4 && s <= 7) {
        const flock = b.node('root', 'par.shoal', `${tag}_Shoal`, ...at(3, 0.2), {
          frame,
          params: { speed: Math.round(b.between(4, 22)) / 10 },
        });
        const flee = b.node('root', 'par.flee', `${tag}_Flee`, ...at(4, 0.5), { frame, bypassed: b.chance(0.12) });
        b.wire(last, 'points', flock, 'points');
        b.wire(flock, 'points', flee, 'points');
        last = flee;
      }
      if (s < 4 || s > 7) {
        const cue = b.node('root', 'cue.level', `${tag}_TideTurn`, ...at(2, 1.7), { frame });
        const pulse = b.node('root', 'par.pulse', `${tag}_Pulse`, ...at(3, 0.7), {
          frame,
          label: b.chance(0.4) ? `${name} flashes` : '',
        });
        b.wire(clock, 'phase', cue, 'value');
        b.wire(cue, 'event', pulse, 'trigger');
        b.wire(last, 'points', pulse, 'points');
        last = pulse;
      }
      const instance = b.node('root', 'par.instance', `${tag}_Copies`, ...at(5, 0.8), { frame });
      b.wire(last, 'points', instance, 'points');
      b.wire(model, 'points', instance, 'model');
      const glow = b.node('root', 'sha.glow', `${tag}_Glow`, ...at(4, 2), { frame });
      const colour = b.node('root', 'val.colour', b.chance(0.3) ? 'Colour' : `${name}_Tint`, ...at(3, 2.3), { frame });
      b.wire(colour, 'colour', glow, 'colour');
      const amount = b.node('root', 'val.remap', b.chance(0.3) ? 'Remap' : `${tag}_Brightness`, ...at(3, 1.6), {
        frame,
      });
      b.wire(clock, 'tide', amount, 'value');
      b.wire(amount, 'value', glow, 'amount');
      const assign = b.node('root', 'sha.assign', `${tag}_Assign`, ...at(6, 1), { frame });
      b.wire(instance, 'points', assign, 'points');
      b.wire(glow, 'shader', assign, 'shader');
      const cache = b.node('root', 'geo.cache', `${tag}_Cache`, ...at(7.2, 0.7 + z * 0.4), {
        params: { file: `cache/shoal/${name.toLowerCase()}_${zone.toLowerCase()}.geo` },
      });
      b.wire(assign, 'points', cache, 'points');
      caches.push(assign);
      if (b.chance(0.2)) b.stack(amount);
      if (b.chance(0.2)) b.node('root', 'val.noise', 'Noise', ...at(1, 2.6));
    });
  });
  const all = b.node('root', 'geo.join', 'AllCreatures', 7900, 900, { label: 'Everything that swims' });
  for (const id of caches) b.feed(id, 'points', all);
  const camera = b.node('root', 'cam.dome', 'DomeCamera', 7900, 400);
  const render = b.node('root', 'ren.dome', 'PreviewRender', 8200, 800);
  const write = b.node('root', 'pic.write', 'PreviewPictures', 8500, 820);
  b.wire(all, 'points', render, 'scene');
  b.wire(camera, 'camera', render, 'camera');
  b.wire(render, 'image', write, 'image');
  return b.doc;
}

function kelp(): Doc {
  const b = new Builder('demo-kelp-growth', 'Kelp growth', 404);
  const survey = b.node('root', 'map.read', 'BaySoundings', -900, 0, { params: { file: 'survey/bay_2m.map' } });
  const detail = b.node('root', 'map.read', 'ReefSoundings', -900, 180, { params: { file: 'survey/reef_20cm.map' } });
  const merged = b.node('root', 'map.merge', 'SurveyMerged', -640, 80);
  const filled = b.node('root', 'map.fill', 'GapsFilled', -420, 60);
  const seabed = b.node('root', 'geo.terrain', 'Seabed', -200, 90, { label: 'Seabed, 50 cm cells' });
  b.wire(survey, 'map', merged, 'base');
  b.wire(detail, 'map', merged, 'detail');
  b.wire(merged, 'map', filled, 'map');
  b.wire(filled, 'map', seabed, 'map');
  const clock = b.node('root', 'val.clock', 'TideClock', -640, 420);
  const current = b.node('root', 'val.current', 'BayCurrent', -200, 380);
  b.wire(clock, 'tide', current, 'tide');
  const species = ['GiantKelp', 'BullKelp', 'FeatherBoa', 'SugarKelp', 'PalmKelp', 'Oarweed'];
  const beds = ['NorthBed', 'ReefEdge', 'Channel', 'LanternCave', 'Shallows', 'DropOff', 'OuterBank'];
  const parts: Id[] = [];
  beds.forEach((bed, k) => {
    const outer = b.frame(
      'root',
      bed
        .replace(/([a-z])([A-Z])/g, '$1 $2')
        .toLowerCase()
        .replace(/^./, (c) => c.toUpperCase()),
      0,
      0,
    );
    const bedParts: Id[] = [];
    species.forEach((name, s) => {
      const [x0, y0] = [300 + ((k * 5 + s * 2) % 3) * 260 + (k % 2) * 2600, (k * 6 + s) * 330 - (k % 2) * 1900];
      const frame = b.chance(0.8) ? b.frame('root', `${name} on ${bed}`, x0, y0, outer) : outer;
      const at = (column: number, row: number) => spot(b, x0, y0, column, row * 0.9, 1.1);
      const tag = `${name}_${bed}`;
      const density = b.node('root', 'val.noise', `${tag}_Density`, ...at(0, 1.2), {
        frame,
        params: { seed: k * 10 + s },
      });
      const scatter = b.node('root', 'geo.scatter', `${tag}_Holdfasts`, ...at(1, 0), {
        frame,
        params: { count: Math.round(b.between(80, 2200)), seed: s },
      });
      const stem = b.node('root', 'geo.stem', `${tag}_Stems`, ...at(2, 0.3), {
        frame,
        params: { length: Math.round(b.between(4, 30)) },
      });
      const sway = b.node('root', 'geo.sway', `${tag}_Sway`, ...at(3, 0), { frame, bypassed: b.chance(0.06) });
      const blade = b.node('root', 'geo.blade', `${tag}_Blades`, ...at(4, 0.9), { frame });
      const skin = b.node('root', 'geo.skin', `${tag}_StemSkin`, ...at(4, -0.2), { frame });
      const join = b.node('root', 'geo.join', `${tag}_Plants`, ...at(5, 0.2), { frame });
      b.wire(seabed, 'points', scatter, 'surface');
      b.wire(density, 'field', scatter, 'density');
      b.wire(scatter, 'points', stem, 'roots');
      b.wire(current, 'current', stem, 'current');
      b.wire(stem, 'curves', sway, 'curves');
      b.wire(current, 'current', sway, 'current');
      b.wire(clock, 'time', sway, 'time');
      b.wire(sway, 'curves', skin, 'curves');
      b.wire(sway, 'curves', blade, 'stems');
      b.wire(skin, 'points', join, 'part1');
      b.wire(blade, 'points', join, 'part2');
      if (s < 2) {
        const float = b.node('root', 'geo.float', `${tag}_Floats`, ...at(4, 2), { frame });
        b.wire(sway, 'curves', float, 'stems');
        b.feed(float, 'points', join);
      }
      const base = b.node('root', 'val.colour', `${name}_Green`, ...at(3, 2.2), { frame });
      const fleck = b.node('root', 'val.number', b.chance(0.5) ? 'Number' : `${tag}_Translucency`, ...at(3, 3), {
        frame,
        params: { value: Math.round(b.between(10, 90)) / 100 },
      });
      const shader = b.node('root', 'sha.kelp', `${tag}_Skin`, ...at(5, 2), { frame });
      const assign = b.node('root', 'sha.assign', `${tag}_Assign`, ...at(6, 0.6), { frame });
      b.wire(base, 'colour', shader, 'base');
      b.wire(fleck, 'value', shader, 'translucency');
      b.wire(join, 'points', assign, 'points');
      b.wire(shader, 'shader', assign, 'shader');
      const thin = b.node('root', 'geo.thin', `${tag}_ViewThin`, ...at(7, 0.5), { frame, params: { share: 0.8 } });
      b.wire(assign, 'points', thin, 'points');
      bedParts.push(thin);
      const waste = b.chance(0.25) ? b.node('root', 'geo.scatter', 'Scatter', ...at(2, 3.2)) : undefined;
      if (waste && b.chance(0.6)) b.wire(seabed, 'points', waste, 'surface');
      for (let extra = 0; extra < 3; extra++) {
        const understory = b.node(
          'root',
          'geo.scatter',
          `${tag}_Turf_${'ABC'[extra]}`,
          ...at(1 + extra, 4 + (extra % 2) * 0.8),
          { frame },
        );
        b.wire(seabed, 'points', understory, 'surface');
        const noise = b.chance(0.5) ? b.node('root', 'val.noise', 'Noise', ...at(0.4 + extra, 5), { frame }) : density;
        b.wire(noise, 'field', understory, 'density');
        const copies = b.node(
          'root',
          'par.instance',
          `${tag}_TurfCopies_${'ABC'[extra]}`,
          ...at(5 + extra * 0.5, 3.4 + extra * 0.7),
          { frame },
        );
        b.wire(understory, 'points', copies, 'points');
        b.wire(blade, 'points', copies, 'model');
        b.feed(copies, 'points', join);
      }
    });
    const bedJoin = b.node('root', 'geo.join', `${bed}_All`, 2400 + (k % 2) * 2500, k * 1980 + b.between(-500, 300), {
      label: k === 3 ? 'Lantern cave, hero bed' : '',
    });
    for (const id of bedParts) b.feed(id, 'points', bedJoin);
    const cache = b.node('root', 'geo.cache', `${bed}_Cache`, 2650 + (k % 2) * 2500, k * 1980 + b.between(-400, 400), {
      params: { file: `cache/kelp/${bed.toLowerCase()}.geo` },
    });
    b.wire(bedJoin, 'points', cache, 'points');
    parts.push(bedJoin);
  });
  const forest = b.node('root', 'geo.join', 'WholeForest', 6100, 4200, { label: 'Whole forest' });
  for (const id of parts) b.feed(id, 'points', forest);
  const write = b.node('root', 'geo.cache', 'ForestCache', 6400, 4230, { params: { file: 'cache/kelp/forest.geo' } });
  b.wire(forest, 'points', write, 'points');
  return b.doc;
}

/** One shot of the assembly, about sixty nodes; its dome output is a nested graph. */
function shot(
  b: Builder,
  number: number,
  name: string,
  x0: number,
  y0: number,
  shared: { camera: Id; clock: Id; palette: Id; moon: Id },
): void {
  const code = `RN${String(number * 10).padStart(4, '0')}`;
  const framed = b.chance(0.7);
  const frame = framed ? b.frame('root', b.chance(0.9) ? `${code} ${name}` : 'new frame', x0, y0) : undefined;
  const at = (column: number, row: number) => spot(b, x0, y0, column, row, 1.3);
  const layers = ['Seabed', 'Kelp', 'Plankton', 'Shoal', 'Water', 'Lanterns'];
  const stack = b.node('root', 'pic.stack', `${code}_Layers`, ...at(8, 2.4), {
    frame,
    label: b.chance(0.5) ? `${name}, all layers` : '',
  });
  layers.forEach((layer, l) => {
    const tag = `${code}_${layer}`;
    const row = l * 1.15;
    const geo = b.node('root', 'geo.read', `${tag}_Geo`, ...at(0, row), {
      frame,
      params: { file: `cache/${layer.toLowerCase()}/${code.toLowerCase()}.geo` },
    });
    const place = b.node('root', 'geo.place', `${tag}_Place`, ...at(1, row + 0.2), { frame });
    const lamp = b.node('root', l === 5 ? 'lit.lantern' : 'lit.shaft', `${tag}_Light`, ...at(1, row + 0.75), { frame });
    const render = b.node('root', 'ren.dome', `${tag}_Render`, ...at(2.4, row), {
      frame,
      params: { samples: b.pick([64, 128, 256, 512]), quality: b.pick(['draft', 'review', 'final']) },
    });
    b.wire(geo, 'points', place, 'points');
    b.wire(place, 'points', render, 'scene');
    b.wire(shared.camera, 'camera', render, 'camera');
    if (l === 5) b.wire(shared.clock, 'tide', lamp, 'level');
    else b.wire(shared.moon, 'light', lamp, 'light');
    b.wire(lamp, 'light', render, 'light');
    const noise = b.node('root', 'pic.denoise', b.chance(0.2) ? 'Denoise' : `${tag}_Clean`, ...at(3.5, row), {
      frame,
      bypassed: b.chance(0.08),
    });
    b.wire(render, 'image', noise, 'image');
    b.wire(render, 'motion', noise, 'motion');
    const tint = b.node('root', 'pic.tint', `${tag}_DepthTint`, ...at(4.6, row), {
      frame,
      params: { strength: Math.round(b.between(20, 90)) / 100 },
    });
    b.wire(noise, 'image', tint, 'image');
    b.wire(render, 'depth', tint, 'depth');
    b.wire(shared.palette, 'colour', tint, 'tint');
    const grade = b.node('root', 'pic.grade', b.chance(0.25) ? 'Grade' : `${tag}_Grade`, ...at(5.7, row), {
      frame,
      params: { exposure: Math.round(b.between(-8, 8)) / 10 },
    });
    b.wire(tint, 'image', grade, 'image');
    const key = b.chance(0.6) ? b.node('root', 'pic.key', `${tag}_Key`, ...at(4.7, row + 0.7), { frame }) : undefined;
    if (key) {
      b.wire(noise, 'image', key, 'image');
      b.wire(key, 'mask', grade, 'mask');
    }
    let last = grade;
    if (l >= 2) {
      const glow = b.node('root', 'pic.glow', `${tag}_Glow`, ...at(6.7, row + 0.3), {
        frame,
        params: { size: Math.round(b.between(8, 80)) },
      });
      b.wire(grade, 'image', glow, 'image');
      last = glow;
    }
    if (b.chance(0.3)) {
      const blur = b.node('root', 'pic.blur', b.chance(0.4) ? 'Blur' : `${tag}_Soft`, ...at(7.2, row - 0.4), { frame });
      b.wire(last, 'image', blur, 'image');
      last = blur;
    }
    b.feed(last, 'image', stack);
    // the third shot of a row was tidied by somebody: what is clear is closed, and unused ports are hidden
    if (number % 5 === 3) {
      b.detail(noise, { closed: true });
      b.detail(render, { show: { main: true } });
      if (last !== grade) b.detail(last, { closed: true, caption: 'kind' });
    }
    if (b.chance(0.12)) b.stack(grade);
  });
  const { host, inner } = b.nested('root', `${code}_DomeFinish`, ...at(9.2, 2.2), { frame, label: 'Dome finish' });
  const [from, to] = [
    b.boundary(host, 'in', 'Layers', 'image', 0, 120),
    b.boundary(host, 'out', 'Finished', 'image', 1500 + b.between(-100, 200), 160),
  ];
  b.wire(stack, 'image', host, from);
  let last: [Id, string] = [from, 'out'];
  ['pic.grade', 'pic.glow', 'dome.tilt', 'pic.grain', 'dome.black', 'pic.crop'].forEach((kind, i) => {
    const id = b.node(
      inner,
      kind,
      `${['Final', 'Halo', 'Tilt', 'Film', 'Floor', 'Trim'][i]}_${code}`,
      230 + i * 205 + b.between(-40, 40),
      120 + b.between(-110, 110),
    );
    b.wire(last[0], last[1], id, 'image');
    last = [id, 'image'];
  });
  const matte = b.node(inner, 'pic.matte', 'RimMatte', 200, 330);
  b.wire(from, 'out', matte, 'image');
  b.wire(last[0], last[1], to, 'in');
  if (number % 2 === 0) b.detail(stack, { picture: renderOf(number) });
  const write = b.node('root', 'pic.write', `${code}_Write`, ...at(10.6, 2.1 + b.between(-1, 1)), {
    params: { file: `out/reef_night/${code.toLowerCase()}.exr` },
  });
  b.wire(host, to, write, 'image');
  for (let i = 0; i < 2; i++)
    if (b.chance(0.5))
      b.node(
        'root',
        b.pick(['pic.grade', 'pic.blur', 'pic.over', 'val.number']),
        b.pick(['Grade', 'Blur', 'Over', 'Number', 'test', 'old']),
        ...at(b.between(2, 8), 7.4),
      );
}

function assembly(): Doc {
  const b = new Builder('demo-reef-night', 'Reef night, shot assembly', 505);
  const shared = {
    camera: b.node('root', 'cam.dome', 'DomeCamera', -900, 1800, { label: 'Dome camera, seat level' }),
    clock: b.node('root', 'val.clock', 'TideClock', -900, 2100),
    palette: b.node('root', 'val.colour', 'NightPalette', -880, 2350, { label: 'Night water, deep' }),
    moon: b.node('root', 'lit.moon', 'Moon', -900, 2600, { label: 'Moon over the bay' }),
  };
  const names = [
    'Surface',
    'Sinking',
    'Canopy',
    'First glow',
    'Shoal passes',
    'Lantern cave',
    'Seabed crawl',
    'Jelly rise',
    'Drop off',
    'Slack water',
    'Current turns',
    'Kelp tunnel',
    'Squid dance',
    'Plankton storm',
    'Quiet blue',
    'Rockfish',
    'Lantern call',
    'Ascent',
    'Moon path',
    'Stars below',
    'Night tide',
    'Reef choir',
    'Deep hum',
    'Shadow pass',
    'Breath',
    'Glimmer',
    'Undertow',
    'Return',
    'Afterglow',
    'Horizon',
    'Last light',
    'Ember',
    'Hush',
    'Still water',
    'Bright sand',
    'Storm swell',
    'Cave mouth',
    'Spiral',
    'Harbour',
    'Dawn',
  ];
  names.forEach((name, i) => {
    shot(
      b,
      i + 1,
      name,
      (i % 5) * 2900 + b.between(-160, 160),
      Math.floor(i / 5) * 1350 + b.between(-110, 110),
      shared,
    );
  });
  const palette = b.remote('root', 'NightPaletteLink', -600, 2360);
  b.wire(shared.palette, 'colour', palette, 'in');
  for (let i = 0; i < 6; i++) {
    const tap = b.tap('root', palette, 400 + i * 2300, 11100 + b.between(-60, 60));
    const tint = b.node('root', 'pic.tint', `TitleCard_${i + 1}_Tint`, 640 + i * 2300, 11080 + b.between(-60, 60));
    const plate = b.node('root', 'pic.plate', `TitleCard_${i + 1}`, 380 + i * 2300, 11230, {
      params: { file: `titles/card_${i + 1}.exr` },
    });
    const write = b.node('root', 'pic.write', `TitleCard_${i + 1}_Write`, 900 + i * 2300, 11090, {
      params: { file: `out/titles/card_${i + 1}.exr` },
    });
    b.wire(tap, 'out', tint, 'tint');
    b.wire(plate, 'image', tint, 'image');
    b.wire(tint, 'image', write, 'image');
  }
  return b.doc;
}

export const demoFiles: readonly DemoFile[] = [
  {
    slug: 'dome-blend',
    title: 'Dome blend',
    about: 'Warps and blends the dome master for four projectors.',
    build: domeBlend,
  },
  {
    slug: 'tide-cues',
    title: 'Tide lighting cues',
    about: 'House lights and narration, driven by the tide clock.',
    build: tideCues,
  },
  {
    slug: 'plankton-shoal',
    title: 'Plankton and shoal motion',
    about: 'Ten species in three zones, drifting and shoaling.',
    build: shoal,
  },
  { slug: 'kelp-growth', title: 'Kelp growth', about: 'Six species of kelp on seven beds.', build: kelp },
  {
    slug: 'reef-night',
    title: 'Reef night, shot assembly',
    about: 'All forty shots of the night act.',
    build: assembly,
  },
  {
    slug: 'dome-master',
    title: 'Dome master from five sides',
    about: 'Five renders, one camera and one light rig, by standing feeds.',
    build: domeMaster,
  },
  {
    slug: 'glow-library',
    title: 'Bioluminescence library',
    about: 'Glow of twelve species, from one palette by remote links.',
    left: ['lost-tap'],
    build: glowLibrary,
  },
  {
    slug: 'survey-map',
    title: 'Survey map of the bay',
    about: 'Twelve tiles, each cleaned in a graph of its own.',
    build: surveyMap,
  },
  {
    slug: 'narration',
    title: 'Narration triggers',
    about: 'Thirty lines on cue, with a clock that feeds them all.',
    build: narration,
  },
  {
    slug: 'lantern-rig',
    title: 'Lantern light rig',
    about: 'Four coves of lanterns, each with its level.',
    left: ['feeds-clash'],
    build: lanternRig,
  },
  {
    slug: 'title-cards',
    title: 'Title cards',
    about: 'Eighteen cards from one sheet of paper and one ink.',
    build: titleCards,
  },
  {
    slug: 'water-shading',
    title: 'Water shading',
    about: 'Waves, tints and clarity of five bays.',
    build: waterShading,
  },
  {
    slug: 'seabed',
    title: 'Seabed and rocks',
    about: 'Rocks in three sizes and four zones.',
    left: ['beacon-name-repeats'],
    build: seabed,
  },
  { slug: 'line-up', title: 'Projector line-up', about: 'A grid for six projectors.', build: lineUp },
];

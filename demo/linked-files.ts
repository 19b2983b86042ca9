import { builtin } from '@basitax/core/document/builtin';
import type { Doc } from '@basitax/core/document/doc';
import type { Id } from '@basitax/core/document/ids';
import { Builder } from './builder.ts';

// Files of Lantern Reef in which remote links and standing feeds are in use, well and badly.

/** A place on a loose grid. */
function around(b: Builder, column: number, row: number, mess = 1): [number, number] {
  return [column * 240 + b.between(-45, 45) * mess, row * 130 + b.between(-40, 40) * mess];
}

/** Renders of five sides share one camera and one light rig, which feed whatever is left open. */
export function domeMaster(): Doc {
  const b = new Builder('demo-dome-master', 'Dome master from five sides', 606);
  const camera = b.node('root', 'cam.dome', 'SeatCamera', -620, 100, { label: 'Camera, seat level' });
  b.standing(camera, 'camera', 'camera', -360, 110);
  const moon = b.node('root', 'lit.moon', 'Moon', -900, 420);
  const shafts = b.node('root', 'lit.shaft', 'MoonShafts', -660, 430);
  const rig = b.node('root', 'lit.rig', 'NightRig', -420, 440, { label: 'Night rig' });
  b.wire(moon, 'light', shafts, 'light');
  b.feed(moon, 'light', rig);
  b.feed(shafts, 'light', rig);
  b.standing(rig, 'light', 'light', -180, 450);
  const fisheye = b.node('root', 'dome.fisheye', 'Fisheye', 1500, 420, { params: { resolution: 4096 } });
  ['front', 'left', 'right', 'top', 'bottom'].forEach((side, i) => {
    const name = side[0]!.toUpperCase() + side.slice(1);
    const frame = b.frame('root', `${name} side`, 100, i * 360);
    const [, y] = around(b, 0, i * 2.4);
    const reef = b.node('root', 'geo.read', `${name}_Reef`, 60, y, { frame, params: { file: 'cache/reef/night.geo' } });
    const water = b.node('root', 'geo.read', `${name}_Water`, 60, y + 130, {
      frame,
      params: { file: 'cache/water/night.geo' },
    });
    const join = b.node('root', 'geo.join', `${name}_Scene`, 330, y + 40, { frame });
    b.feed(reef, 'points', join);
    b.feed(water, 'points', join);
    const render = b.node('root', 'ren.dome', `${name}_Render`, 590, y + b.between(-30, 60), {
      frame,
      params: { samples: 256 },
    });
    b.wire(join, 'points', render, 'scene');
    // somebody wired the camera of one side by hand before the feed was there
    if (side === 'top') b.wire(camera, 'camera', render, 'camera');
    const clean = b.node('root', 'pic.denoise', `${name}_Clean`, 850, y + b.between(-40, 60), { frame });
    b.wire(render, 'image', clean, 'image');
    b.wire(render, 'motion', clean, 'motion');
    b.wire(clean, 'image', fisheye, side);
  });
  const tilt = b.node('root', 'dome.tilt', 'ReefTilt', 1760, 430);
  const write = b.node('root', 'pic.write', 'MasterWrite', 2000, 440, {
    params: { file: 'renders/reef_night/master.exr' },
  });
  b.wire(fisheye, 'image', tilt, 'image');
  b.wire(tilt, 'image', write, 'image');
  b.note('root', 'Camera and lights feed all five renders. To light one side differently, wire its light.', -900, 640);
  return b.doc;
}

/** Glow of twelve species from one palette, by beacons. One of them was deleted. */
export function glowLibrary(): Doc {
  const b = new Builder('demo-glow-library', 'Bioluminescence library', 707);
  const palette = ['Cyan', 'Teal', 'Amber'].map((name, i) => {
    const colour = b.node('root', 'val.colour', `${name}Glow`, -700, i * 180, { label: `${name} glow` });
    return b.linked(colour, 'colour', `${name}_glow`, -430, i * 180 + 12);
  });
  const clock = b.node('root', 'val.clock', 'TideClock', -720, 640);
  const pulse = b.linked(clock, 'phase', 'Tide_phase', -430, 690);
  const species = [
    'Comb jelly',
    'Moon jelly',
    'Krill',
    'Copepod',
    'Lanternfish',
    'Squid',
    'Sea pen',
    'Sponge',
    'Brittle star',
    'Dinoflagellate',
    'Siphonophore',
    'Anglerfish',
  ];
  const mixes: Id[] = [];
  species.forEach((name, s) => {
    const [x0, y0] = [(s % 3) * 1500 + b.between(-90, 90), Math.floor(s / 3) * 560 + b.between(-50, 50)];
    const frame = s === 7 ? undefined : b.frame('root', name, x0, y0);
    const tag = name.replace(/ /g, '_');
    const amount = b.node('root', 'val.remap', `${tag}_Amount`, x0 + 200, y0 + 40, {
      frame,
      params: { to_high: b.pick([0.4, 0.8, 1.2]) },
    });
    const tap = b.tap('root', pulse, x0, y0 + 60, frame);
    b.wire(tap, 'out', amount, 'value');
    const glow = b.node('root', 'sha.glow', `${tag}_Glow`, x0 + 450, y0 + b.between(0, 90), {
      frame,
      params: { intensity: Math.round(b.between(5, 40)) / 10 },
    });
    b.wire(amount, 'value', glow, 'amount');
    const colour =
      s === 9
        ? b.stray('root', 'Violet_glow', x0 + 260, y0 + 190, frame)
        : b.tap('root', palette[s % 3]!, x0 + 260, y0 + 190, frame);
    b.wire(colour, 'out', glow, 'colour');
    const skin = b.node('root', 'sha.kelp', `${tag}_Skin`, x0 + 450, y0 + 210, { frame });
    const mix = b.node('root', 'sha.mix', `${tag}_Shader`, x0 + 730, y0 + 90, { frame });
    b.wire(skin, 'shader', mix, 'a');
    b.wire(glow, 'shader', mix, 'b');
    mixes.push(mix);
    const model = b.node('root', 'geo.read', `${tag}_Model`, x0 + 730, y0 + 260, {
      frame,
      params: { file: `assets/creatures/${tag.toLowerCase()}.geo` },
    });
    const assign = b.node('root', 'sha.assign', `${tag}_Assign`, x0 + 1010, y0 + 150, { frame });
    const cache = b.node('root', 'geo.cache', `${tag}_Cache`, x0 + 1230, y0 + 160, {
      params: { file: `cache/creatures/${tag.toLowerCase()}.geo` },
    });
    b.wire(model, 'points', assign, 'points');
    b.wire(mix, 'shader', assign, 'shader');
    b.wire(assign, 'points', cache, 'points');
  });
  const unheard = b.node('root', 'val.colour', 'RoseGlow', -700, 900, { label: 'Rose glow, not used any more' });
  b.linked(unheard, 'colour', 'Rose_glow', -430, 912);
  return b.doc;
}

/** Tiles of a survey: each cleaned in a nested graph that taps the mask of the bay outside. */
export function surveyMap(): Doc {
  const b = new Builder('demo-survey-map', 'Survey map of the bay', 808);
  const shore = b.node('root', 'pic.plate', 'ShoreLine', -700, -200, { params: { file: 'survey/bay/shore.png' } });
  const matte = b.node('root', 'pic.matte', 'ShoreMask', -430, -190);
  b.wire(shore, 'image', matte, 'image');
  const mask = b.linked(matte, 'mask', 'Shore_mask', -190, -170);
  const merges: Id[] = [];
  for (let tile = 0; tile < 12; tile++) {
    const [x, y] = around(b, (tile % 3) * 3.4, Math.floor(tile / 3) * 1.7, 1.4);
    const read = b.node('root', 'map.read', `Tile_${tile + 1}`, x, y, {
      params: { file: `survey/bay/tile_${String(tile + 1).padStart(2, '0')}.map` },
    });
    const { host, inner } = b.nested('root', `CleanTile_${tile + 1}`, x + 240, y + b.between(-30, 30), {
      label: `Clean tile ${tile + 1}`,
    });
    const [from, to] = [
      b.boundary(host, 'in', 'Raw', 'map', 0, 100),
      b.boundary(host, 'out', 'Clean', 'map', 820, 110),
    ];
    b.wire(read, 'map', host, from);
    const fill = b.node(inner, 'map.fill', 'Fill', 210, 100 + b.between(-40, 40), {
      params: { reach: b.pick([4, 8, 16]) },
    });
    const smooth = b.node(inner, 'map.smooth', 'Smooth', 520, 100 + b.between(-40, 40));
    b.wire(from, 'out', fill, 'map');
    b.wire(fill, 'map', smooth, 'map');
    const tap = b.tap(inner, mask, 330, 230);
    b.wire(tap, 'out', smooth, 'mask');
    b.wire(smooth, 'map', to, 'in');
    merges.push(host);
    if (tile === 0) continue;
    const merge = b.node(
      'root',
      'map.merge',
      `Merge_${tile}`,
      2600 + (tile % 2) * 260 + b.between(-40, 40),
      tile * 120 + b.between(-40, 40),
    );
    const before = tile === 1 ? merges[0]! : merges[tile - 1]!;
    b.feed(before, b.outputOf(before), merge);
    b.feed(host, to, merge);
    merges[tile] = merge;
  }
  const whole = merges.at(-1)!;
  const contour = b.node('root', 'map.contour', 'Contours', 3200, 500, { params: { interval: 2 } });
  const field = b.node('root', 'map.field', 'DepthField', 3200, 700);
  const terrain = b.node('root', 'geo.terrain', 'Seabed', 3200, 900);
  for (const node of [contour, field, terrain]) b.feed(whole, 'map', node);
  const cache = b.node('root', 'geo.cache', 'SeabedCache', 3480, 910, { params: { file: 'cache/seabed/bay.geo' } });
  b.wire(terrain, 'points', cache, 'points');
  return b.doc;
}

/**
 * Lines of the narration, triggered by time. The time comes from a standing feed; the rehearsal frame has one of its
 * own.
 */
export function narration(): Doc {
  const b = new Builder('demo-narration', 'Narration triggers', 909);
  const clock = b.node('root', 'val.clock', 'ShowClock', -520, 0, { label: 'Show clock' });
  b.standing(clock, 'time', 'float', -240, 10);
  const mix = b.node('root', 'aud.mix', 'Voices', 1500, 900, { label: 'All voices' });
  const acts = ['Dusk', 'Descent', 'Forest', 'Lanterns', 'Deep', 'Ascent'];
  acts.forEach((act, a) => {
    const frame = b.frame('root', `${act}, lines`, 0, a * 420);
    for (let line = 0; line < 5; line++) {
      const y = a * 460 + line * 80 + b.between(-18, 18);
      const cue = b.node('root', 'cue.time', `${act}_${line + 1}_At`, 40 + b.between(-30, 30), y, {
        frame,
        params: { at: a * 240 + line * 41 },
      });
      const delay = b.node('root', 'cue.delay', `${act}_${line + 1}_Breath`, 320 + b.between(-30, 30), y, { frame });
      const voice = b.node('root', 'aud.voice', `${act}_${line + 1}`, 600 + b.between(-40, 40), y, {
        frame,
        bypassed: a === 3 && line === 2,
        params: { file: `sound/narration/${act.toLowerCase()}_${line + 1}.wav` },
      });
      b.wire(cue, 'event', delay, 'event');
      b.wire(delay, 'event', voice, 'start');
      b.feed(voice, 'audio', mix);
    }
  });
  const rehearsal = b.frame('root', 'Rehearsal', 0, 2900);
  const fast = b.node('root', 'val.number', 'RehearsalTime', -40, 2860, { frame: rehearsal, params: { value: 12 } });
  b.standing(fast, 'value', 'float', 200, 2870, rehearsal);
  for (let i = 0; i < 4; i++)
    b.node('root', 'cue.time', `Rehearse_${i + 1}`, 480, 2840 + i * 90, { frame: rehearsal, params: { at: i * 10 } });
  const out = b.node('root', 'aud.out', 'DomeSound', 1760, 920);
  b.wire(mix, 'audio', out, 'audio');
  return b.doc;
}

/** Lanterns in four coves; each cove has its level. In one of them two feeds stand in each other's way. */
export function lanternRig(): Doc {
  const b = new Builder('demo-lantern-rig', 'Lantern light rig', 1010);
  const rigs: Id[] = [];
  ['North cove', 'South cove', 'Cave', 'Channel'].forEach((cove, c) => {
    const [x0, y0] = [(c % 2) * 1700, Math.floor(c / 2) * 1500];
    const frame = b.frame('root', cove, x0, y0);
    const tag = cove.replace(/ /g, '_');
    const level = b.node('root', 'val.number', `${tag}_Level`, x0 - 40, y0, {
      frame,
      params: { value: 0.3 + c * 0.2 },
    });
    b.standing(level, 'value', 'float', x0 + 200, y0 + 10, frame);
    if (c === 2) {
      const flicker = b.node('root', 'val.mix', 'Flicker', x0 - 40, y0 + 130, { frame });
      b.standing(flicker, 'value', 'float', x0 + 200, y0 + 150, frame);
    }
    const rig = b.node('root', 'lit.rig', `${tag}_Rig`, x0 + 1150, y0 + 420, { frame });
    for (let i = 0; i < 9; i++) {
      const place = b.node('root', 'val.place', `${tag}_Place_${i + 1}`, x0 + 430 + b.between(-30, 30), y0 + i * 105, {
        frame,
      });
      const lantern = b.node(
        'root',
        'lit.lantern',
        `${tag}_Lantern_${i + 1}`,
        x0 + 760 + b.between(-50, 50),
        y0 + ((i * 4) % 9) * 105,
        { frame },
      );
      b.wire(place, 'transform', lantern, 'at');
      b.feed(lantern, 'light', rig);
    }
    rigs.push(rig);
  });
  const all = b.node('root', 'lit.rig', 'AllLanterns', 3300, 1400, { label: 'All lanterns' });
  for (const rig of rigs) b.feed(rig, 'light', all);
  const scene = b.node('root', 'geo.read', 'ReefProxy', 3300, 1650, { params: { file: 'cache/reef/proxy.geo' } });
  const render = b.node('root', 'ren.dome', 'RigPreview', 3600, 1500);
  const write = b.node('root', 'pic.write', 'RigWrite', 3880, 1510, { params: { file: 'out/rig/preview.exr' } });
  b.wire(scene, 'points', render, 'scene');
  b.wire(all, 'light', render, 'light');
  b.wire(render, 'image', write, 'image');
  return b.doc;
}

/** Cards for titles, all from one plate and two colours, the wires still drawn from far away. */
export function titleCards(): Doc {
  const b = new Builder('demo-title-cards', 'Title cards', 1111);
  const plate = b.node('root', 'pic.plate', 'Paper', -500, 0, {
    label: 'Card paper',
    params: { file: 'titles/paper.exr' },
  });
  const ink = b.node('root', 'val.colour', 'Ink', -500, 200, { label: 'Ink, deep water' });
  const grain = b.node('root', 'pic.grain', 'PaperGrain', -240, 10);
  b.wire(plate, 'image', grain, 'image');
  for (let i = 0; i < 18; i++) {
    const [x, y] = [((i * 7) % 6) * 760 + b.between(-60, 60), Math.floor(i / 6) * 520 + b.between(-60, 60)];
    const text = b.node('root', 'pic.read', `Text_${i + 1}`, x, y, { params: { file: `titles/text_${i + 1}.exr` } });
    const tint = b.node('root', 'pic.tint', `Tint_${i + 1}`, x + 190, y + 60);
    b.wire(text, 'image', tint, 'image');
    b.wire(ink, 'colour', tint, 'tint');
    const over = b.node('root', 'pic.over', `Card_${i + 1}`, x + 380, y + 120);
    b.wire(tint, 'image', over, 'over');
    b.wire(grain, 'image', over, 'under');
    const write = b.node('root', 'pic.write', `Write_${i + 1}`, x + 560, y + 40, {
      params: { file: `out/titles/card_${i + 1}.exr` },
    });
    b.wire(over, 'image', write, 'image');
  }
  return b.doc;
}

/** Water of five bays: waves, tints and clarity from a handful of sources that cross the whole file. */
export function waterShading(): Doc {
  const b = new Builder('demo-water-shading', 'Water shading', 1212);
  const clock = b.node('root', 'val.clock', 'TideClock', -700, 200);
  const swell = b.node('root', 'val.noise', 'Swell', -420, 0, { params: { frequency: 0.02 } });
  const ripples = b.node('root', 'val.noise', 'Ripples', -420, 180, { params: { frequency: 0.6 } });
  const clarity = b.node('root', 'val.remap', 'Clarity', -420, 360, { label: 'Clarity by tide' });
  b.wire(clock, 'tide', clarity, 'value');
  b.wire(clock, 'time', swell, 'offset');
  b.wire(clock, 'time', ripples, 'offset');
  const deep = b.node('root', 'val.ramp', 'DeepTint', -160, 480);
  b.wire(clock, 'phase', deep, 'value');
  ['Harbour', 'Bay', 'Channel', 'Lagoon', 'OpenSea'].forEach((bay, n) => {
    const frame = b.frame('root', bay === 'OpenSea' ? 'new frame' : bay, n * 900, 0);
    for (let band = 0; band < 6; band++) {
      const [x, y] = [n * 1150 + b.between(-50, 50), ((band * 5 + n * 2) % 6) * 300 + b.between(-40, 40)];
      const tag = `${bay}_${band + 1}`;
      const water = b.node('root', 'sha.water', `${tag}_Water`, x + 240, y, {
        frame,
        params: { roughness: Math.round(b.between(2, 30)) / 100 },
      });
      b.wire(band % 2 === 0 ? swell : ripples, 'field', water, 'waves');
      b.wire(deep, 'colour', water, 'tint');
      b.wire(clarity, 'value', water, 'clarity');
      const sheet = b.node('root', 'geo.read', `${tag}_Sheet`, x, y + 110, {
        frame,
        params: { file: `cache/water/${tag.toLowerCase()}.geo` },
      });
      const assign = b.node('root', 'sha.assign', `${tag}_Assign`, x + 520, y + 60, { frame });
      b.wire(sheet, 'points', assign, 'points');
      b.wire(water, 'shader', assign, 'shader');
      const cache = b.node('root', 'geo.cache', `${tag}_Cache`, x + 760, y + 70, {
        params: { file: `cache/water/${tag.toLowerCase()}_shaded.geo` },
      });
      b.wire(assign, 'points', cache, 'points');
      if (b.chance(0.08)) b.stack(assign);
    }
  });
  return b.doc;
}

/** Rocks on the seabed by zone, nested; two levels have a beacon of the same name. */
export function seabed(): Doc {
  const b = new Builder('demo-seabed', 'Seabed and rocks', 1313);
  const map = b.node('root', 'map.read', 'BayMap', -600, 100, { params: { file: 'survey/bay/whole.map' } });
  const ground = b.node('root', 'geo.terrain', 'Ground', -330, 110);
  b.wire(map, 'map', ground, 'map');
  const slope = b.linked(ground, 'slope', 'Slope', -60, 170);
  const join = b.node('root', 'geo.join', 'AllRocks', 1100, 500, { label: 'All rocks' });
  ['Shelf', 'Drop', 'Basin', 'Reef flat'].forEach((zone, z) => {
    const tag = zone.replace(/ /g, '_');
    const { host, inner } = b.nested('root', tag, 420, z * 240 + b.between(-30, 30), {
      label: `Rocks, ${zone.toLowerCase()}`,
    });
    const [from, to] = [
      b.boundary(host, 'in', 'Surface', 'points', 0, 200),
      b.boundary(host, 'out', 'Rocks', 'points', 1500, 240),
    ];
    b.wire(ground, 'points', host, from);
    b.feed(host, to, join);
    // one zone has a slope of its own, under the name that the others hear from outside
    if (z === 2) {
      const noise = b.node(inner, 'val.noise', 'OwnSlope', 120, -160);
      b.linked(noise, 'field', 'Slope', 400, -140);
    }
    const all = b.node(inner, 'geo.join', 'Sizes', 1220, 220);
    ['Boulder', 'Cobble', 'Pebble'].forEach((size, s) => {
      const scatter = b.node(inner, 'geo.scatter', `${size}_Scatter`, 480 + b.between(-40, 40), s * 180, {
        params: { count: [40, 400, 6000][s]! },
      });
      b.wire(from, 'out', scatter, 'surface');
      const tap = b.tap(inner, slope, 260, s * 180 + 40);
      b.wire(tap, 'out', scatter, 'density');
      const model = b.node(inner, 'geo.read', `${size}_Model`, 480, s * 180 + 80, {
        params: { file: `assets/rocks/${size.toLowerCase()}.geo` },
      });
      const copies = b.node(inner, 'par.instance', `${size}_Copies`, 820 + b.between(-40, 40), s * 180 + 30);
      b.wire(scatter, 'points', copies, 'points');
      b.wire(model, 'points', copies, 'model');
      b.feed(copies, 'points', all);
    });
    b.wire(all, 'points', to, 'in');
  });
  const cache = b.node('root', 'geo.cache', 'RocksCache', 1380, 510, { params: { file: 'cache/rocks/bay.geo' } });
  b.wire(join, 'points', cache, 'points');
  return b.doc;
}

/** Line-up pictures for the projectors: small, with one picture that is sent everywhere by a reroute point. */
export function lineUp(): Doc {
  const b = new Builder('demo-line-up', 'Projector line-up', 1414);
  const grid = b.node('root', 'pic.plate', 'Grid', 0, 200, {
    label: 'Line-up grid',
    params: { file: 'lineup/grid.exr' },
  });
  const point = b.node('root', builtin.reroute, 'Point', 300, 260);
  b.wire(grid, 'image', point, 'in');
  for (let i = 1; i <= 6; i++) {
    const y = ((i * 2) % 7) * 130;
    const warp = b.node('root', 'dome.warp', `Warp_${i}`, 460 + b.between(-30, 30), y, { params: { projector: i } });
    const out = b.node('root', 'dome.out', `Projector_${i}`, 820 + b.between(-30, 30), y + b.between(-20, 20), {
      params: { projector: i },
    });
    const map = b.node('root', 'map.read', `Map_${i}`, 200, y + 60, {
      params: { file: `survey/dome/projector_${i}.map` },
    });
    b.wire(point, 'out', warp, 'image');
    b.wire(map, 'map', warp, 'map');
    b.wire(warp, 'image', out, 'image');
  }
  return b.doc;
}

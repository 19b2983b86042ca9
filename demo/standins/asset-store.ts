import { onLoopback, type StandIn } from './loopback.ts';

// A stand-in for a studio's asset store, so that the demo can find files by name. It holds no files, only their paths,
// all invented.

const layers = ['kelp', 'plankton', 'shoal', 'seabed', 'water', 'lanterns'];
const numbers = (count: number, digits = 1): string[] =>
  Array.from({ length: count }, (_, i) => String(i + 1).padStart(digits, '0'));
const shots = numbers(40, 3).map((number) => `rn${number}0`);
const creatures = [
  'anchovy',
  'anglerfish',
  'arrowworm',
  'brittle_star',
  'comb_jelly',
  'copepod',
  'dinoflagellate',
  'jelly',
  'krill',
  'lanternfish',
  'moon_jelly',
  'rockfish',
];
const others = ['sardine', 'sea_pen', 'siphonophore', 'sponge', 'squid'];

// As in any house, a few things that files point at are not there: a shot that was never cached, names that were spelt
// otherwise, files that moved.
const gone = new Set([
  'cache/water/rn0230.geo',
  'cache/shoal/rn0310.geo',
  'survey/bay/tile_07.map',
  'titles/card_6.exr',
  'sound/narration/deep_5.wav',
]);

const paths: readonly string[] = [
  'renders/reef_night/master.exr',
  'renders/reef_night/master_night.exr',
  ...numbers(6).map((i) => `survey/dome/projector_${i}.map`),
  ...numbers(12, 2).map((i) => `survey/bay/tile_${i}.map`),
  'survey/archive/tile_07.map',
  'survey/bay/whole.map',
  'survey/bay/shore.png',
  'survey/bay_2m.map',
  'survey/reef_20cm.map',
  // the same name in two places: who drops it is asked which
  'survey/archive/reef_20cm.map',
  ...layers.flatMap((layer) => shots.map((shot) => `cache/${layer}/${shot}.geo`)),
  ...['bay', 'channel', 'harbour', 'lagoon', 'opensea'].flatMap((place) =>
    numbers(6).map((i) => `cache/water/${place}_${i}.geo`),
  ),
  'cache/water/night.geo',
  'cache/reef/night.geo',
  'cache/reef/proxy.geo',
  ...[...creatures, ...others].map((name) => `assets/creatures/${name}.geo`),
  // grown up now: whoever reads it from its old place is told where it lies
  'assets/creatures/young/larva.geo',
  ...['boulder', 'cobble', 'pebble'].map((name) => `assets/rocks/${name}.geo`),
  ...numbers(6).map((i) => `titles/card_${i}.exr`),
  ...numbers(18).map((i) => `titles/text_${i}.exr`),
  'titles/paper.exr',
  'lineup/grid.exr',
  ...['dusk', 'moonrise', 'slackwater', 'firstglow', 'hightide', 'lanterncall', 'ebb', 'dawn'].map(
    (name, i) => `sound/narration/0${i + 1}_${name}.wav`,
  ),
  ...['ascent', 'deep', 'descent', 'dusk', 'forest', 'lanterns'].flatMap((name) =>
    numbers(5).map((i) => `sound/narration/${name}_${i}.wav`),
  ),
]
  .filter((path) => !gone.has(path))
  .sort();

/** Serves `GET /find?name=…` and `GET /exists?path=…` on loopback. */
export async function startAssetStore(): Promise<StandIn> {
  return onLoopback((request, response) => {
    const url = new URL(request.url ?? '/', 'http://asset-store');
    const name = url.searchParams.get('name')?.toLowerCase();
    const path = url.searchParams.get('path');
    const answer =
      url.pathname === '/find' && name
        ? { paths: paths.filter((one) => one.split('/').pop()?.toLowerCase() === name) }
        : url.pathname === '/exists' && path
          ? { exists: paths.includes(path) }
          : undefined;
    response.writeHead(answer ? 200 : 404, { 'Content-Type': 'application/json' });
    response.end(JSON.stringify(answer ?? {}));
  });
}

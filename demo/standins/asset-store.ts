import { onLoopback, type StandIn } from './loopback.ts';

// A stand-in for a studio's asset store, so that the demo can find files by name. It holds no files, only their paths, all invented.

const layers = ['kelp', 'plankton', 'shoal', 'seabed', 'water', 'lanterns'];
const shots = ['rn0010', 'rn0020', 'rn0030', 'rn0040'];

const paths: readonly string[] = [
  'renders/reef_night/master.exr',
  'renders/reef_night/master_night.exr',
  ...[1, 2, 3, 4].map((i) => `survey/dome/projector_${i}.map`),
  'survey/bay_2m.map',
  'survey/reef_20cm.map',
  // the same name in two places: who drops it is asked which
  'survey/archive/reef_20cm.map',
  ...layers.flatMap((layer) => shots.map((shot) => `cache/${layer}/${shot}.geo`)),
  ...['lanternfish', 'squid', 'jelly'].map((name) => `assets/creatures/${name}.geo`),
  ...[1, 2, 3].map((i) => `titles/card_${i}.exr`),
  ...['dusk', 'slackwater', 'dawn'].map((name, i) => `sound/narration/0${i + 1}_${name}.wav`),
].sort();

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

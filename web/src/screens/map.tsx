import { emptyCatalogue } from '@basitax/core/document/catalogue';
import { emptyDoc } from '@basitax/core/document/doc';
import { ellipsis } from '@basitax/core/document/metrics';
import type { FileLinks } from '@basitax/core/inspect/file-links';
import { type FileMap, type MapItem, type MapType, touchedBy } from '@basitax/core/inspect/file-map';
import { must } from '@basitax/core/must';
import { Cancelled } from '@basitax/core/operation';
import { plural } from '@basitax/core/words';
import { useQuery } from '@tanstack/react-query';
import { Minus, Plus } from 'lucide-react';
import { type KeyboardEvent, type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api } from '../api/client.ts';
import { aimAt } from '../batch/aim.ts';
import { Button, Check, Notice, TextInput } from '../ui/controls.tsx';
import { BackLink, linkLook, TopLine } from '../ui/top-line.tsx';
import { workRunner } from '../work/runner.ts';

const types: Readonly<Record<MapType, { readonly title: string; readonly sign: string }>> = {
  file: { title: 'File', sign: 'Fi' },
  shared: { title: 'Shared kind', sign: 'Sk' },
  asset: { title: 'Asset', sign: 'As' },
};
/** What stands before an item, and what is said where nothing does. */
const sources: Readonly<Record<MapType, readonly [string, string]>> = {
  file: ['Uses', 'It uses none of the others.'],
  shared: ['Published from', 'The file that it was published from is gone.'],
  asset: ['Written by', 'No file writes it.'],
};
const margin = 24;
const zooms = [0.3, 0.4, 0.55, 0.75, 1, 1.35] as const;

/** Lays the map out in a worker. */
function useMap(
  links: FileLinks | undefined,
  options: { assets: boolean; fewest: boolean },
): { map: FileMap | undefined; problem: string | undefined } {
  const [made, setMade] = useState<{ map?: FileMap; problem?: string }>({});
  const { assets, fewest } = options;
  useEffect(() => {
    if (!links) return;
    const abort = new AbortController();
    workRunner
      .run(
        'map',
        { links, assets, fewest },
        { doc: emptyDoc('map', 'Map'), catalogue: emptyCatalogue, signal: abort.signal },
      )
      .then(
        (map) => setMade({ map }),
        (error: unknown) => error instanceof Cancelled || setMade({ problem: (error as Error).message }),
      );
    return () => abort.abort();
  }, [links, assets, fewest]);
  return { map: made.map, problem: made.problem };
}

/**
 * Which files use which shared kinds and assets, laid out by our own arranging; what a change of one would touch stands
 * out.
 */
export default function MapScreen(): ReactNode {
  const links = useQuery({ queryKey: ['file-links'], queryFn: api.fileLinks });
  const [params, setParams] = useSearchParams();
  const [assets, setAssets] = useState(true);
  const [fewest, setFewest] = useState(false);
  const [text, setText] = useState('');
  const [zoom, setZoom] = useState<(typeof zooms)[number]>(0.75);
  const { map, problem } = useMap(links.data, { assets, fewest });
  const room = useRef<HTMLElement>(null);
  // another layout is shown as large as it fits
  useEffect(() => {
    const wide =
      map &&
      Math.max(...map.items.map((item) => item.x + item.width)) -
        Math.min(...map.items.map((item) => item.x)) +
        2 * margin;
    if (wide && room.current)
      setZoom(zooms.findLast((one) => one <= 1 && wide * one <= must(room.current).clientWidth) ?? zooms[0]);
  }, [map]);
  const chosen = map?.items.find((item) => item.id === params.get('item'));
  const touched = useMemo(() => (map && chosen ? touchedBy(map, [chosen.id]) : undefined), [map, chosen]);
  const choose = (item: MapItem | undefined): void => setParams(item ? { item: item.id } : {}, { replace: true });
  const step = (by: number): void =>
    setZoom(must(zooms[Math.min(zooms.length - 1, Math.max(0, zooms.indexOf(zoom) + by))]));
  return (
    <div className="flex h-full flex-col">
      <TopLine
        actions={
          <>
            <Button
              square
              aria-label="Smaller"
              dim={zoom === zooms[0] ? 'This is the smallest.' : undefined}
              onClick={() => step(-1)}
            >
              <Minus size={15} />
            </Button>
            <span className="w-12 text-center text-sm tabular-nums">{Math.round(zoom * 100)} %</span>
            <Button
              square
              aria-label="Larger"
              dim={zoom === zooms.at(-1) ? 'This is the largest.' : undefined}
              onClick={() => step(1)}
            >
              <Plus size={15} />
            </Button>
          </>
        }
      >
        <BackLink to="/files">Files</BackLink>
        <h1 className="font-bold">Map of the files</h1>
      </TopLine>
      <div className="flex min-h-0 flex-1">
        <aside
          aria-label="What is on the map"
          className="flex w-80 shrink-0 flex-col gap-2 border-r border-line bg-panel p-3 text-sm"
        >
          <TextInput
            aria-label="Find on the map"
            placeholder="Part of a title or path"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          <Check label="Assets" checked={assets} onChange={setAssets} />
          <Check label="Leave out what follows from other lines" checked={fewest} onChange={setFewest} />
          {map && chosen && touched && <Chosen item={chosen} map={map} touched={touched} onChoose={choose} />}
          {map && !chosen && <Items map={map} text={text} onChoose={choose} />}
        </aside>
        <main ref={room} className="min-w-0 flex-1 overflow-auto bg-ground" aria-label="Map">
          {links.isError || problem ? (
            <Notice title={links.error?.message ?? problem ?? ''} alert>
              <Button onClick={() => void links.refetch()}>Try again</Button>
            </Notice>
          ) : !map ? (
            <Notice title="Laying out the map …" />
          ) : map.items.length === 0 ? (
            <Notice title="The team has no files yet." />
          ) : (
            <Drawing map={map} zoom={zoom} text={text} chosen={chosen} touched={touched} onChoose={choose} />
          )}
        </main>
      </div>
    </div>
  );
}

const has = (item: MapItem, text: string): boolean =>
  `${item.title} ${item.name} ${item.paths.join(' ')}`.toLowerCase().includes(text.trim().toLowerCase());

function Items({ map, text, onChoose }: { map: FileMap; text: string; onChoose: (item: MapItem) => void }): ReactNode {
  const uses = useMemo(() => {
    const counts = new Map<string, number>();
    for (const { from } of map.lines) counts.set(from, (counts.get(from) ?? 0) + 1);
    return counts;
  }, [map]);
  const found = map.items
    .filter((item) => has(item, text))
    .sort((a, b) => (uses.get(b.id) ?? 0) - (uses.get(a.id) ?? 0) || (a.title < b.title ? -1 : 1));
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <p className="pb-1 text-xs text-soft">Choose one to see what changing it would affect.</p>
      <ul aria-label="Items">
        {found.map((item) => (
          <li key={item.id} className="flex items-baseline gap-2 border-b border-line py-0.5">
            <button
              type="button"
              className="min-w-0 flex-1 truncate text-left hover:underline"
              title={item.name}
              onClick={() => onChoose(item)}
            >
              {item.title} <span className="text-xs text-soft">{types[item.type].title.toLowerCase()}</span>
            </button>
            {(uses.get(item.id) ?? 0) > 0 && (
              <span className="shrink-0 text-xs text-soft">used {plural(must(uses.get(item.id)), 'time')}</span>
            )}
          </li>
        ))}
        {found.length === 0 && <li className="text-soft">Nothing has that name.</li>}
      </ul>
    </div>
  );
}

function Chosen({
  item,
  map,
  touched,
  onChoose,
}: {
  item: MapItem;
  map: FileMap;
  touched: ReadonlySet<string>;
  onChoose: (item: MapItem | undefined) => void;
}): ReactNode {
  const hit = map.items.filter((one) => touched.has(one.id));
  const uses = map.lines
    .filter((line) => line.to === item.id)
    .map((line) => must(map.items.find((one) => one.id === line.from)));
  const files = hit.filter((one) => one.type === 'file').length;
  const list = (title: string, none: string, items: readonly MapItem[]): ReactNode => (
    <section>
      <h3 className="font-bold">{title}</h3>
      {items.length === 0 && <p className="text-soft">{none}</p>}
      <ul aria-label={title}>
        {items.map((one) => (
          <li key={one.id} className="border-b border-line py-0.5">
            <button
              type="button"
              className="w-full truncate text-left hover:underline"
              title={one.name}
              onClick={() => onChoose(one)}
            >
              {one.title} <span className="text-xs text-soft">{types[one.type].title.toLowerCase()}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto">
      <div>
        <h2 className="font-bold break-words">{item.title}</h2>
        <p className="text-xs break-all text-soft">
          {types[item.type].title}
          {item.type !== 'file' && `, ${item.name}`}
        </p>
        {item.paths.length > 1 && (
          <ul aria-label="Paths" className="mt-1 max-h-32 overflow-auto text-xs break-all text-soft">
            {item.paths.map((path) => (
              <li key={path}>{path}</li>
            ))}
          </ul>
        )}
      </div>
      <div className="flex gap-2">
        {item.type === 'file' && (
          <Link to={`/files/${item.name}`} className={linkLook}>
            Open the file
          </Link>
        )}
        {files > 0 && (
          <Link
            to="/batches"
            state={aimAt(hit.filter((one) => one.type === 'file').map((one) => ({ id: one.name })))}
            className={linkLook}
          >
            Batch run over these …
          </Link>
        )}
        <Button onClick={() => onChoose(undefined)}>All items</Button>
      </div>
      <p className="font-bold">A change would affect {plural(files, 'file')}.</p>
      {list('Would be touched', 'Nothing uses it.', hit)}
      {list(...sources[item.type], uses)}
    </div>
  );
}

function Drawing({
  map,
  zoom,
  text,
  chosen,
  touched,
  onChoose,
}: {
  map: FileMap;
  zoom: number;
  text: string;
  chosen: MapItem | undefined;
  touched: ReadonlySet<string> | undefined;
  onChoose: (item: MapItem | undefined) => void;
}): ReactNode {
  const box = useMemo(() => {
    const xs = map.items.flatMap((item) => [item.x, item.x + item.width]);
    const ys = map.items.flatMap((item) => [item.y, item.y + item.height]);
    const [x, y] = [Math.min(...xs) - margin, Math.min(...ys) - margin];
    return { x, y, width: Math.max(...xs) + margin - x, height: Math.max(...ys) + margin - y };
  }, [map]);
  const svg = useRef<SVGSVGElement>(null);
  const id = chosen?.id;
  useEffect(() => {
    if (id !== undefined)
      svg.current
        ?.querySelector(`[data-item="${CSS.escape(id)}"]`)
        ?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [id]);
  const isOn = (item: string): boolean => !chosen || item === chosen.id || touched?.has(item) === true;
  const press = (item: MapItem) => (event: KeyboardEvent) => {
    if (event.key !== 'Enter' && event.key !== ' ') return;
    event.preventDefault();
    onChoose(item);
  };
  const sought = text.trim() !== '';
  return (
    // biome-ignore lint/a11y/useSemanticElements: no element of HTML is a drawing of groups
    <svg
      ref={svg}
      role="group"
      aria-label="Files, shared kinds and assets"
      viewBox={`${box.x} ${box.y} ${box.width} ${box.height}`}
      width={box.width * zoom}
      height={box.height * zoom}
    >
      {[false, true].map((on) =>
        map.lines
          .filter((line) => (isOn(line.from) && isOn(line.to)) === on)
          .map((line) => (
            <polyline
              key={`${line.from}\n${line.to}`}
              points={line.route.map((p) => `${p.x},${p.y}`).join(' ')}
              fill="none"
              stroke={on && chosen ? 'var(--accent)' : 'var(--edge)'}
              strokeWidth={on && chosen ? 2.2 : 1.1}
              opacity={on ? 1 : 0.25}
            />
          )),
      )}
      {map.items.map((item) => (
        // biome-ignore lint/a11y/useSemanticElements: no button can stand in a drawing
        <g
          key={item.id}
          data-item={item.id}
          role="button"
          tabIndex={0}
          aria-pressed={item.id === chosen?.id}
          aria-label={`${item.title}, ${types[item.type].title.toLowerCase()}`}
          className="cursor-pointer"
          opacity={isOn(item.id) && (!sought || has(item, text)) ? 1 : 0.3}
          transform={`translate(${item.x} ${item.y})`}
          onClick={() => onChoose(item.id === chosen?.id ? undefined : item)}
          onKeyDown={press(item)}
        >
          <Ticket item={item} isChosen={item.id === chosen?.id} />
        </g>
      ))}
    </svg>
  );
}

/** A ticket with two letters for what it is; assets are cut at a corner, shared kinds have a second edge. */
function Ticket({ item, isChosen }: { item: MapItem; isChosen: boolean }): ReactNode {
  const { width, height } = item;
  const outline = item.type === 'asset' ? `M0 0H${width - 12}L${width} 12V${height}H0Z` : `M0 0H${width}V${height}H0Z`;
  return (
    <>
      <title>{item.name}</title>
      {item.type === 'shared' && (
        <path d={`M4 4H${width + 4}V${height + 4}H4Z`} fill="var(--panel)" stroke="var(--edge)" />
      )}
      <path
        d={outline}
        fill={isChosen ? 'var(--accent-wash)' : 'var(--ticket)'}
        stroke={isChosen ? 'var(--accent)' : 'var(--edge)'}
        strokeWidth={isChosen ? 2.5 : 1}
      />
      <path d={`M0 0H26V${height}H0Z`} fill="var(--edge)" />
      <text x={13} y={height / 2 + 4} textAnchor="middle" fontSize={11} fontWeight={700} fill="var(--ground)">
        {types[item.type].sign}
      </text>
      <text x={34} y={height / 2 + 4.5} fontSize={13} fontWeight={item.type === 'file' ? 700 : 400} fill="var(--ink)">
        {ellipsis(item.title, item.type === 'file' ? 'bold' : 'regular', 13, width - 44)}
      </text>
    </>
  );
}

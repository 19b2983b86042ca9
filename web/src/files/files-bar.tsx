import { plural } from '@basitax/core/words';
import type { ReactNode } from 'react';
import { Button, Select } from '../ui/controls.tsx';
import { useWanted } from './address.ts';
import { type Act, acts } from './file-card.tsx';
import { type Sort, sorts } from './listing.ts';
import { FileQueryField } from './query-field.tsx';
import type { Search } from './use-search.ts';

/** Above the files: what is looked for, in which order, and what can be done with those that are selected. */
export function FilesBar({
  all,
  shown,
  chosen,
  search,
  onBatch,
  onTable,
  dim,
  onAct,
  onSelect,
}: {
  /** How many files there are; undefined until that is known. */
  all: number | undefined;
  shown: number;
  chosen: number;
  search: Search;
  onBatch: () => void;
  onTable: () => void;
  dim: string | undefined;
  onAct: (act: Act) => void;
  onSelect: (which: 'all' | 'none') => void;
}): ReactNode {
  const { wanted, want } = useWanted();
  return (
    <div className="flex shrink-0 items-center gap-2 border-b border-line px-4 py-2 text-sm">
      <FileQueryField
        label="Find files"
        className="w-96"
        value={wanted.text}
        onChange={(text) => want(() => ({ text }))}
        facts={search.facts}
        problem={search.problem}
      />
      <span className="flex items-center gap-1.5 text-soft">
        By
        <Select
          aria-label="Order"
          value={wanted.sort}
          onChange={(event) => want(() => ({ sort: event.target.value as Sort }))}
        >
          {Object.entries(sorts).map(([value, title]) => (
            <option key={value} value={value}>
              {title}
            </option>
          ))}
        </Select>
      </span>
      {chosen > 0 ? (
        <span
          className="ml-auto flex items-center gap-1.5"
          role="toolbar"
          aria-label="What can be done with the selected files"
        >
          <b className="mr-1 whitespace-nowrap">{plural(chosen, 'file')} selected</b>
          {(Object.keys(acts) as Act[]).map((act) => (
            <Button key={act} dim={dim} onClick={() => onAct(act)}>
              {acts[act].title}
            </Button>
          ))}
          <Button dim={dim} onClick={onBatch}>
            Batch run …
          </Button>
          <Button onClick={onTable}>Table …</Button>
          <Button look="quiet" onClick={() => onSelect('none')}>
            Let go
          </Button>
        </span>
      ) : (
        <span className="ml-auto flex items-center gap-2 text-soft" role="status">
          {search.isBusy && 'Looking through the files … '}
          {all !== undefined &&
            (shown === all ? plural(all, 'file') : `${shown.toLocaleString('en')} of ${plural(all, 'file')}`)}
          {shown > 0 && (
            <>
              <Button look="quiet" onClick={() => onSelect('all')}>
                Select all
              </Button>
              <Button look="quiet" dim={dim} title="Over the files that are shown" onClick={onBatch}>
                Batch run …
              </Button>
              <Button look="quiet" title="Export and import names and parameters of their nodes" onClick={onTable}>
                Table …
              </Button>
            </>
          )}
        </span>
      )}
    </div>
  );
}

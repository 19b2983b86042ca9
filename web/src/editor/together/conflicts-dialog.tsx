import { conflictPoints, type Point, resolve } from '@basitax/core/edit/resolve';
import type { Edit } from '@basitax/core/edit/step';
import { plural } from '@basitax/core/words';
import { type ReactNode, useMemo, useState } from 'react';
import { Problem } from '../../ui/attempt.tsx';
import { Button, Dialog } from '../../ui/controls.tsx';
import { tellAdapted } from './adapted.ts';
import type { Met } from './meet.ts';

type Side = 'mine' | 'theirs';

/**
 * Where one’s own changes meet those of others: side by side, each to be decided. All that does not meet stands from
 * both.
 */
export function ConflictsDialog({
  met,
  button,
  onResolved,
  onCopy,
  onClose,
}: {
  met: Met;
  button: string;
  onResolved: (edit: Edit) => Promise<void>;
  onCopy?: () => Promise<void>;
  onClose: () => void;
}): ReactNode {
  const points = useMemo(() => conflictPoints(met, met.rebased.conflicts), [met]);
  const [sides, setSides] = useState<readonly (Side | undefined)[]>([]);
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  const open = points.filter((_, i) => sides[i] === undefined).length;
  const all = (side: Side): void => setSides(points.map(() => side));
  const act = async (what: () => Promise<void>): Promise<void> => {
    setBusy(true);
    setProblem(undefined);
    try {
      await what();
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  };
  const done = (): Promise<void> => {
    const chosen = new Set(points.flatMap((point, i) => (sides[i] === 'mine' ? point.conflicts : [])));
    const { edit, findings } = resolve(met, met.rebased, chosen);
    tellAdapted(findings.map((one) => one.message));
    return onResolved(edit);
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title={`${plural(points.length, 'change')} of yours ${points.length === 1 ? 'meets' : 'meet'} theirs`}
      about="Choose for each. Everything else of both stands, and nothing is lost until you have chosen."
      size="huge"
    >
      {met.revisions.length > 0 && (
        <ul className="text-sm">
          {met.revisions.slice(-5).map((one) => (
            <li key={one.number}>
              Revision {one.number} by {one.author}: “{one.message}”
            </li>
          ))}
        </ul>
      )}
      <div className="flex items-center gap-2 text-sm">
        <Button onClick={() => all('mine')}>Mine everywhere</Button>
        <Button onClick={() => all('theirs')}>Theirs everywhere</Button>
        <span className="ml-auto text-soft" role="status">
          {open === 0 ? 'All are decided.' : `${plural(open, 'choice')} to make`}
        </span>
      </div>
      <ol aria-label="What meets" className="flex min-h-0 flex-col gap-2 overflow-auto">
        {points.map((point, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the list never changes
          <li key={i}>
            <Choice
              point={point}
              name={`point ${i}`}
              side={sides[i]}
              onSide={(side) => setSides(points.map((_, k) => (k === i ? side : sides[k])))}
            />
          </li>
        ))}
      </ol>
      <Problem text={problem} />
      <div className="flex flex-wrap justify-end gap-2">
        <Button onClick={onClose}>Keep editing</Button>
        {onCopy && <Button onClick={() => void act(onCopy)}>Save mine as a new file</Button>}
        <Button
          look="primary"
          dim={open > 0 ? 'Choose for each first.' : busy ? 'Working …' : undefined}
          onClick={() => void act(done)}
        >
          {button}
        </Button>
      </div>
    </Dialog>
  );
}

const firstRows = 8;

function Choice({
  point,
  name,
  side,
  onSide,
}: {
  point: Point;
  name: string;
  side: Side | undefined;
  onSide: (side: Side) => void;
}): ReactNode {
  const [most, setMost] = useState(firstRows);
  const cell = (which: Side): string =>
    `border-l border-line px-2 py-1 align-top break-words ${side === which ? 'bg-accent-wash font-bold' : ''}`;
  const head = (which: Side, title: string): ReactNode => (
    <th className={`w-[26%] ${cell(which)} font-normal`} scope="col">
      <label className="flex items-center gap-1.5">
        <input
          type="radio"
          name={name}
          className="accent-accent"
          checked={side === which}
          onChange={() => onSide(which)}
          aria-label={`${title}: ${point.title}`}
        />
        {title}
      </label>
    </th>
  );
  return (
    <table className="w-full table-fixed border border-line text-left text-sm">
      <thead>
        <tr className="border-b border-line">
          <th className="px-2 py-1 font-bold break-words" scope="col">
            {point.title}
          </th>
          <th className="w-[18%] border-l border-line px-2 py-1 font-normal text-soft" scope="col">
            Before
          </th>
          {head('mine', 'Mine')}
          {head('theirs', 'Theirs')}
        </tr>
      </thead>
      <tbody>
        {point.rows.slice(0, most).map((row, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the list never changes
          <tr key={i}>
            <td className="px-2 py-1 align-top break-words text-soft">{row.what}</td>
            <td className="border-l border-line px-2 py-1 align-top break-words text-soft">{row.before}</td>
            <td className={cell('mine')}>{row.mine}</td>
            <td className={cell('theirs')}>{row.theirs}</td>
          </tr>
        ))}
        {point.rows.length > most && (
          <tr>
            <td colSpan={4} className="px-2 py-1">
              <button type="button" className="text-xs text-soft underline" onClick={() => setMost(most * 10)}>
                {(point.rows.length - most).toLocaleString('en')} more
              </button>
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

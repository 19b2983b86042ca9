import type { BatchRun } from '@basitax/api/batches';
import type { Schedule, ScheduleWanted } from '@basitax/api/schedules';
import { joined } from '@basitax/core/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { format } from 'date-fns';
import { type ReactNode, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api } from '../api/client.ts';
import { lacksRole, usePerson } from '../api/person.ts';
import { Problem, useAttempt } from '../ui/attempt.tsx';
import { Button, Check, Dialog, Field, Segments, TextInput } from '../ui/controls.tsx';
import { tell } from './words.ts';

const dayNames = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'] as const;
/** A week begins on Monday (ISO 8601). */
const week = [1, 2, 3, 4, 5, 6, 0] as const;

/** “Every night at 02:00”, “On Monday and Friday at 18:30”. */
export function whenSaid({ days, at }: Pick<Schedule, 'days' | 'at'>): string {
  const isNight = at < '06:00' || at >= '21:00';
  if (days.length === 7) return `Every ${isNight ? 'night' : 'day'} at ${at}`;
  const sorted = week.filter((day) => days.includes(day));
  if (sorted.join() === '1,2,3,4,5') return `On weekdays at ${at}`;
  return `On ${joined(sorted.map((day) => dayNames[day]))} at ${at}`;
}

/** Batch runs that start by themselves. */
export function ScheduleList(): ReactNode {
  const schedules = useQuery({ queryKey: ['schedules'], queryFn: api.schedules });
  const [editing, setEditing] = useState<Schedule>();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const may = lacksRole(usePerson().data, 'editor');
  if (!schedules.data || schedules.data.length === 0)
    return schedules.isError ? (
      <p role="alert" className="text-sm text-warn">
        {schedules.error.message}
      </p>
    ) : null;
  return (
    <section aria-label="Schedules" className="flex flex-col">
      <h2 className="font-bold">Schedules</h2>
      <ul>
        {schedules.data.map((one) => (
          <li key={one.id} className="flex flex-col gap-0.5 border-b border-line py-2 text-sm">
            <span className="font-bold">{one.title}</span>
            <span>
              {whenSaid(one)}, {one.applies ? 'applied without asking' : 'proposed only'}
            </span>
            <span className="text-xs text-soft">
              {one.author}
              {one.nextAt ? `, next on ${format(new Date(one.nextAt), 'EEEE d MMMM, HH:mm')} here` : ', switched off'}
            </span>
            {one.why !== '' && <span className="text-xs text-warn">It could not start: {one.why}</span>}
            <span className="flex gap-2 pt-1">
              {one.lastRun !== null && (
                <Link className="text-sm underline" to={`/batches/${one.lastRun}`}>
                  Last run
                </Link>
              )}
              <button
                type="button"
                className="text-sm underline aria-disabled:opacity-45"
                aria-disabled={may !== undefined || undefined}
                onClick={() =>
                  void (
                    may === undefined &&
                    api
                      .runSchedule(one.id)
                      .then((run: BatchRun) => navigate(`/batches/${run.id}`))
                      .catch(tell)
                  )
                }
              >
                Run now
              </button>
              <button
                type="button"
                className="text-sm underline aria-disabled:opacity-45"
                aria-disabled={may !== undefined || undefined}
                onClick={() => may === undefined && setEditing(one)}
              >
                Change …
              </button>
            </span>
          </li>
        ))}
      </ul>
      {editing && (
        <ScheduleDialog
          wanted={editing}
          known={editing}
          onClose={() => {
            setEditing(undefined);
            void queries.invalidateQueries({ queryKey: ['schedules'] });
          }}
        />
      )}
    </section>
  );
}

/** When a run starts by itself, and what becomes of it. */
export function ScheduleDialog({
  wanted,
  known,
  onClose,
}: {
  wanted: Pick<ScheduleWanted, 'title' | 'recipe' | 'files'>;
  known?: Schedule;
  onClose: () => void;
}): ReactNode {
  const [title, setTitle] = useState(wanted.title);
  const [days, setDays] = useState<readonly number[]>(known?.days ?? week);
  const [at, setAt] = useState(known?.at ?? '02:00');
  const [zone, setZone] = useState(known?.zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone);
  const [applies, setApplies] = useState<'propose' | 'apply'>(known?.applies ? 'apply' : 'propose');
  const [keepsReports, setKeepsReports] = useState(known?.keepsReports ?? true);
  const [active, setActive] = useState(known?.active ?? true);
  const { problem, attempt } = useAttempt();
  const hasScripts = wanted.recipe.steps.some((step) => step.do === 'script');
  const save = (): Promise<void> => {
    const { recipe, files } = wanted;
    const body = {
      title,
      recipe,
      files,
      days: [...days],
      at,
      zone,
      applies: applies === 'apply',
      keepsReports,
      active,
    };
    return attempt(async () => {
      await (known ? api.changeSchedule(known.id, body) : api.makeSchedule(body));
      onClose();
    });
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title={known ? 'Change the schedule' : 'Schedule the run'}
      about="It starts automatically, in your name, with the files that match at that time. You get a notice when it is planned."
    >
      <form
        className="flex flex-col gap-3 overflow-auto"
        onSubmit={(event) => {
          event.preventDefault();
          if (days.length > 0) void save();
        }}
      >
        <Field label="Title of its runs">
          <TextInput value={title} maxLength={200} required onChange={(event) => setTitle(event.target.value)} />
        </Field>
        <fieldset>
          <legend className="pb-1 text-sm text-soft">Days</legend>
          <div className="flex flex-wrap gap-1">
            {week.map((day) => (
              <Button
                key={day}
                className="h-7 px-2 aria-pressed:border-accent aria-pressed:bg-accent-wash aria-pressed:font-bold"
                aria-pressed={days.includes(day)}
                onClick={() => setDays(days.includes(day) ? days.filter((one) => one !== day) : [...days, day])}
              >
                {dayNames[day].slice(0, 3)}
              </Button>
            ))}
          </div>
        </fieldset>
        <div className="flex gap-3">
          <Field label="Time">
            <TextInput type="time" required value={at} onChange={(event) => setAt(event.target.value.slice(0, 5))} />
          </Field>
          <Field label="Time zone">
            <TextInput
              className="w-56"
              list="time-zones"
              required
              value={zone}
              onChange={(event) => setZone(event.target.value)}
            />
          </Field>
          <datalist id="time-zones">
            {Intl.supportedValuesOf('timeZone').map((one) => (
              <option key={one} value={one} />
            ))}
          </datalist>
        </div>
        <div className="flex flex-col gap-1 text-sm">
          <span className="text-soft">When it is planned</span>
          <Segments<'propose' | 'apply'>
            label="When it is planned"
            value={applies}
            choices={[
              ['propose', 'Propose only'],
              ['apply', 'Apply without asking'],
            ]}
            onChoose={setApplies}
          />
          <span className="text-xs text-soft">
            {applies === 'propose'
              ? 'Nothing is changed until somebody accepts it.'
              : 'Every file that would change is changed, if the conditions of the recipe let it. The run can be rolled back.'}
          </span>
        </div>
        {hasScripts && (
          <Check label="Keep the reports of its scripts" checked={keepsReports} onChange={setKeepsReports} />
        )}
        {known && <Check label="Switched on" checked={active} onChange={setActive} />}
        <Problem text={problem} />
        <div className="flex justify-end gap-2">
          {known && (
            <Button className="mr-auto" onClick={() => void api.removeSchedule(known.id).then(onClose).catch(tell)}>
              Remove the schedule
            </Button>
          )}
          <Button type="submit" look="primary" dim={days.length === 0 ? 'Choose at least one day.' : undefined}>
            {known ? 'Save the schedule' : 'Schedule the run'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
